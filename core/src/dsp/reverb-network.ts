import type { Frames, Hertz, Ratio, Seconds } from '../units';
import { CompiledNetwork } from './compiled/compiled-network';
import { getKernels } from './compiled/kernels';
import type { LineLoss } from './filters/line-loss';
import type { LengthGlide, Lines, NetworkRun } from './reverb-lines';
import { endlessLine, lineLoss, lossNumbers, lossSections, sectionNumbers } from './filters/line-loss';

export const lineCount = 16;
/** Lengths of the lines at size 1, in seconds: prime numbers of frames at 48 kHz, so that their echoes do not fall together. */
const lengths = [1_009, 1_153, 1_289, 1_429, 1_597, 1_741, 1_889, 2_053, 2_213, 2_381, 2_549, 2_731, 2_909, 3_109, 3_313, 3_539].map(
  (frames) => frames / 48_000,
);
const largestSize = 2;
const longestRun: Frames = 1_024;
/** Lengths glide for at least so long, and change by no more than so many frames a frame: while they do, the pitch bends. */
const shortestGlide: Frames = 512;
const quickestGlide = 0.25;
/** Losses take so long to change. */
const turnFrames: Frames = 2_048;

/** Lengths and losses of a network. */
export interface NetworkDesign {
  /** Seconds in which low, middle and high fall by 60 dB; undefined where nothing is ever lost. */
  readonly decay: readonly [low: Seconds, middle: Seconds, high: Seconds] | undefined;
  /** 0.1 to 2. */
  readonly size: number;
}

const nothing = new Float32Array(0);

/**
 * Feedback delay network of 16 lines with a Hadamard matrix (Jot & Chaigne 1991; Schlecht & Habets 2017): two channels in, each into
 * every second line, two uncorrelated ones out. What is on one side only is heard there first; what is equal on both is heard as from one channel.
 * Every fourth line is shortened by a slow swing, each a quarter of a turn after the one before.
 */
export class ReverbNetwork {
  private readonly lines: Lines;
  private readonly sway = new Float32Array(4 * longestRun);
  private readonly glide: LengthGlide = { offsets: new Float64Array(lineCount), steps: new Float64Array(lineCount) };
  private readonly run: NetworkRun = {
    directLeft: nothing,
    directRight: nothing,
    left: nothing,
    right: nothing,
    frames: 0,
    sway: nothing,
    glide: undefined,
    turning: false,
    most: 1,
  };
  private gliding: Frames = 0;
  private turning: Frames = 0;
  private delays: readonly Frames[] | undefined;
  private designed = '';

  /**
   * @param deepest by how much lines are shortened at most
   * @param compiled false for the reference in plain TypeScript
   */
  constructor(
    private readonly sampleRate: Hertz,
    private readonly deepest: Seconds,
    compiled = true,
  ) {
    const kernels = compiled ? getKernels() : undefined;
    const longest = lengths.map((length) => Math.ceil((length * largestSize + 2 * deepest) * sampleRate) + 8);
    this.lines = kernels ? new CompiledNetwork(longest, kernels) : new PlainNetwork(longest);
  }

  reset(): void {
    this.designed = '';
    this.delays = undefined;
    this.gliding = this.turning = 0;
    this.lines.reset();
  }

  /** Losses and lengths glide to a changed design. */
  aim({ decay, size }: NetworkDesign): void {
    const wanted = `${decay?.join(' ')} ${size}`;
    if (wanted === this.designed) return;
    this.designed = wanted;
    const delays = lengths.map((length) => Math.max(16, Math.round(length * size * this.sampleRate)));
    if (this.delays) {
      this.glideTo(delays, this.delays);
      this.turning = turnFrames;
    }
    this.delays = delays;
    this.lines.aim(
      delays,
      delays.map((delay) => (decay ? lineLoss(delay, decay, this.sampleRate) : endlessLine())),
      this.turning,
    );
  }

  /** How long every line is at least, however it is shortened, as long as lengths go on gliding as they do. */
  private shortest(glide: LengthGlide | undefined): Frames {
    let least = longestRun;
    for (let n = 0; n < lineCount; n++) least = Math.min(least, (this.delays?.[n] ?? 1) + (glide ? Math.min(0, glide.offsets[n]!) : 0));
    return Math.max(1, Math.floor(least - 2 * this.deepest * this.sampleRate) - 2);
  }

  private glideTo(delays: readonly Frames[], before: readonly Frames[]): void {
    const { offsets, steps } = this.glide;
    if (this.gliding === 0) offsets.fill(0);
    let furthest = 0;
    for (let n = 0; n < lineCount; n++) {
      offsets[n]! += before[n]! - delays[n]!;
      furthest = Math.max(furthest, Math.abs(offsets[n]!));
    }
    this.gliding = furthest === 0 ? 0 : Math.max(shortestGlide, Math.ceil(furthest / quickestGlide));
    for (let n = 0; n < lineCount; n++) steps[n] = -offsets[n]! / Math.max(1, this.gliding);
  }

  /**
   * Level of the mean of both sides for noise at a level of 1 on both, reckoned from the energy that a round through the lines leaves: what
   * comes out of the lines is what went in and what stayed.
   */
  noiseGain(decay: Seconds, size: number): Ratio {
    const round = (lengths.reduce((sum, length) => sum + length, 0) / lineCount) * size;
    const kept = 10 ** ((-6 * round) / decay);
    return Math.sqrt(kept / (1 - kept) / 4);
  }

  /** How the lines are shortened in frame `i` of the next run: `swing` frames, and `sine` and `cosine` of the place in the turn. */
  swing(i: number, swing: Frames, sine: number, cosine: number): void {
    const { sway } = this;
    sway[4 * i] = -swing * (1 + sine);
    sway[4 * i + 1] = -swing * (1 + cosine);
    sway[4 * i + 2] = -swing * (1 - sine);
    sway[4 * i + 3] = -swing * (1 - cosine);
  }

  /** Writes `frames` samples of both sides, at most 1024; `swing` must have been told for each. */
  process(directLeft: Float32Array, directRight: Float32Array, left: Float32Array, right: Float32Array, frames: Frames): void {
    const { lines, run, sway, glide } = this;
    for (let from = 0; from < frames; from += run.frames) {
      run.frames = frames - from;
      if (this.gliding > 0) run.frames = Math.min(run.frames, this.gliding);
      if (this.turning > 0) run.frames = Math.min(run.frames, this.turning);
      run.directLeft = from === 0 ? directLeft : directLeft.subarray(from);
      run.directRight = from === 0 ? directRight : directRight.subarray(from);
      run.left = from === 0 ? left : left.subarray(from);
      run.right = from === 0 ? right : right.subarray(from);
      run.sway = from === 0 ? sway : sway.subarray(4 * from);
      run.glide = this.gliding > 0 ? glide : undefined;
      run.turning = this.turning > 0;
      run.most = this.shortest(run.glide);
      lines.process(run);
      if (this.gliding > 0) {
        for (let n = 0; n < lineCount; n++) glide.offsets[n]! += glide.steps[n]! * run.frames;
        this.gliding -= run.frames;
      }
      if (run.turning && (this.turning -= run.frames) === 0) lines.arrive();
    }
  }
}

/** Line by line in double precision: the reference for the compiled network. */
class PlainNetwork implements Lines {
  private readonly lines: readonly ReverbLine[];
  private readonly outputs = new Float64Array(lineCount);
  private readonly delays = new Float64Array(lineCount);

  constructor(longest: readonly Frames[]) {
    this.lines = longest.map((length) => new ReverbLine(length));
  }

  reset(): void {
    for (const line of this.lines) line.reset();
  }

  aim(delays: readonly Frames[], losses: readonly LineLoss[], turning: Frames): void {
    this.delays.set(delays);
    this.lines.forEach((line, n) => line.aim(losses[n]!, turning));
  }

  arrive(): void {
    for (const line of this.lines) line.arrive();
  }

  process({ directLeft, directRight, sway, left, right, frames, glide, turning }: NetworkRun): void {
    const { lines, outputs, delays } = this;
    for (let i = 0; i < frames; i++) {
      for (let n = 0; n < lineCount; n++) {
        const longer = glide ? glide.offsets[n]! + glide.steps[n]! * i : 0;
        if (turning) lines[n]!.turn();
        outputs[n] = lines[n]!.read(delays[n]! + longer + (n % 4 === 0 ? sway[4 * i + n / 4]! : 0));
      }
      let [l, r] = [0, 0];
      for (let n = 0; n < lineCount; n += 4) {
        l += outputs[n]! - outputs[n + 2]!;
        r += outputs[n + 1]! - outputs[n + 3]!;
      }
      left[i] = l;
      right[i] = r;
      hadamard(outputs);
      const inLeft = directLeft[i]! / 4;
      const inRight = directRight[i]! / 4;
      for (let n = 0; n < lineCount; n++) lines[n]!.write(outputs[n]! + (n % 2 ? -inRight : inLeft));
    }
  }
}

/** One line of a feedback delay network with the filters of its loss. */
class ReverbLine {
  private readonly line: Float64Array;
  private readonly mask: number;
  private position = 0;
  private readonly states = new Float64Array(2 * lossSections);
  private readonly loss = new Float64Array(lossNumbers);
  private readonly steps = new Float64Array(lossNumbers);
  private target: LineLoss = this.loss;

  constructor(longest: Frames) {
    this.line = new Float64Array(2 ** Math.ceil(Math.log2(longest + 4)));
    this.mask = this.line.length - 1;
  }

  reset(): void {
    this.line.fill(0);
    this.states.fill(0);
    this.position = 0;
  }

  aim(target: LineLoss, turning: Frames): void {
    this.target = target;
    if (turning === 0) this.arrive();
    else for (let n = 0; n < lossNumbers; n++) this.steps[n] = (target[n]! - this.loss[n]!) / turning;
  }

  turn(): void {
    for (let n = 0; n < lossNumbers; n++) this.loss[n]! += this.steps[n]!;
  }

  arrive(): void {
    this.loss.set(this.target);
  }

  /** What comes out of the line, `delay` frames (3 or more, whole or not) after it went in, less its loss. */
  read(delay: number): number {
    const { line, mask, loss, states } = this;
    const whole = delay | 0;
    const t = delay - whole;
    const at = this.position - whole;
    const here = line[at & mask]!;
    let sample = t === 0 ? here : here + (line[(at - 1) & mask]! - here) * t;
    for (let s = 0, n = 0; s < 2 * lossSections; s += 2, n += sectionNumbers) {
      const first = states[s]!;
      const second = states[s + 1]!;
      const rest = sample - second;
      const band = loss[n]! * first + loss[n + 1]! * rest;
      const low = second + loss[n + 1]! * first + loss[n + 2]! * rest;
      states[s] = withoutTiny(2 * band - first);
      states[s + 1] = withoutTiny(2 * low - second);
      sample = loss[n + 3]! * sample + loss[n + 4]! * band + loss[n + 5]! * low;
    }
    return sample;
  }

  write(sample: number): void {
    this.line[this.position] = withoutTiny(sample);
    this.position = (this.position + 1) & this.mask;
  }
}

function withoutTiny(x: number): number {
  return Math.abs(x) < 1e-25 ? 0 : x;
}

/** Fast Walsh–Hadamard transform, scaled so that it keeps energy. */
function hadamard(values: Float64Array): void {
  for (let span = 1; span < lineCount; span *= 2) {
    for (let from = 0; from < lineCount; from += 2 * span) {
      for (let n = from; n < from + span; n++) {
        const a = values[n]!;
        const b = values[n + span]!;
        values[n] = a + b;
        values[n + span] = a - b;
      }
    }
  }
  for (let n = 0; n < lineCount; n++) values[n]! *= 0.25;
}
