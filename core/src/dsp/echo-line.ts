import type { Frames, Hertz, Ratio } from '../units';
import { maxBlock } from './block';
import type { KernelBlock, Kernels } from './compiled/kernels';
import { getKernels } from './compiled/kernels';
import { DelayTap } from './delay-tap';

/** Values below this are silence; filters that decay must not crawl through denormal numbers. */
const tiny = 1e-30;
const tinyInLine = 1e-20;

/** Where gain, what is kept and what is taken of each filter are, and their states; see `OnePole`. */
const high = 0;
const low = 3;
const states = 6;
const filterNumbers = 8;
/** Those, and the four weights of a place between samples. */
const allNumbers = filterNumbers + 4;

/**
 * One channel of a delay with a high cut and a low cut behind it, first-order in topology-preserving form (Zavalishin 2012). Reading, both filters and writing
 * go on together sample by sample, so that what one of them waits for is used by the others; compiled where that is to be had.
 */
export class EchoLine extends DelayTap {
  private readonly kernels: Kernels | undefined;
  private readonly memory:
    { readonly ring: KernelBlock; readonly samples: KernelBlock; readonly numbers: KernelBlock; readonly gains: KernelBlock } | undefined;
  private numbers = new Float64Array(allNumbers);

  /**
   * @param longest the longest delay that will be read, in frames
   * @param compiled false for the reference in plain TypeScript
   */
  constructor(longest: Frames, compiled = true) {
    super(longest);
    this.kernels = compiled ? getKernels() : undefined;
    this.memory = this.kernels && {
      ring: this.kernels.allocate(4 * this.line.length),
      samples: this.kernels.allocate(4 * maxBlock),
      numbers: this.kernels.allocate(8 * allNumbers),
      gains: this.kernels.allocate(16 * maxBlock),
    };
    this.settle();
  }

  override reset(): void {
    this.settle();
    super.reset();
    this.numbers.fill(0, states, filterNumbers);
  }

  /**
   * Goes before everything else in each block.
   *
   * @param highCut at or above Nyquist everything goes through
   * @param lowCut undefined takes nothing away
   */
  tune(highCut: Hertz, lowCut: Hertz | undefined, sampleRate: Hertz): void {
    this.settle();
    this.aim(high, highCut, sampleRate);
    if (lowCut === undefined) this.numbers.fill(0, low, low + 3);
    else this.aim(low, lowCut, sampleRate);
  }

  private aim(at: number, frequency: Hertz, sampleRate: Hertz): void {
    const open = frequency >= sampleRate / 2;
    const g = Math.tan((Math.PI * Math.min(frequency, sampleRate / 2)) / sampleRate);
    const gain = open ? 1 : g / (1 + g);
    this.numbers[at] = gain;
    this.numbers[at + 1] = open ? 0 : 1 - 2 * gain;
    this.numbers[at + 2] = open ? 1 : 2 * gain;
  }

  /** Memory of kernels that has grown has another buffer. */
  private settle(): void {
    const { kernels, memory } = this;
    if (!kernels || !memory) return;
    const samples = kernels.samples();
    if (this.line.buffer === samples.buffer) return;
    const ring = memory.ring.at / 4;
    this.line = samples.subarray(ring, ring + this.mask + 1);
    const numbers = memory.numbers.at / 8;
    this.numbers = kernels.doubles().subarray(numbers, numbers + allNumbers);
  }

  /** The filtered echo that belongs to the next sample to be written, of what came `lag` frames before it: at least 2, whole or not. */
  echo(lag: Frames): number {
    const { numbers } = this;
    const late = this.read(lag - 1);
    const darkened = numbers[states]!;
    const rumble = numbers[states + 1]!;
    const dark = darkened + (late - darkened) * numbers[high]!;
    const echo = dark - (rumble + (dark - rumble) * numbers[low]!);
    this.keep(darkened * numbers[high + 1]! + late * numbers[high + 2]!, rumble * numbers[low + 1]! + dark * numbers[low + 2]!);
    return echo;
  }

  override write(sample: number): void {
    super.write(Math.abs(sample) < tinyInLine ? 0 : sample);
  }

  /**
   * Adds echoes to a block: what came `lag` frames before each sample, at least 2, goes out at the `levels` of each frame, and back in with the sample at
   * its `backs`.
   */
  process(samples: Float32Array, frames: Frames, lag: Frames, backs: Float64Array, levels: Float64Array): void {
    const { kernels, memory } = this;
    this.weigh(lag - Math.floor(lag));
    if (!kernels || !memory) {
      this.processPlainly(samples, frames, Math.floor(lag), backs, levels);
      return;
    }
    const block = frames === samples.length ? samples : samples.subarray(0, frames);
    const at = memory.samples.at / 4;
    const gains = memory.gains.at / 8;
    kernels.doubles().set(frames === backs.length ? backs : backs.subarray(0, frames), gains);
    kernels.doubles().set(frames === levels.length ? levels : levels.subarray(0, frames), gains + maxBlock);
    kernels.samples().set(block, at);
    this.position = kernels.echo(
      memory.samples.at,
      frames,
      memory.ring.at,
      this.mask,
      this.position,
      Math.floor(lag),
      memory.numbers.at + 8 * filterNumbers,
      memory.numbers.at,
      memory.gains.at,
      maxBlock,
    );
    block.set(kernels.samples().subarray(at, at + frames));
    this.keep(this.numbers[states]!, this.numbers[states + 1]!);
  }

  /** Third-order Lagrange interpolation, as in `read`. */
  private weigh(t: Ratio): void {
    const { numbers } = this;
    numbers[filterNumbers] = (-t * (t - 1) * (t - 2)) / 6;
    numbers[filterNumbers + 1] = ((t + 1) * (t - 1) * (t - 2)) / 2;
    numbers[filterNumbers + 2] = (-(t + 1) * t * (t - 2)) / 2;
    numbers[filterNumbers + 3] = ((t + 1) * t * (t - 1)) / 6;
  }

  private processPlainly(samples: Float32Array, frames: Frames, whole: Frames, backs: Float64Array, levels: Float64Array): void {
    const { line, mask, numbers } = this;
    let darkened = numbers[states]!;
    let rumble = numbers[states + 1]!;
    for (let i = 0; i < frames; i++) {
      this.position = (this.position + 1) & mask;
      let late = 0;
      for (let tap = 0; tap < 4; tap++) late += line[(this.position - whole + 1 - tap) & mask]! * numbers[filterNumbers + tap]!;
      const dark = darkened + (late - darkened) * numbers[high]!;
      darkened = darkened * numbers[high + 1]! + late * numbers[high + 2]!;
      const echo = dark - (rumble + (dark - rumble) * numbers[low]!);
      rumble = rumble * numbers[low + 1]! + dark * numbers[low + 2]!;
      const into = samples[i]! + echo * backs[i]!;
      line[this.position] = Math.abs(into) < tinyInLine ? 0 : into;
      samples[i]! += echo * levels[i]!;
    }
    this.keep(darkened, rumble);
  }

  private keep(darkened: number, rumble: number): void {
    this.numbers[states] = Math.abs(darkened) < tiny ? 0 : darkened;
    this.numbers[states + 1] = Math.abs(rumble) < tiny ? 0 : rumble;
  }
}
