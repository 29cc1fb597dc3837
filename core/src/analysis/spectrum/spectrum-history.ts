import { frameCount } from '../../audio/audio';
import type { Recording } from '../../audio/recording';
import { stretchesOf } from '../../audio/recording';
import type { Decibels, Frames, Hertz, Unit } from '../../units';
import { SpectrumTap } from './spectrum-tap';

const hop: Frames = 2_048;
/** Hops of a recording that are read at once. */
const hopsRead = 128;

/** What was seen of a spectrum since it began: the mean power and the largest level at each of its points. */
export class SpectrumHistory {
  private readonly power: Float64Array;
  private readonly highest: Float32Array;
  private count = 0;

  constructor(points: number) {
    this.power = new Float64Array(points);
    this.highest = new Float32Array(points).fill(-Infinity);
  }

  /** Takes levels in dB; silence counts for nothing, so that rests do not pull the mean down. */
  add(levels: Float32Array): void {
    if (levels.every((level) => level <= -150)) return;
    this.count++;
    for (let point = 0; point < levels.length; point++) {
      const level = levels[point]!;
      this.power[point]! += 10 ** (level / 10);
      if (level > this.highest[point]!) this.highest[point] = level;
    }
  }

  /** Undefined until something was heard. */
  get average(): Float32Array | undefined {
    return this.count === 0 ? undefined : Float32Array.from(this.power, (power) => 10 * Math.log10(power / this.count));
  }

  get peak(): Float32Array | undefined {
    return this.count === 0 ? undefined : this.highest.slice();
  }
}

/**
 * The mean spectrum of a recording, measured as a running sound is: comparable level by level. Undefined for silence.
 * @param points levels between `low` and `high`, evenly spaced in octaves
 * @param progress called with the finished share; false stops the work with `Cancelled`
 */
export async function averageSpectrum(
  recording: Recording,
  { points, low, high }: { readonly points: number; readonly low: Hertz; readonly high: Hertz },
  progress: (share: Unit) => boolean = () => true,
): Promise<Float32Array | undefined> {
  const tap = new SpectrumTap(recording.sampleRate);
  const history = new SpectrumHistory(points);
  const levels = new Float32Array(points);
  for await (const { audio } of stretchesOf(recording, hopsRead * hop, 0, progress)) {
    for (let at = 0; at < frameCount(audio); at += hop) {
      const channels = audio.channels.map((channel) => channel.subarray(at, at + hop));
      tap.write({ channels, frames: channels[0]!.length });
      tap.levels(levels, low, high);
      history.add(levels);
    }
  }
  return history.average;
}

/** How many dB bring one spectrum to the mean level of another, counting what is heard most. */
export function levelBetween(from: Float32Array, to: Float32Array): Decibels {
  const power = (levels: Float32Array): number => levels.reduce((sum, level) => sum + 10 ** (level / 10), 0);
  return 10 * Math.log10(power(to) / power(from));
}
