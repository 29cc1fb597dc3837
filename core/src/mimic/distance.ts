import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { measureMel, melBands } from '../analysis/spectrum/mel';
import type { Decibels } from '../units';

/** What lies further below the loudest band of all is not heard beside it. */
const range: Decibels = 60;

/**
 * How far a sound is from an original: the mean difference of their mel-band levels over time, in dB, each at the place where the louder of both lies; the
 * louder a place is, the more it counts. Their levels as a whole do not matter. 0 for the same sound. Both must be equally long.
 */
export class OriginalSound {
  private readonly levels: Float64Array;
  private readonly frames: number;

  constructor(original: Audio) {
    this.frames = frameCount(original);
    this.levels = heard(original);
  }

  distanceTo(other: Audio): Decibels {
    if (frameCount(other) !== this.frames) throw new RangeError('Only sounds of the same length can be compared.');
    const { levels } = this;
    const others = heard(other);
    let sum = 0;
    let weights = 0;
    for (let i = 0; i < levels.length; i++) {
      const weight = Math.max(levels[i]!, others[i]!) + range;
      if (weight <= 0) continue;
      sum += weight * Math.abs(levels[i]! - others[i]!);
      weights += weight;
    }
    return weights > 0 ? sum / weights : 0;
  }
}

/** Mel levels relative to the mean power, none lower than is heard beside the loudest. */
function heard(audio: Audio): Float64Array {
  const { levels, count } = measureMel(audio);
  let power = 0;
  for (let i = 0; i < count * melBands; i++) power += Math.pow(10, levels[i]! / 10);
  const mean = 10 * Math.log10(power / (count * melBands));
  const relative = Float64Array.from(levels, (level) => level - mean);
  const top = relative.reduce((most, level) => Math.max(most, level), -Infinity);
  return relative.map((level) => Math.max(-range, level - top));
}
