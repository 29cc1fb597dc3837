import type { Frames } from '../units';

/** How far a moving target may go between two looks without being taken for a jump. */
const largestStep = 0.05;

/** A value that moves to its target in a straight line over a fixed number of frames, so that a changed setting does not click. */
export class Glide {
  private value = 0;
  private target = 0;
  private step = 0;
  private remaining = 0;
  private fresh = true;

  constructor(private readonly frames: Frames) {}

  /** The next target is taken over at once. */
  reset(): void {
    this.fresh = true;
  }

  /** The least that it is on its way. */
  get lowest(): number {
    return Math.min(this.value, this.target);
  }

  aim(target: number): void {
    if (this.fresh) {
      this.fresh = false;
      this.value = this.target = target;
      this.remaining = 0;
    } else if (target !== this.target) {
      this.target = target;
      this.remaining = this.frames;
      this.step = (target - this.value) / this.frames;
    }
  }

  /**
   * Goes on to a target that itself moves on, within `frames` frames. Where the target jumps, it takes the time that every changed
   * setting takes, so that nothing clicks.
   */
  follow(target: number, frames: Frames): void {
    if (this.fresh) {
      this.aim(target);
      return;
    }
    const distance = target - this.value;
    const time = Math.abs(distance) > largestStep * Math.max(1, Math.abs(target)) ? this.frames : frames;
    this.target = target;
    this.remaining = distance === 0 ? 0 : time;
    this.step = distance / time;
  }

  /** True until it has its first target. */
  get untouched(): boolean {
    return this.fresh;
  }

  get moving(): boolean {
    return this.remaining > 0;
  }

  /** The value for the next frame. */
  next(): number {
    if (this.remaining > 0) {
      this.value = --this.remaining === 0 ? this.target : this.value + this.step;
    }
    return this.value;
  }

  /** Goes on by several frames at once, and returns the value there. */
  advance(frames: Frames): number {
    if (this.remaining > 0) {
      const count = Math.min(frames, this.remaining);
      this.remaining -= count;
      this.value = this.remaining === 0 ? this.target : this.value + this.step * count;
    }
    return this.value;
  }

  /** Writes the values for the next `frames` frames, for loops that go through one channel after another. */
  fill(into: Float64Array, frames: Frames): void {
    if (this.remaining === 0) into.fill(this.value, 0, frames);
    else for (let i = 0; i < frames; i++) into[i] = this.next();
  }

  /** The value without moving on. */
  get current(): number {
    return this.value;
  }
}

/** A glide for each of several names, all of the same length. */
export function glides<const N extends string>(frames: Frames, ...names: readonly N[]): Readonly<Record<N, Glide>> {
  // Every name is there; what a list of pairs makes, the compiler cannot know.
  return Object.fromEntries(names.map((name) => [name, new Glide(frames)])) as Record<N, Glide>;
}
