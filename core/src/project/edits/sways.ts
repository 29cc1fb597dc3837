import { isSomeAddress } from '../address';
import type { Sibling, Sound, Sway } from '../schema';
import { isChanced } from '../schema';
import type { FreshNames } from './copies';

/** Sways that went along with one that is gone go their own way; layers that are gone are no longer among some, and without layers there are none. */
export function settleSways({ family, layers }: Sound): void {
  const there = new Set(family.sways.flatMap(({ address, like }) => [address, like]));
  const known = new Set(layers.map(({ id }) => id));
  for (const sway of family.sways) {
    if (isChanced(sway) && sway.follows && !there.has(sway.follows.address)) delete sway.follows;
    if (sway.kind === 'some') sway.layers = sway.layers.filter((layer) => known.has(layer));
  }
  family.sways = family.sways.filter((sway) => sway.kind !== 'some' || sway.layers.length > 0);
}

/** Sways of what has another address now, its draws in kept siblings, and who goes along with it. Its chance stays what it was. */
export function renameSways({ family }: Sound, from: string, to: string): void {
  const renamed = (address: string): string => (address.startsWith(from) ? to + address.slice(from.length) : address);
  for (const sway of family.sways) {
    if (isChanced(sway) && sway.follows) sway.follows.address = renamed(sway.follows.address);
    if (!sway.address.startsWith(from)) continue;
    sway.like ??= sway.address;
    sway.address = renamed(sway.address);
  }
  for (const sibling of family.siblings)
    if (sibling.draws) sibling.draws = Object.fromEntries(Object.entries(sibling.draws).map(([address, draw]) => [renamed(address), draw]));
}

/** Copies of the sways below a prefix, for copies of what they sway. */
export function copySways(sways: readonly Sway[], prefix: string, names: FreshNames): Sway[] {
  return sways
    .filter(({ address }) => address.startsWith(prefix))
    .map((sway) => ({
      ...sway,
      id: names.of('sway', sway.id),
      address: names.address(sway.address),
      ...(sway.like !== undefined && { like: names.address(sway.like) }),
      ...(isChanced(sway) && sway.follows && { follows: { ...sway.follows, address: names.address(sway.follows.address) } }),
      ...(sway.kind === 'some' && { layers: sway.layers.map((layer) => names.of('layer', layer)) }),
    }));
}

/** What a kept sibling drew, for a copy of its sound. */
export function copyDraws(draws: NonNullable<Sibling['draws']>, names: FreshNames): NonNullable<Sibling['draws']> {
  // Absent layers and orders of clips are told by ids.
  const namesIds = (address: string): boolean => isSomeAddress(address) || /^layer\/[^/]+\/order$/.test(address);
  const words = (text: string): string =>
    text
      .split(' ')
      .map((word) => names.address(word))
      .join(' ');
  return Object.fromEntries(
    Object.entries(draws).map(([address, draw]) => [
      names.address(address),
      typeof draw === 'string' && namesIds(address) ? words(draw) : draw,
    ]),
  );
}
