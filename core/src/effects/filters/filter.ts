import { glides } from '../../dsp/glide';
import { OnePole, StateVariableFilter, smoothing } from '../../dsp/filters/simple-filters';
import { choice, factor, hertz, seconds } from '../../project/parameters';
import { defineEffect } from '../effect';

const kinds = ['low pass', 'high pass', 'band pass', 'notch'] as const;
const mostSections = 4;
const glideFrames = 512;
/** Frames between two retunings while the frequency moves; short enough that the steps stay below hearing. */
const retuneEvery = 8;

/**
 * A resonant filter of 12 to 48 dB per octave in topology-preserving state-variable form (Zavalishin 2012). `lag` smooths every move
 * of its frequency, in octaves.
 */
export const filter = defineEffect({
  id: 'filter',
  label: 'Filter',
  family: 'EQ and filters',
  channels: 'each',
  purpose: 'Cuts everything above, below or around a frequency, with a resonance that can be swept.',
  parameters: {
    kind: choice('Kind', kinds, 'low pass'),
    frequency: hertz({ label: 'Frequency', min: 20, max: 20_000, default: 1_200 }),
    resonance: factor({ label: 'Resonance (Q)', min: 0.5, max: 30, default: 1 }),
    slope: choice('Slope', ['12', '24', '36', '48'], '24'),
    lag: { ...seconds({ label: 'Lag', min: 0, max: 2, default: 0.02 }), scale: 'linear' },
  },
  presets: [
    { name: 'Through a wall', values: { frequency: 420, slope: '24', resonance: 0.7 } },
    { name: 'Whistling sweep', values: { kind: 'band pass', frequency: 1_800, resonance: 12, lag: 0.3 } },
    { name: 'Without weight', values: { kind: 'high pass', frequency: 260, slope: '24', resonance: 0.7 } },
  ],
  latency: () => 0,
  tail: ({ resonance, frequency }, sampleRate) => Math.ceil(((2.2 * Math.max(1, resonance)) / frequency) * sampleRate * mostSections),
  create: ({ sampleRate, channels }) => {
    const filters = Array.from({ length: channels }, () => Array.from({ length: mostSections }, () => new StateVariableFilter()));
    const smoother = new OnePole();
    // How much of each of a section's outputs is taken, and how many sections there are: parts of one while they change.
    const taken = glides(glideFrames, 'low', 'high', 'band', 'sections');
    let running = 0;
    let octave = NaN;
    let tuned = NaN;
    let resonanceNow = NaN;
    let countdown = 0;
    const tune = (resonance: number): void => {
      tuned = octave;
      resonanceNow = resonance;
      const frequency = 2 ** octave;
      // Only the first section resonates; the others only steepen.
      for (const cascade of filters)
        cascade.forEach((section, i) => section.tune(frequency, i === 0 ? resonance : Math.SQRT1_2, sampleRate));
    };
    return {
      reset: () => {
        octave = tuned = NaN;
        countdown = 0;
        running = 0;
        for (const glide of Object.values(taken)) glide.reset();
        smoother.reset();
        for (const cascade of filters) for (const section of cascade) section.reset();
      },
      process(block, { kind, frequency, resonance, slope, lag }) {
        const target = Math.log2(frequency);
        if (Number.isNaN(octave)) octave = target;
        const keep = smoothing(Math.max(0.003, lag), sampleRate);
        taken.low.aim(kind === 'low pass' || kind === 'notch' ? 1 : 0);
        taken.high.aim(kind === 'high pass' || kind === 'notch' ? 1 : 0);
        taken.band.aim(kind === 'band pass' ? 1 : 0);
        taken.sections.aim(Number(slope) / 12);
        for (let i = 0; i < block.frames; i++) {
          octave = Math.abs(octave - target) < 1e-5 ? target : target + (octave - target) * keep;
          if (countdown-- <= 0) {
            countdown = retuneEvery - 1;
            if (octave !== tuned || resonance !== resonanceNow) tune(resonance);
          }
          const low = taken.low.next();
          const high = taken.high.next();
          const band = taken.band.next();
          const reach = taken.sections.next();
          const sections = Math.ceil(reach);
          // Sections that have rested begin anew.
          for (; running < sections; running++) for (let c = 0; c < channels; c++) filters[c]![running]!.reset();
          running = sections;
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            let x = samples[i]!;
            for (let s = 0; s < sections; s++) {
              const section = filters[c]![s]!;
              section.next(x);
              const passed = low * section.low + high * section.high + band * section.peak;
              x = s + 1 <= reach ? passed : x + (passed - x) * (reach - s);
            }
            samples[i] = x;
          }
        }
      },
    };
  },
});
