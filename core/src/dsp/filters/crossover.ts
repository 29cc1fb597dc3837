import type { Frames, Hertz } from '../../units';
import { Glide } from '../glide';

const damping = Math.SQRT2;
const retuneEvery: Frames = 8;
const glideFrames: Frames = 1_024;
const tiny = 1e-30;
/** Neighbouring frequencies never come closer than this. */
const leastRatio = 1.05;

/**
 * Splits channels into bands with Linkwitz–Riley filters of 24 dB per octave (Linkwitz 1976), in topology-preserving state-variable form
 * (Zavalishin 2012), so that frequencies can move. Lower bands go through the all-passes of the splits above them (D'Appolito 1984), so
 * that all bands together are an all-pass: their sum is flat.
 */
export class Crossover {
  private readonly octaves: readonly Glide[];
  private readonly tuning: Float64Array;
  private readonly channels: readonly ChannelSplit[];
  /** Frames until the filters are tuned again while frequencies move; blocks of any length give the same. */
  private untilRetune: Frames = 0;
  private settled = false;

  constructor(
    bands: number,
    channels: number,
    private readonly sampleRate: Hertz,
  ) {
    this.octaves = Array.from({ length: bands - 1 }, () => new Glide(glideFrames));
    this.tuning = new Float64Array(bands - 1);
    this.channels = Array.from({ length: channels }, () => new ChannelSplit(bands));
  }

  reset(): void {
    this.untilRetune = 0;
    this.settled = false;
    for (const octave of this.octaves) octave.reset();
    for (const channel of this.channels) channel.reset();
  }

  /**
   * @param splits the frequencies between the bands, rising; those that are not are moved up
   * @param input channels of `frames` samples
   * @param into per band as many channels
   */
  process(
    splits: readonly Hertz[],
    input: readonly Float32Array[],
    into: readonly { readonly channels: readonly Float32Array[] }[],
    frames: Frames,
  ): void {
    let below = 0;
    let moving = false;
    for (let s = 0; s < this.octaves.length; s++) {
      below = Math.max(splits[s]!, below * leastRatio);
      this.octaves[s]!.aim(Math.log2(below));
      moving ||= this.octaves[s]!.moving;
    }
    if (moving) this.settled = false;
    for (let from = 0; from < frames;) {
      const to = Math.min(frames, from + this.goOn(frames - from));
      for (let c = 0; c < this.channels.length; c++) this.channels[c]!.process(this.tuning, input[c]!, into, c, from, to);
      from = to;
    }
  }

  /** Tunes the filters if they must be, and returns for how many of the next frames they stay so. */
  private goOn(frames: Frames): Frames {
    if (this.settled) return frames;
    if (this.untilRetune === 0) {
      let moving = false;
      for (let s = 0; s < this.octaves.length; s++) {
        const octave = this.octaves[s]!;
        moving ||= octave.moving;
        this.tuning[s] = Math.tan(Math.PI * Math.min(0.49, 2 ** octave.current / this.sampleRate));
      }
      if (!moving) {
        this.settled = true;
        return frames;
      }
      this.untilRetune = retuneEvery;
    }
    const count = Math.min(frames, this.untilRetune);
    this.untilRetune -= count;
    for (const octave of this.octaves) for (let i = 0; i < count; i++) octave.next();
    return count;
  }
}

/** State of one channel: per split a shared first section, a second one for each side, and all-passes for the bands below. */
class ChannelSplit {
  private readonly sections: Float64Array;
  /** Sections begin here per split: the three of the split, then one all-pass per lower band. */
  private readonly starts: readonly number[];

  constructor(private readonly bands: number) {
    let count = 0;
    this.starts = Array.from({ length: bands - 1 }, (_, split) => {
      const start = count;
      count += 3 + split;
      return start;
    });
    this.sections = new Float64Array(2 * count);
  }

  reset(): void {
    this.sections.fill(0);
  }

  process(
    tuning: Float64Array,
    input: Float32Array,
    into: readonly { readonly channels: readonly Float32Array[] }[],
    channel: number,
    from: Frames,
    to: Frames,
  ): void {
    const { sections } = this;
    let rest = input;
    for (let split = 0; split < this.bands - 1; split++) {
      const g = tuning[split]!;
      const scale = 1 / (1 + g * (g + damping));
      const start = 2 * this.starts[split]!;
      const low = into[split]!.channels[channel]!;
      const high = into[split + 1]!.channels[channel]!;
      splitInTwo(sections, start, g, scale, rest, low, high, from, to);
      for (let band = 0; band < split; band++) allPass(sections, start + 6 + 2 * band, g, scale, into[band]!.channels[channel]!, from, to);
      rest = high;
    }
  }
}

/** Two second-order low-passes one after the other, and two high-passes, that share their first section. */
function splitInTwo(
  state: Float64Array,
  at: number,
  g: number,
  scale: number,
  input: Float32Array,
  low: Float32Array,
  high: Float32Array,
  from: Frames,
  to: Frames,
): void {
  let [a1, a2, b1, b2, c1, c2] = [state[at]!, state[at + 1]!, state[at + 2]!, state[at + 3]!, state[at + 4]!, state[at + 5]!];
  const sum = damping + g;
  for (let i = from; i < to; i++) {
    const firstHigh = (input[i]! - sum * a1 - a2) * scale;
    const firstBand = g * firstHigh + a1;
    const firstLow = g * firstBand + a2;
    a1 = 2 * firstBand - a1;
    a2 = 2 * firstLow - a2;
    const lowHigh = (firstLow - sum * b1 - b2) * scale;
    const lowBand = g * lowHigh + b1;
    const lowLow = g * lowBand + b2;
    b1 = 2 * lowBand - b1;
    b2 = 2 * lowLow - b2;
    const highHigh = (firstHigh - sum * c1 - c2) * scale;
    const highBand = g * highHigh + c1;
    const highLow = g * highBand + c2;
    c1 = 2 * highBand - c1;
    c2 = 2 * highLow - c2;
    low[i] = lowLow;
    high[i] = highHigh;
  }
  state[at] = settle(a1);
  state[at + 1] = settle(a2);
  state[at + 2] = settle(b1);
  state[at + 3] = settle(b2);
  state[at + 4] = settle(c1);
  state[at + 5] = settle(c2);
}

/** The all-pass that a low-pass and a high-pass of fourth order make together. */
function allPass(state: Float64Array, at: number, g: number, scale: number, samples: Float32Array, from: Frames, to: Frames): void {
  let first = state[at]!;
  let second = state[at + 1]!;
  for (let i = from; i < to; i++) {
    const input = samples[i]!;
    const band = (first + g * (input - second)) * scale;
    const low = second + g * band;
    first = 2 * band - first;
    second = 2 * low - second;
    samples[i] = input - 2 * damping * band;
  }
  state[at] = settle(first);
  state[at + 1] = settle(second);
}

/** What decays must not crawl through denormal numbers. */
function settle(value: number): number {
  return Math.abs(value) < tiny ? 0 : value;
}
