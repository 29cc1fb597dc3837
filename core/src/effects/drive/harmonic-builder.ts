import { Glide } from '../../dsp/glide';
import type { SampleShaper } from '../../dsp/oversampler';
import { Oversampler } from '../../dsp/oversampler';
import { Follower, OnePole } from '../../dsp/simple-filters';
import { hertz, share } from '../../project/parameters';
import { defineEffect } from '../effect';

const glideFrames = 512;
const harmonics = [2, 3, 4, 5, 6] as const;

/** A sum of Chebyshev polynomials: T_n(cos φ) = cos nφ, so a sine at full scale becomes exactly its n-th harmonic (Arfib 1979). */
class ChebyshevShaper implements SampleShaper {
  readonly levels = new Float64Array(harmonics.length);

  next(sample: number): number {
    const x = sample > 1 ? 1 : sample < -1 ? -1 : sample;
    let before = 1;
    let now = x;
    let sum = 0;
    for (let n = 0; n < harmonics.length; n++) {
      const next = 2 * x * now - before;
      before = now;
      now = next;
      sum += now * this.levels[n]!;
    }
    return sum;
  }
}

const lag = Oversampler.latency;

/** Adds chosen harmonics of what lies below `top`, at any level of the input: it is brought to full scale and back by its own envelope. */
export const harmonicBuilder = defineEffect({
  id: 'harmonic-builder',
  label: 'Harmonic builder',
  family: 'Drive',
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
      dry: new Float64Array(lag),
      levels: new Float64Array(lag),
    }));
    for (const { envelope, constant } of parts) {
      envelope.tune(0.001, 0.05, sampleRate);
      constant.tune(12, sampleRate);
    }
    const shaper = new ChebyshevShaper();
    const amounts = harmonics.map(() => new Glide(glideFrames));
    let at = 0;
    return {
      reset: () => {
        at = 0;
        for (const amount of amounts) amount.reset();
        for (const { below, envelope, oversampler, constant, dry, levels } of parts) {
          for (const part of [...below, envelope, oversampler, constant]) part.reset();
          dry.fill(0);
          levels.fill(0);
        }
      },
      process(block, { second, third, fourth, fifth, sixth, top }) {
        amounts[0]!.aim(second);
        amounts[1]!.aim(third);
        amounts[2]!.aim(fourth);
        amounts[3]!.aim(fifth);
        amounts[4]!.aim(sixth);
        for (const { below } of parts) for (const filter of below) filter.tune(top, sampleRate);
        for (let i = 0; i < block.frames; i++) {
          for (let n = 0; n < amounts.length; n++) shaper.levels[n] = amounts[n]!.next();
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const { below, envelope, oversampler, constant, dry, levels } = parts[c]!;
            const sample = samples[i]!;
            const low = below[1].low(below[0].low(sample));
            const level = envelope.next(low);
            const built = oversampler.next(level > 1e-7 ? low / level : 0, shaper);
            samples[i] = dry[at]! + constant.high(built * levels[at]!);
            dry[at] = sample;
            levels[at] = level;
          }
          if (++at === lag) at = 0;
        }
      },
    };
  },
});
