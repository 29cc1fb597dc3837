import { betweenDensity, betweenReach, betweenTaps, readBetween, readLooped } from '../dsp/fractional-read';
import type { Frames, Hertz } from '../units';
import type { ConductEvent, Heard } from './conduct-data';
import { openCut } from './hearing';
import { tick } from './state';

type Started = Extract<ConductEvent, { readonly do: 'play' }>;

/** From here on a cut is not heard, and takes no filter. */
const filterEnd: Hertz = openCut * 0.995;

/** One value that goes to another in a straight line, frame by frame. */
class Line {
  step = 0;
  left: Frames = 0;
  private goal: number;

  constructor(public value: number) {
    this.goal = value;
  }

  aim(goal: number, frames: Frames): void {
    this.goal = goal;
    this.left = frames;
    this.step = (goal - this.value) / frames;
  }

  /** For how many frames it goes on as it goes. */
  get evenly(): Frames {
    return this.left > 0 ? this.left : Infinity;
  }

  /** Where it is after some frames, no more than are left. */
  pass(value: number, frames: Frames): void {
    if (this.left === 0) return;
    this.left -= frames;
    this.value = this.left === 0 ? this.goal : value;
    if (this.left === 0) this.step = 0;
  }
}

/** Plays one voice of a recording: at any speed, through its loop, panned, filtered by two poles, faded. */
export class VoicePlayer {
  /** True once nothing more comes of it. */
  over = false;
  private place = 0;
  private readonly left: Line;
  private readonly right: Line;
  private readonly ratio: Line;
  /** The filter's coefficient. */
  private readonly cut: Line;
  private readonly fade: Line;
  private filtered: boolean;
  /** What the filter holds of each channel. */
  private readonly held = new Float64Array(4);
  private readonly loop: { readonly from: Frames; readonly to: Frames } | undefined;
  /** Before here lies the end of the loop, once it has come round. */
  private low = -Infinity;
  private stopping = false;

  constructor(
    private readonly channels: readonly Float32Array[],
    private readonly sampleRate: Hertz,
    { loop, fadeIn, ...heard }: Started,
  ) {
    const length = channels[0]?.length ?? 0;
    // What the data says of a file may be more than there is of it.
    this.loop = loop && loop.from >= 0 && loop.to <= length && loop.to - loop.from >= 1 ? loop : undefined;
    const { left, right } = sides(heard);
    this.left = new Line(left);
    this.right = new Line(right);
    this.ratio = new Line(heard.ratio);
    this.cut = new Line(this.coefficient(heard.highCut));
    this.filtered = heard.highCut < filterEnd;
    this.fade = new Line(fadeIn > 0 ? 0 : 1);
    if (fadeIn > 0) this.fade.aim(1, fadeIn);
    this.over = length === 0;
  }

  turn(heard: Heard): void {
    const { left, right } = sides(heard);
    this.left.aim(left, tick);
    this.right.aim(right, tick);
    this.ratio.aim(heard.ratio, tick);
    this.cut.aim(this.coefficient(heard.highCut), tick);
    if (heard.highCut < filterEnd) this.filtered = true;
  }

  stop(fade: Frames): void {
    this.stopping = true;
    if (fade > 0) this.fade.aim(0, fade);
    else this.over = true;
  }

  private coefficient(highCut: Hertz): number {
    return Math.tan((Math.PI * Math.min(highCut, 0.45 * this.sampleRate)) / this.sampleRate);
  }

  /** Adds the next frames to a left and a right channel. */
  addTo(left: Float32Array, right: Float32Array, from: Frames, to: Frames): void {
    const { loop } = this;
    const end = loop ? loop.to : this.channels[0]!.length;
    for (let i = from; i < to;) {
      if (loop && this.place >= end) {
        this.place = loop.from + ((this.place - loop.from) % (loop.to - loop.from));
        this.low = loop.from;
      }
      if (this.place >= end || (this.stopping && this.fade.left === 0)) {
        this.over = true;
        return;
      }
      const frames = this.evenFrames(to - i, end);
      this.addEven(left, right, i, frames, end);
      i += frames;
    }
  }

  /** For how many frames all lines go on as they go, and the end is not reached; at least one. */
  private evenFrames(most: Frames, end: Frames): Frames {
    let frames = Math.min(most, this.left.evenly, this.right.evenly, this.ratio.evenly);
    frames = Math.min(frames, this.cut.evenly, this.fade.evenly);
    const { value, step } = this.ratio;
    const fastest = Math.max(value, value + step * frames);
    // The last frame before the end is one of them; whether the next one is behind it, is seen then.
    return Math.max(1, Math.min(frames, Math.floor((end - this.place) / fastest)));
  }

  /** Adds frames through which all lines go evenly: sample by sample the same as in any other parts. */
  private addEven(left: Float32Array, right: Float32Array, from: Frames, frames: Frames, end: Frames): void {
    const first = this.channels[0]!;
    const second = this.channels[1] ?? first;
    const stereo = second !== first;
    const { held, filtered, loop, low } = this;
    const taps = betweenTaps();
    let { place } = this;
    let l = this.left.value;
    let r = this.right.value;
    let ratio = this.ratio.value;
    let g = this.cut.value;
    let fade = this.fade.value;
    const lStep = this.left.step;
    const rStep = this.right.step;
    const ratioStep = this.ratio.step;
    const gStep = this.cut.step;
    const fadeStep = this.fade.step;
    // All that is looked at lies within the recording, and before the place where it comes round.
    const reached = place + frames * Math.max(ratio, ratio + ratioStep * frames) + betweenReach + 1;
    const within = place - betweenReach >= Math.max(0, low) && reached < (loop ? end : first.length);
    for (let i = from; i < from + frames; i++) {
      const whole = place | 0;
      const between = place - whole;
      let one: number;
      let two: number;
      if (between === 0) {
        one = first[whole]!;
        two = stereo ? second[whole]! : one;
      } else if (within) {
        const at = ((between * betweenDensity + 0.5) | 0) << 4;
        const start = whole - betweenReach + 1;
        one = sixteen(first, start, taps, at);
        two = stereo ? sixteen(second, start, taps, at) : one;
      } else {
        one = loop ? readLooped(first, place, loop.from, loop.to, low) : readBetween(first, place);
        two = stereo ? (loop ? readLooped(second, place, loop.from, loop.to, low) : readBetween(second, place)) : one;
      }
      if (filtered) {
        // A state-variable filter with trapezoidal integrators (Zavalishin, “The Art of VA Filter Design”, 2012, ch. 4), Q of 1/√2.
        const a = 1 / (1 + g * (g + Math.SQRT2));
        const high = (one - held[1]! - (Math.SQRT2 + g) * held[0]!) * a;
        const band = g * high + held[0]!;
        held[0] = g * high + band;
        one = g * band + held[1]!;
        held[1] = g * band + one;
        if (stereo) {
          const high2 = (two - held[3]! - (Math.SQRT2 + g) * held[2]!) * a;
          const band2 = g * high2 + held[2]!;
          held[2] = g * high2 + band2;
          two = g * band2 + held[3]!;
          held[3] = g * band2 + two;
        } else two = one;
      }
      left[i] = left[i]! + one * l * fade;
      right[i] = right[i]! + two * r * fade;
      place += ratio;
      l += lStep;
      r += rStep;
      ratio += ratioStep;
      g += gStep;
      fade += fadeStep;
    }
    this.place = place;
    this.left.pass(l, frames);
    this.right.pass(r, frames);
    this.ratio.pass(ratio, frames);
    this.cut.pass(g, frames);
    this.fade.pass(fade, frames);
  }
}

/** The sum of sixteen samples, each times its tap: written out, as this is where all the time goes. */
function sixteen(x: Float32Array, i: number, t: Float64Array, k: number): number {
  return (
    x[i]! * t[k]! +
    x[i + 1]! * t[k + 1]! +
    x[i + 2]! * t[k + 2]! +
    x[i + 3]! * t[k + 3]! +
    x[i + 4]! * t[k + 4]! +
    x[i + 5]! * t[k + 5]! +
    x[i + 6]! * t[k + 6]! +
    x[i + 7]! * t[k + 7]! +
    (x[i + 8]! * t[k + 8]! +
      x[i + 9]! * t[k + 9]! +
      x[i + 10]! * t[k + 10]! +
      x[i + 11]! * t[k + 11]! +
      x[i + 12]! * t[k + 12]! +
      x[i + 13]! * t[k + 13]! +
      x[i + 14]! * t[k + 14]! +
      x[i + 15]! * t[k + 15]!)
  );
}

/** Even power from side to side; in the middle both are as loud as they are. */
function sides({ gain, pan }: Heard): { readonly left: number; readonly right: number } {
  const angle = ((Math.min(1, Math.max(-1, pan)) + 1) * Math.PI) / 4;
  return pan === 0
    ? { left: gain, right: gain }
    : { left: Math.SQRT2 * Math.cos(angle) * gain, right: Math.SQRT2 * Math.sin(angle) * gain };
}
