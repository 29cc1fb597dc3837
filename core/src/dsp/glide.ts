import type { Frames } from '../units';

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

  /** The value without moving on. */
  get current(): number {
    return this.value;
  }
}
