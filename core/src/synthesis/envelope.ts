import type { Frames } from '../units';

/** Strongest exponent of a bend, as for lanes: the middle of the way then lies at 2 % or 98 % of it. */
const strongestBend = 8;

/** The times of an envelope in frames, its level while a note is held, and how its ways bend: straight at 0, late above, early below. */
export interface EnvelopeTimes {
  delay: Frames;
  attack: Frames;
  hold: Frames;
  decay: Frames;
  sustain: number;
  release: Frames;
  attackBend: number;
  decayBend: number;
  releaseBend: number;
}

/** The stages in their order. */
const delaying = 0;
const attacking = 1;
const holding = 2;
const decaying = 3;
const sustaining = 4;
const releasing = 5;
const over = 6;

/**
 * A level from 0 to 1 that a note goes through: delay, attack, hold, decay, sustain, and release from wherever it is when the note ends.
 * Every way is an exponential curve through both its ends, computed by recursion; stages end on their frame.
 */
export class Envelope {
  private stage = over;
  /** Frames left in the stage. */
  private left: Frames = 0;
  private value = 0;
  private target = 0;
  /** The way at work: `offset + curve`, and the curve multiplies itself by `factor` (or grows by `slope`) every frame. */
  private offset = 0;
  private curve = 0;
  private factor = 1;
  private slope = 0;

  constructor(private readonly times: Readonly<EnvelopeTimes>) {}

  /** Begins from silence, or from where it is when the voice sounds already. */
  start(): void {
    this.enter(delaying);
  }

  /** The note ends. */
  release(): void {
    if (this.stage < releasing) this.enter(releasing);
  }

  stop(): void {
    this.stage = over;
    this.value = 0;
  }

  /** Where it is. */
  get level(): number {
    return this.value;
  }

  /** Where it will stay for some frames, if it does; they are then over. */
  holds(frames: Frames): boolean {
    if (this.stage === sustaining || this.stage === over) return true;
    if ((this.stage !== holding && this.stage !== delaying) || this.left <= frames) return false;
    this.left -= frames;
    return true;
  }

  /** True when it is at 0 for good. */
  get over(): boolean {
    return this.stage === over;
  }

  /** Writes the next frames. Past its end it writes zeros. */
  fill(into: Float64Array, from: Frames, to: Frames): void {
    for (let at = from; at < to;) {
      const still = this.stage === sustaining || this.stage === over;
      const until = still ? to : Math.min(to, at + this.left);
      this.run(into, at, until);
      if (still) return;
      this.left -= until - at;
      at = until;
      if (this.left === 0) this.finish();
    }
  }

  private run(into: Float64Array, from: Frames, to: Frames): void {
    const { offset, factor, slope } = this;
    if (factor === 1 && slope === 0) {
      into.fill(this.value, from, to);
      return;
    }
    let { curve } = this;
    for (let i = from; i < to; i++) {
      into[i] = offset + curve;
      curve = curve * factor + slope;
    }
    this.curve = curve;
    this.value = offset + curve;
  }

  private finish(): void {
    this.value = this.target;
    this.enter(this.stage + 1);
  }

  private enter(stage: number): void {
    this.stage = stage;
    const { times } = this;
    switch (stage) {
      case delaying:
        return this.go(this.value, times.delay, 0);
      case attacking:
        return this.go(1, times.attack, times.attackBend);
      case holding:
        return this.go(1, times.hold, 0);
      case decaying:
        return this.go(times.sustain, times.decay, times.decayBend);
      case releasing:
        return this.go(0, times.release, times.releaseBend);
      default:
        return this.go(stage === over ? 0 : this.value, 0, 0);
    }
  }

  /** Sets out for a value; at once where no time is given. */
  private go(target: number, frames: Frames, bend: number): void {
    const { value } = this;
    this.target = target;
    this.left = frames;
    this.factor = 1;
    this.slope = 0;
    if (this.stage === sustaining || this.stage === over) {
      this.value = target;
      return;
    }
    if (frames <= 0) {
      this.finish();
      return;
    }
    const way = target - value;
    const k = bend * strongestBend;
    if (Math.abs(k) < 1e-3) {
      this.offset = value;
      this.curve = 0;
      this.slope = way / frames;
    } else {
      // value + way · (e^(kt) − 1) / (e^k − 1)
      const scale = way / Math.expm1(k);
      this.offset = value - scale;
      this.curve = scale;
      this.factor = Math.exp(k / frames);
    }
  }
}
