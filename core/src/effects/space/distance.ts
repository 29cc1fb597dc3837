import { Glide } from '../../dsp/glide';
import { CutoffGlide, OnePole } from '../../dsp/filters/simple-filters';
import { factor, share } from '../../project/parameters';
import type { NumberParameter, ParameterValues } from '../../project/parameters';
import type { Decibels, Hertz } from '../../units';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 2_048;

const metres = (label: string, preset: number): NumberParameter => factor({ label, min: 1, max: 1_000, default: preset });

/**
 * Absorption of air in dB per metre at one atmosphere (ISO 9613-1:1993): classical absorption and the relaxation of oxygen and nitrogen.
 * @param temperature in degrees Celsius
 * @param humidity relative, 0 to 1
 */
export function airAbsorption(frequency: Hertz, temperature: number, humidity: number): Decibels {
  const kelvin = temperature + 273.15;
  const relative = kelvin / 293.15;
  const saturation = 10 ** (-6.8346 * (273.16 / kelvin) ** 1.261 + 4.6151);
  const water = humidity * 100 * saturation;
  const oxygen = 24 + 4.04e4 * water * ((0.02 + water) / (0.391 + water));
  const nitrogen = relative ** -0.5 * (9 + 280 * water * Math.exp(-4.17 * (relative ** (-1 / 3) - 1)));
  const f2 = frequency * frequency;
  return (
    8.686 *
    f2 *
    (1.84e-11 * Math.sqrt(relative) +
      relative ** -2.5 *
        ((0.01275 * Math.exp(-2239.1 / kelvin)) / (oxygen + f2 / oxygen) +
          (0.1068 * Math.exp(-3352 / kelvin)) / (nitrogen + f2 / nitrogen)))
  );
}

/** Frequency at which air takes away 3 dB over a distance, by bisection on a logarithmic scale. */
export function airCutoff(distance: number, temperature: number, humidity: number): Hertz {
  let low = 20;
  let high = 200_000;
  for (let round = 0; round < 40; round++) {
    const middle = Math.sqrt(low * high);
    if (airAbsorption(middle, temperature, humidity) * distance < 3.01) low = middle;
    else high = middle;
  }
  return low;
}

/**
 * What distance does to a sound outdoors: level falls by 6 dB for each doubling (from `near` on), and air takes away the top
 * (ISO 9613-1) with two first-order low-passes whose -3 dB point is where the standard has it.
 */
export const distance = defineEffect({
  id: 'distance',
  label: 'Distance',
  family: 'Time and space',
  channels: 'each',
  purpose: 'Moves a sound away: softer, duller and drier in the open air.',
  parameters: {
    distance: metres('Metres away', 40),
    near: metres('Recorded from', 1),
    level: share({ label: 'Level follows', default: 0.5 }),
    air: share({ label: 'Air', max: 4, default: 1 }),
    temperature: { ...factor({ label: 'Temperature (°C)', min: -30, max: 40, default: -8 }), scale: 'linear' },
    humidity: share({ label: 'Humidity', min: 0.1, default: 0.6 }),
  },
  presets: [
    { name: 'Across the yard', values: { distance: 15 } },
    { name: 'Over the ridge', values: { distance: 350, air: 1.5 } },
    { name: 'Far and dull', values: { distance: 900, air: 2, level: 0.3 } },
  ],
  latency: () => 0,
  tail: (_, sampleRate) => Math.ceil(0.02 * sampleRate),
  create: ({ sampleRate, channels }) => {
    const filters = Array.from({ length: channels }, () => [new OnePole(), new OnePole()] as const);
    const gain = new Glide(glideFrames);
    const cutoff = new CutoffGlide(glideFrames);
    let last: ParameterValues | undefined;
    let corner: Hertz = 20_000;
    return {
      reset: () => {
        last = undefined;
        gain.reset();
        cutoff.reset();
        for (const pair of filters) for (const filter of pair) filter.reset();
      },
      process(block, values) {
        const { distance: away, near, level, air, temperature, humidity } = values;
        if (values !== last) {
          last = values;
          // Two equal low-passes are 3 dB down together at 0.64 of their own corner.
          corner = airCutoff(Math.max(0.01, away * air), temperature, humidity) / Math.sqrt(Math.SQRT2 - 1);
        }
        gain.aim(decibelsToGain(-20 * Math.log10(Math.max(1, away / near)) * level));
        cutoff.aim(Math.min(0.45 * sampleRate, corner));
        for (let i = 0; i < block.frames; i++) {
          const factorNow = gain.next();
          const retuned = cutoff.next();
          if (retuned > 0) for (const pair of filters) for (const filter of pair) filter.tune(retuned, sampleRate);
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const pair = filters[c]!;
            samples[i] = pair[1].low(pair[0].low(samples[i]!)) * factorNow;
          }
        }
      },
    };
  },
});
