import { resolveValues } from '../parameters';
import type { NumberParameter } from '../parameters';
import { behaviourDials, busDials, compressorDials, distanceDials, playDials, roomDials, slotDials } from './behaviour-dials';
import type { BehaviourPlay, Conduct, GameBehaviour, GameBusSettings } from './conduct-schema';

export const startingConduct: Conduct = {
  seed: 1,
  voices: 64,
  parameters: [],
  buses: [],
  moods: [],
  groups: [],
  behaviours: [],
  scripts: [],
};

/** Every number where its dial stands at first. */
function defaults<T extends Record<string, NumberParameter>>(dials: T): { [K in keyof T]: number } {
  // All of them are numbers, which their defaults are, too.
  return resolveValues(dials, {}) as { [K in keyof T]: number };
}

/** What a behaviour of a kind does at first. */
export function startingPlay(kind: BehaviourPlay['kind']): BehaviourPlay {
  const at = defaults(playDials);
  switch (kind) {
    case 'one':
      return { kind, sound: '', from: 'family', avoid: at.avoid, loops: false };
    case 'pick':
      return { kind, by: 'shuffle', avoid: at.avoid, parameter: '' };
    case 'line':
      return { kind, step: 'call', gap: at.gap, again: true };
    case 'burst':
      return { kind, rate: at.rate, uneven: at.uneven, shots: at.shots };
    case 'sprinkle':
      return { kind, shortest: at.shortest, longest: at.longest };
    case 'stack':
      return { kind };
    case 'blend':
      return { kind, parameter: '' };
    case 'hold':
      return { kind, stopInStart: 'finish', leave: 'at once', release: at.release };
  }
}

/** A behaviour that changes nothing yet about what it plays. */
export function createBehaviour(id: string, name: string, play: BehaviourPlay): GameBehaviour {
  return {
    id,
    name,
    play,
    ...defaults(behaviourDials),
    givesWay: 'oldest',
    slot: { ...defaults(slotDials), stage: 'hold', curve: [] },
    pulls: [],
  };
}

/** How something is heard from afar at first. */
export const startingDistance: NonNullable<GameBehaviour['distance']> = {
  ...defaults(distanceDials),
  highCut: 8_000,
  law: 'inverse',
  curve: [],
};

/** A bus that leaves everything as it is. */
export function createGameBus(id: string, name: string): GameBusSettings {
  return { id, name, gain: 0, muted: false, ...defaults(busDials) };
}

/** A room as it is put around a bus at first. */
export const startingRoom: NonNullable<GameBusSettings['room']> = defaults(roomDials);

/** A compressor as it is put on a bus at first. */
export const startingCompressor: NonNullable<GameBusSettings['compressor']> = defaults(compressorDials);
