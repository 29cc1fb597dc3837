import { DelayLine } from '../../dsp/delay-line';
import { Glide } from '../../dsp/glide';
import type { Shaper } from '../../dsp/shaper';
import { Oversampler } from '../../dsp/oversampler';
import { Follower, OnePole } from '../../dsp/filters/simple-filters';
import { hertz, share } from '../../project/parameters';
import type { Ratio } from '../../units';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';

const glideFrames = 512;

/** Chebyshev polynomials T_2 … T_6 as coefficients of 1, x … x⁶. */
const chebyshev = [
  [-1, 0, 2, 0, 0, 0, 0],
  [0, -3, 0, 4, 0, 0, 0],
  [1, 0, -8, 0, 8, 0, 0],
  [0, 5, 0, -20, 0, 16, 0],
  [-1, 0, 18, 0, -48, 0, 32],
] as const;

/** A sum of Chebyshev polynomials: T_n(cos φ) = cos nφ, so a sine at full scale becomes exactly its n-th harmonic (Arfib 1979). */
class ChebyshevShaper implements Shaper {
  private readonly amounts = chebyshev.map(() => new Glide(glideFrames));
  /** The polynomials, weighed and added up. */
  private readonly sum = new Float64Array(7);

  reset(): void {
    for (const amount of this.amounts) amount.reset();
  }

  /** @param levels of the second to the last harmonic */
  aim(levels: readonly Ratio[]): void {
    for (let n = 0; n < chebyshev.length; n++) this.amounts[n]!.aim(levels[n]!);
    if (!this.moving) this.add();
  }

  private get moving(): boolean {
    for (let n = 0; n < this.amounts.length; n++) if (this.amounts[n]!.moving) return true;
    return false;
  }

  /** Goes on by one frame. */
  private add(): void {
    const { sum, amounts } = this;
    sum.fill(0);
    for (let n = 0; n < chebyshev.length; n++) {
      const amount = amounts[n]!.next();
      for (let power = 0; power < sum.length; power++) sum[power]! += amount * chebyshev[n]![power]!;
    }
  }

  shape(samples: Float32Array, from: number, count: number): void {
    let at = from;
    for (; at < from + count && this.moving; at += Oversampler.factor) {
      this.add();
      this.run(samples, at, at + Oversampler.factor);
    }
    this.run(samples, at, from + count);
  }

  private run(samples: Float32Array, from: number, to: number): void {
    const { sum } = this;
    const c0 = sum[0]!;
    const c1 = sum[1]!;
    const c2 = sum[2]!;
    const c3 = sum[3]!;
    const c4 = sum[4]!;
    const c5 = sum[5]!;
    const c6 = sum[6]!;
    for (let i = from; i < to; i++) {
      const sample = samples[i]!;
      const x = sample > 1 ? 1 : sample < -1 ? -1 : sample;
      samples[i] = c0 + x * (c1 + x * (c2 + x * (c3 + x * (c4 + x * (c5 + x * c6)))));
    }
  }
}

const lag = Oversampler.latency;

/** Adds chosen harmonics of what lies below `top`, at any level of the input: it is brought to full scale and back by its own envelope. */
export const harmonicBuilder = defineEffect({
  id: 'harmonic-builder',
  label: 'Harmonic builder',
  family: 'Drive',
  channels: 'each',
  purpose: 'Adds the second to sixth harmonic by choice, so that a low sound is heard on small speakers.',
  parameters: {
    second: share({ label: '2nd', default: 0.4 }),
    third: share({ label: '3rd', default: 0.2 }),
    fourth: share({ label: '4th', default: 0 }),
    fifth: share({ label: '5th', default: 0 }),
    sixth: share({ label: '6th', default: 0 }),
    top: hertz({ label: 'Of what lies below', min: 40, max: 4_000, default: 400 }),
  },
  presets: [
    { name: 'Heard on small speakers', values: { second: 0.6, third: 0.5, top: 140 } },
    { name: 'Hollow', values: { second: 0, third: 0.5, fifth: 0.3, top: 600 } },
    { name: 'Bright edge', values: { second: 0.2, third: 0.2, fourth: 0.3, fifth: 0.3, sixth: 0.3, top: 1_200 } },
  ],
  latency: () => lag,
  tail: (_, sampleRate) => 2 * lag + Math.ceil(0.25 * sampleRate),
  create: ({ sampleRate, channels }) => {
    const parts = Array.from({ length: channels }, () => ({
      below: [new OnePole(), new OnePole()] as const,
      envelope: new Follower(),
      oversampler: new Oversampler(),
      constant: new OnePole(),
      shaper: new ChebyshevShaper(),
      built: new Float32Array(maxBlock),
      levels: new Float32Array(maxBlock),
    }));
    for (const { envelope, constant } of parts) {
      envelope.tune(0.001, 0.05, sampleRate);
      constant.tune(12, sampleRate);
    }
    /** What the harmonics are added to, as late as they are; and the level that they are brought back to. */
    const dry = new DelayLine(lag, channels);
    const back = new DelayLine(lag, channels);
    const backBlock = { channels: parts.map(({ levels }) => levels), frames: 0 };
    return {
      reset: () => {
        dry.reset();
        back.reset();
        for (const { below, envelope, oversampler, constant, shaper } of parts)
          for (const part of [...below, envelope, oversampler, constant, shaper]) part.reset();
      },
      process(block, { second, third, fourth, fifth, sixth, top }) {
        const wanted = [second, third, fourth, fifth, sixth];
        for (let c = 0; c < channels; c++) {
          const samples = block.channels[c]!;
          const { below, envelope, oversampler, shaper, built, levels } = parts[c]!;
          shaper.aim(wanted);
          for (const filter of below) filter.tune(top, sampleRate);
          for (let i = 0; i < block.frames; i++) {
            const low = below[1].low(below[0].low(samples[i]!));
            const level = envelope.next(low);
            levels[i] = level;
            built[i] = level > 1e-7 ? low / level : 0;
          }
          oversampler.process(built, block.frames, shaper);
        }
        dry.process(block);
        backBlock.frames = block.frames;
        back.process(backBlock);
        for (let c = 0; c < channels; c++) {
          const samples = block.channels[c]!;
          const { constant, built, levels } = parts[c]!;
          for (let i = 0; i < block.frames; i++) samples[i]! += constant.high(built[i]! * levels[i]!);
        }
      },
    };
  },
});
