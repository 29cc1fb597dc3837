import type { Frames, Hertz } from '../units';
import { DelayTap } from './delay-tap';

/** Values below this are silence; filters that decay must not crawl through denormal numbers. */
const tiny = 1e-30;
const tinyInLine = 1e-20;

/** What a first-order low-pass in topology-preserving form (Zavalishin 2012) gives of its input, and its recursion; see `OnePole`. */
interface Pole {
  gain: number;
  keeps: number;
  takes: number;
}

/** @param frequency cut-off; at or above Nyquist everything goes through */
function tune(pole: Pole, frequency: Hertz, sampleRate: Hertz): void {
  const open = frequency >= sampleRate / 2;
  const g = Math.tan((Math.PI * Math.min(frequency, sampleRate / 2)) / sampleRate);
  pole.gain = open ? 1 : g / (1 + g);
  pole.keeps = open ? 0 : 1 - 2 * pole.gain;
  pole.takes = open ? 1 : 2 * pole.gain;
}

/**
 * One channel of a delay with a high cut and a low cut behind it. Reading, both filters and writing go on together sample by sample, so that
 * what one of them waits for is used by the others.
 */
export class EchoLine extends DelayTap {
  private readonly highCut: Pole = { gain: 1, keeps: 0, takes: 1 };
  private readonly lowCut: Pole = { gain: 0, keeps: 0, takes: 0 };
  private darkened = 0;
  private rumble = 0;

  override reset(): void {
    super.reset();
    this.darkened = this.rumble = 0;
  }

  /** @param lowCut undefined takes nothing away */
  tune(highCut: Hertz, lowCut: Hertz | undefined, sampleRate: Hertz): void {
    tune(this.highCut, highCut, sampleRate);
    if (lowCut === undefined) this.lowCut.gain = this.lowCut.keeps = this.lowCut.takes = 0;
    else tune(this.lowCut, lowCut, sampleRate);
  }

  /** The filtered echo that belongs to the next sample to be written, of what came `lag` frames before it: at least 2, whole or not. */
  echo(lag: Frames): number {
    const { highCut, lowCut } = this;
    const late = this.read(lag - 1);
    const dark = this.darkened + (late - this.darkened) * highCut.gain;
    this.darkened = this.darkened * highCut.keeps + late * highCut.takes;
    const echo = dark - (this.rumble + (dark - this.rumble) * lowCut.gain);
    this.rumble = this.rumble * lowCut.keeps + dark * lowCut.takes;
    this.withoutTiny();
    return echo;
  }

  override write(sample: number): void {
    super.write(Math.abs(sample) < tinyInLine ? 0 : sample);
  }

  /**
   * Adds echoes to a run of samples: what came `lag` frames before each of them, at least 2, goes out at the `levels` of each frame, and back in with the sample
   * at its `backs`.
   */
  process(samples: Float32Array, frames: Frames, lag: Frames, backs: Float64Array, levels: Float64Array): void {
    const { line, mask } = this;
    const { gain: highGain, keeps: highKeeps, takes: highTakes } = this.highCut;
    const { gain: lowGain, keeps: lowKeeps, takes: lowTakes } = this.lowCut;
    const whole = lag | 0;
    const t = lag - whole;
    const [t1, t2, t3] = [t + 1, t - 1, t - 2];
    const [before, here, after, last] = [(-t * t2 * t3) / 6, (t1 * t2 * t3) / 2, (-t1 * t * t3) / 2, (t1 * t * t2) / 6];
    let { darkened, rumble } = this;
    let position = this.position;
    for (let i = 0; i < frames; i++) {
      position = (position + 1) & mask;
      const at = position - whole;
      const late =
        t === 0
          ? line[at & mask]!
          : line[(at + 1) & mask]! * before + line[at & mask]! * here + line[(at - 1) & mask]! * after + line[(at - 2) & mask]! * last;
      const dark = darkened + (late - darkened) * highGain;
      darkened = darkened * highKeeps + late * highTakes;
      const echo = dark - (rumble + (dark - rumble) * lowGain);
      rumble = rumble * lowKeeps + dark * lowTakes;
      const sample = samples[i]!;
      const into = sample + echo * backs[i]!;
      line[position] = Math.abs(into) < tinyInLine ? 0 : into;
      samples[i] = sample + echo * levels[i]!;
    }
    this.position = position;
    this.darkened = darkened;
    this.rumble = rumble;
    this.withoutTiny();
  }

  private withoutTiny(): void {
    if (Math.abs(this.darkened) < tiny) this.darkened = 0;
    if (Math.abs(this.rumble) < tiny) this.rumble = 0;
  }
}
