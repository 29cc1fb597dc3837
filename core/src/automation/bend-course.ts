import { patchParameters } from '../project/patch/patch-parameters';
import type { AutomationLane, AutomationPoint, Layer, Sound } from '../project/schema';
import type { Seconds, Semitones } from '../units';
import { laneValue } from './lane-value';
import { recordedMoves } from './recorded-moves';

/** How often a lane is read for a wheel, which has no ways between its places. */
const readEvery: Seconds = 0.01;

/** From this moment on, all notes are bent so far. */
export interface Bend {
  readonly time: Seconds;
  readonly semitones: Semitones;
}

/** Address of how far all notes of a made layer are bent. */
export const bendAddress = (layer: string): string => `layer/${layer}/patch/bend`;

/** How the notes of a made layer are bent over a stretch of the time axis, by its lane or else by its dial; empty where they are not. */
export function bendCourse(sound: Sound, { id, patch }: Layer, { from, to }: { readonly from: Seconds; readonly to: Seconds }): Bend[] {
  const lane = sound.automation.find(({ address, enabled }) => enabled && address === bendAddress(id));
  const dial = Number(patch?.parameters['bend'] ?? patchParameters.bend.default);
  if (!lane) return dial === 0 ? [] : [{ time: from, semitones: dial }];
  const count = Math.ceil((to - from) / readEvery) + 1;
  return Array.from({ length: count }, (_, i) => {
    const time = from + i * readEvery;
    return { time, semitones: laneValue(lane, patchParameters.bend, time) };
  });
}

/**
 * The points of the lane of a layer's bend, with bends that begin at `start` in the place of what was there; where the first comes later, nothing is
 * bent before.
 */
export function withBends(
  lane: Pick<AutomationLane, 'points' | 'stepped' | 'trim'> | undefined,
  bends: readonly Bend[],
  start: Seconds,
  length: Seconds,
): AutomationPoint[] {
  const moves = bends.map(({ time, semitones }) => ({ time: start + time, value: semitones }));
  if ((bends[0]?.time ?? 0) > 0) moves.unshift({ time: start, value: 0 });
  const last = moves.at(-1);
  if (last && last.time < start + length) moves.push({ ...last, time: start + length });
  return recordedMoves(lane ?? { points: [], stepped: false, trim: 0 }, patchParameters.bend, moves);
}
