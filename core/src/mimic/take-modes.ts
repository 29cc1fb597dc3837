import type { RingingMode } from '../analysis/modes';
import { findModes } from '../analysis/modes';
import type { Audio } from '../audio/audio';
import { mostTaken, writeModes } from '../synthesis/parts/body-modes';
import type { Hertz, Seconds } from '../units';

/** The modes of a recording as a body has them. */
export interface TakenBody {
  /** The text of the body's parameter. */
  readonly taken: string;
  /** Its lowest mode, and how long that rings (a fall by 60 dB). */
  readonly frequency: Hertz;
  readonly ring: Seconds;
  readonly count: number;
}

const longestShare = 60;

/** Modes as those of one body, which is tuned by the lowest of them; undefined where there are none. */
export function bodyOf(modes: readonly RingingMode[]): TakenBody | undefined {
  if (modes.length === 0) return undefined;
  const lowest = modes.reduce((a, b) => (b.frequency < a.frequency ? b : a));
  const strongest = modes.reduce((most, { level }) => Math.max(most, level), -Infinity);
  const kept = modes
    .filter((mode) => mode !== lowest)
    .sort((a, b) => b.level - a.level)
    .slice(0, mostTaken - 1);
  const ordered = [lowest, ...kept.sort((a, b) => a.frequency - b.frequency)];
  const taken = writeModes(
    ordered.map((mode) => ({
      interval: 12 * Math.log2(mode.frequency / lowest.frequency),
      level: mode.level - strongest,
      ring: Math.min(longestShare, mode.decay / lowest.decay),
    })),
  );
  return { taken, frequency: lowest.frequency, ring: lowest.decay, count: ordered.length };
}

/** The body of a struck recording, by its measured modes (see `findModes`). Throws RangeError where nothing rings. */
export function takeModes(audio: Audio): TakenBody {
  const found = bodyOf(findModes(audio));
  if (!found) throw new RangeError('Nothing in it rings: it has no modes to take.');
  return found;
}
