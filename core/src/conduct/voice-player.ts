import { readBetween, readLooped } from '../dsp/fractional-read';
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

  next(): number {
    const { value } = this;
    if (this.left > 0) this.value = --this.left === 0 ? this.goal : value + this.step;
    return value;
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
  /** The filter's coefficient, and how much of it is heard. */
  private readonly cut: Line;
  private filtered: boolean;
  /** What the filter holds of each channel. */
  private readonly held = new Float64Array(4);
  private readonly loop: { readonly from: Frames; readonly to: Frames } | undefined;
  /** Before here lies the end of the loop, once it has come round. */
  private low = -Infinity;
  private readonly fade: Line;
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
    const first = this.channels[0]!;
    const second = this.channels[1];
    const { loop, ratio } = this;
    const end = loop ? Infinity : first.length;
    for (let i = from; i < to; i++) {
      if (loop && this.place >= loop.to) {
        this.place = loop.from + ((this.place - loop.from) % (loop.to - loop.from));
        this.low = loop.from;
      }
      if (this.place >= end || (this.stopping && this.fade.left === 0)) {
        this.over = true;
        return;
      }
      const fade = this.fade.next();
      let one = this.read(first);
      let two = second ? this.read(second) : one;
      const g = this.cut.next();
      if (this.filtered) {
        const a = 1 / (1 + g * (g + Math.SQRT2));
        one = this.lowPass(one, 0, g, a);
        two = second ? this.lowPass(two, 2, g, a) : one;
      }
      left[i] = left[i]! + one * this.left.next() * fade;
      right[i] = right[i]! + two * this.right.next() * fade;
      this.place += ratio.next();
    }
  }

  private read(samples: Float32Array): number {
    const { place, loop } = this;
    if (Number.isInteger(place)) return samples[place]!;
    return loop ? readLooped(samples, place, loop.from, loop.to, this.low) : readBetween(samples, place);
  }

  /** A state-variable filter with trapezoidal integrators (Zavalishin, “The Art of VA Filter Design”, 2012, ch. 4), Q of 1/√2. */
  private lowPass(sample: number, at: number, g: number, a: number): number {
    const { held } = this;
    const high = (sample - held[at + 1]! - (Math.SQRT2 + g) * held[at]!) * a;
    const band = g * high + held[at]!;
    held[at] = g * high + band;
    const low = g * band + held[at + 1]!;
    held[at + 1] = g * band + low;
    return low;
  }
}

/** Even power from side to side; in the middle both are as loud as they are. */
function sides({ gain, pan }: Heard): { readonly left: number; readonly right: number } {
  const angle = ((Math.min(1, Math.max(-1, pan)) + 1) * Math.PI) / 4;
  return pan === 0
    ? { left: gain, right: gain }
    : { left: Math.SQRT2 * Math.cos(angle) * gain, right: Math.SQRT2 * Math.sin(angle) * gain };
}
