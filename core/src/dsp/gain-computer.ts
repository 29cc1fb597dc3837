import type { Decibels, Frames, Ratio } from '../units';
import { maxBlock } from './block';
import type { KernelBlock, Kernels } from './compiled/kernels';
import { getKernels } from './compiled/kernels';
import { decibelsPerNeper, levelOf, pressOf } from './gain-curves';

/** What a compressor does while nothing about it moves. */
export interface Press {
  readonly threshold: Decibels;
  /** 1 - 1 / ratio: the part of what is over the threshold that is taken away. */
  readonly slope: Ratio;
  readonly knee: Decibels;
  /** How much of its old value the reduction keeps from frame to frame, while it grows and while it goes back. */
  readonly attack: Ratio;
  readonly release: Ratio;
  /** Gain of all that comes out. */
  readonly lift: Decibels;
}

/**
 * Levels of the loudest channel and, in their place, gains: feed-forward in the decibel domain with a smooth branching detector (Giannoulis, Massberg & Reiss,
 * "Digital Dynamic Range Compressor Design", JAES 2012). Compiled where that is to be had.
 */
export class GainComputer {
  /** By how much is turned down at the last frame, and at most within the last run. */
  reduction: Decibels = 0;
  deepest: Decibels = 0;
  private readonly kernels: Kernels | undefined;
  private readonly memory: { readonly samples: KernelBlock; readonly values: KernelBlock; readonly state: KernelBlock } | undefined;
  private view = new Float64Array(maxBlock);

  /** @param compiled false for the reference in plain TypeScript */
  constructor(compiled = true) {
    this.kernels = compiled ? getKernels() : undefined;
    this.memory = this.kernels && {
      samples: this.kernels.allocate(4 * maxBlock),
      values: this.kernels.allocate(8 * maxBlock),
      state: this.kernels.allocate(16),
    };
  }

  reset(): void {
    this.reduction = this.deepest = 0;
  }

  /** Magnitudes after `measure`, gains after `press`; `maxBlock` of them. Stale after the next call of anything that allocates in the kernels. */
  get values(): Float64Array {
    if (this.kernels && this.memory) {
      const all = this.kernels.doubles();
      const from = this.memory.values.at / 8;
      if (this.view.buffer !== all.buffer) this.view = all.subarray(from, from + maxBlock);
    }
    return this.view;
  }

  /** Magnitudes of the loudest of the channels. */
  measure(channels: readonly Float32Array[], frames: Frames): void {
    const { kernels, memory } = this;
    if (!kernels || !memory) {
      const { values } = this;
      for (let i = 0; i < frames; i++) {
        let level = 0;
        for (let c = 0; c < channels.length; c++) {
          const magnitude = Math.abs(channels[c]![i]!);
          if (magnitude > level) level = magnitude;
        }
        values[i] = level;
      }
      return;
    }
    for (let c = 0; c < channels.length; c++) {
      const samples = channels[c]!;
      kernels.samples().set(samples.length === frames ? samples : samples.subarray(0, frames), memory.samples.at / 4);
      kernels.magnitudes(memory.samples.at, memory.values.at, frames, c === 0);
    }
  }

  /** Turns magnitudes into gains. */
  press(frames: Frames, press: Press): void {
    const { kernels, memory } = this;
    if (!kernels || !memory) {
      this.pressPlainly(frames, press);
      return;
    }
    const { threshold, slope, knee, attack, release, lift } = press;
    const state = memory.state.at / 8;
    const doubles = kernels.doubles();
    doubles[state] = this.reduction;
    kernels.pressGains(
      memory.values.at,
      frames,
      threshold,
      slope,
      knee / 2,
      knee > 0 ? 1 / (2 * knee) : 0,
      attack,
      release,
      lift,
      memory.state.at,
    );
    this.reduction = doubles[state]!;
    this.deepest = doubles[state + 1]!;
  }

  private pressPlainly(frames: Frames, { threshold, slope, knee, attack, release, lift }: Press): void {
    const { values } = this;
    let now = this.reduction;
    let deepest = 0;
    for (let i = 0; i < frames; i++) {
      const wanted = pressOf(levelOf(values[i]!), threshold, slope, knee);
      const keeps = wanted > now ? attack : release;
      now = keeps * now + (1 - keeps) * wanted;
      if (now > deepest) deepest = now;
      values[i] = Math.exp((lift - now) / decibelsPerNeper);
    }
    // A millionth of a decibel is none.
    this.reduction = Math.abs(now) < 1e-6 ? 0 : now;
    this.deepest = deepest;
  }
}
