import { isClipAddress } from './clip-address';
import type { NumberParameter } from './parameters';
import { hertz, seconds, share } from './parameters';
import type { Mover, Sound } from './schema';

/**
 * What of movers are properties of the sound, too: how far a rein is drawn, how long a round of a tide takes, how fast a walk goes. They have lanes and sways
 * as all others, and movers of another kind pull them, always in the same direction, so that nothing goes round in circles.
 */
export const reinParameter = share({ label: 'Rein', default: 0 });
export const walkRateParameter = hertz({ label: 'Steps per second', min: 0.01, max: 50, default: 1 });
const roundParameter = seconds({ label: 'Round', min: 0.02, max: 3_600, default: 4 });

/** Length of a round of a tide: in seconds, or in beats. */
export const tideLengthParameter = (unit: 'seconds' | 'beats'): NumberParameter =>
  unit === 'beats' ? { ...roundParameter, unit: '' } : roundParameter;

const keys = { rein: 'value', tide: 'length', walk: 'rate' } as const;
const pullers: Readonly<Record<string, readonly Mover['kind'][]>> = { tide: ['rein', 'walk'], walk: ['rein'], rein: [] };

/** The address of what moves a mover; followers have none. */
export function moverAddress({ kind, id }: Pick<Mover, 'kind' | 'id'>): string | undefined {
  return kind === 'follower' ? undefined : `${kind}/${id}/${keys[kind]}`;
}

/** True for addresses of movers' own properties. */
export function isMoverAddress(address: string): boolean {
  return /^(rein|tide|walk)\//.test(address);
}

/**
 * True where a mover of a kind may pull at an address: at most things, but only some may pull at movers themselves, and what listens not at clips,
 * which are made before anything is heard.
 */
export function mayPull(kind: Mover['kind'], address: string): boolean {
  if (kind === 'follower' && isClipAddress(address)) return false;
  return !isMoverAddress(address) || (pullers[address.split('/')[0]!] ?? []).includes(kind);
}

/** The ids of those who pull at some of a sound's properties, and of those who pull at them. */
export function pullersOf({ movers, pulls }: Pick<Sound, 'movers' | 'pulls'>, isPulled: (address: string) => boolean): ReadonlySet<string> {
  const pullers = new Set(pulls.filter(({ address }) => isPulled(address)).map(({ mover }) => mover));
  // Each of them may bring in more, which come behind it.
  for (const id of pullers) {
    const own = movers.find((mover) => mover.id === id);
    const moved = own && moverAddress(own);
    for (const { address, mover } of pulls) if (address === moved) pullers.add(mover);
  }
  return pullers;
}

/** A mover and the parameter that its address means; undefined where it leads nowhere. */
export function findMover({ movers }: Pick<Sound, 'movers'>, address: string): { mover: Mover; parameter: NumberParameter } | undefined {
  const mover = isMoverAddress(address) ? movers.find((each) => moverAddress(each) === address) : undefined;
  if (!mover) return undefined;
  return {
    mover,
    parameter: mover.kind === 'tide' ? tideLengthParameter(mover.unit) : mover.kind === 'walk' ? walkRateParameter : reinParameter,
  };
}
