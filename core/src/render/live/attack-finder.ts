import type { Decibels, Frames } from '../../units';

/** Frames whose energy is looked at together. */
const burst: Frames = 64;
/** Bursts in front of one that it is compared with: about 20 ms. */
const before = 15;
/** How far above their mean it stands if something strikes. */
const leastJump: Decibels = 10;
const jump = 10 ** (leastJump / 10);
/** Mean square of the differences below which nothing is heard. */
const quiet = 1e-8;
/** An attack begins this much in front of its first large step. */
const lead: Frames = 16;

/**
 * Finds attacks in a sound as it runs, by the jump of its energy over 1.3 ms against the 20 ms before. It looks at differences from sample
 * to sample, in which slow waves do not count.
 */
export class AttackFinder {
  /** Where attacks begin, in frames since the start, the earliest first; whoever has dealt with one takes it out. */
  readonly attacks: Frames[] = [];
  private readonly energies = new Float64Array(before);
  private readonly steps = new Float64Array(2 * burst);
  private sum = 0;
  private count: Frames = 0;
  private last = 0;

  /** Frames that must be known behind the beginning of an attack before it is found. */
  static readonly lookAhead: Frames = 2 * burst;

  push(sample: number): void {
    const { steps } = this;
    steps[this.count % steps.length] = Math.abs(sample - this.last);
    this.last = sample;
    this.count++;
    if (this.count % burst === 0) this.judge();
  }

  reset(): void {
    this.attacks.length = 0;
    this.energies.fill(0);
    this.steps.fill(0);
    this.sum = this.count = this.last = 0;
  }

  private judge(): void {
    const { steps, energies } = this;
    const first = this.count - burst;
    let energy = 0;
    let largest = 0;
    for (let i = first; i < this.count; i++) {
      const step = steps[i % steps.length]!;
      energy += (step * step) / burst;
      largest = Math.max(largest, step);
    }
    const slot = (first / burst) % before;
    const mean = Math.max(0, this.sum) / before;
    if (energy > quiet && energy > jump * mean) {
      let at = first;
      while (steps[at % steps.length]! < largest / 2) at++;
      this.attacks.push(Math.max(0, at - lead));
    }
    this.sum += energy - energies[slot]!;
    energies[slot] = energy;
  }
}
