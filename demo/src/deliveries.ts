import type { Project } from '@tangled-choir/core';
import { deliveryKinds } from '@tangled-choir/core';
import type { Make } from './conduct';

/** What Halda Station hands off: stems for the mix of the picture, small files for a game, and what the game's behaviours play. */
export function deliverHalda(make: Make, project: () => Project, slab: string, game: readonly string[]): void {
  make('setDelivery', { delivery: project().deliveries[0]!.id, change: { name: 'Everything, WAV 24 bit', on: false } });
  const add = (kind: string, name: string, sounds?: readonly string[]): void => {
    make('addDelivery', { name, settings: deliveryKinds[kind]! });
    if (sounds) make('setDelivery', { delivery: project().deliveries.at(-1)!.id, change: { sounds: [...sounds] } });
  };
  add('Picture, 24 bit stems', 'Mix of the slab', [slab]);
  add('Game, mono 44.1', 'Game', game);
  add('Behaviours for a game', 'Walk to the drill');
}
