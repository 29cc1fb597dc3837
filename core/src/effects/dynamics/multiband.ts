import type { Block } from '../../dsp/block';
import { maxBlock } from '../../dsp/block';
import { Crossover } from '../../dsp/filters/crossover';
import { Glide } from '../../dsp/glide';
import type { NumberParameter, ParameterSet, ParameterValues } from '../../project/parameters';
import { choice, decibels, factor, hertz, seconds, share, toggle } from '../../project/parameters';
import type { Decibels, Hertz } from '../../units';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';
import { curveAlong, linearAxis } from '../effect-picture';
import type { BandDynamics } from './band-gain';
import { BandGain, multibandGain, noDynamics } from './band-gain';

const glideFrames = 512;
const counts = ['2', '3', '4', '5', '6'];

/** The lowest and the highest band are always there, and stay what they are where others come and go between them. */
const allBands = [
  { key: 'low', label: 'Low', from: 2 },
  { key: 'middle', label: 'Middle', from: 3 },
  { key: 'middle2', label: 'Middle 2', from: 4 },
  { key: 'middle3', label: 'Middle 3', from: 5 },
  { key: 'middle4', label: 'Middle 4', from: 6 },
  { key: 'high', label: 'High', from: 2 },
] as const;
type Band = (typeof allBands)[number];

/** The bands that there are, from the lowest to the highest. */
const bandsOf = (count: number): readonly Band[] => allBands.filter(({ from }) => from <= count);
/** What is there from so many bands on. */
const from = (least: number) => ({ needs: { of: 'bands', values: counts.filter((count) => Number(count) >= least) } });

/** Once for all bands, and once more for each that goes by itself. */
const dynamics = {
  above: decibels({ label: 'Press above', min: -60, max: 0, default: -24 }),
  downRatio: factor({ label: 'Press ratio', unit: ':1', min: 1, max: 40, default: 4 }),
  below: decibels({ label: 'Lift below', min: -72, max: 0, default: -36 }),
  upRatio: factor({ label: 'Lift ratio', unit: ':1', min: 1, max: 20, default: 2 }),
  most: decibels({ label: 'Lift at most', min: 0, max: 36, default: 15 }),
  knee: decibels({ label: 'Knee', min: 0, max: 36, default: 0 }),
  attack: seconds({ label: 'Attack', min: 0.001, max: 0.5, default: 0.012 }),
  release: seconds({ label: 'Release', min: 0.01, max: 4, default: 0.15 }),
} as const satisfies Record<keyof BandDynamics, NumberParameter>;
const dynamicsKeys = ['above', 'downRatio', 'below', 'upRatio', 'most', 'knee', 'attack', 'release'] as const;

/** The parameter of one band: `lowAbove`. */
const ownKey = (band: Band, key: string): string => band.key + key.charAt(0).toUpperCase() + key.slice(1);
const ownSwitch = (band: Band): string => ownKey(band, 'own');
/** Composed once: values are read in every block. */
const ownKeys = new Map(allBands.map((band) => [band, { own: ownSwitch(band), each: dynamicsKeys.map((key) => ownKey(band, key)) }]));

/** The level of each band, and what it has where it goes by itself. */
function parametersOfBands(): ParameterSet {
  const entries = allBands.flatMap((band) => [
    [band.key, { ...decibels({ label: band.label, min: -24, max: 24, default: 0 }), ...from(band.from) }] as const,
    [ownSwitch(band), { ...toggle(`${band.label} by itself`, false), ...from(band.from) }] as const,
    ...dynamicsKeys.map((key) => {
      const label = `${band.label}: ${dynamics[key].label.toLowerCase()}`;
      return [ownKey(band, key), { ...dynamics[key], label, needs: ownSwitch(band) }] as const;
    }),
  ]);
  return Object.fromEntries(entries);
}

/** Reads what holds for a band among the values of all. */
function readDynamics(values: ParameterValues, band: Band, into: BandDynamics = noDynamics()): BandDynamics {
  const keys = ownKeys.get(band)!;
  const own = values[keys.own] === true;
  for (let k = 0; k < dynamicsKeys.length; k++) {
    const key = dynamicsKeys[k]!;
    into[key] = Number(values[own ? keys.each[k]! : key]);
  }
  return into;
}

/** Reads the frequencies between the bands, from the lowest to the highest. */
function readSplits(values: ParameterValues, into: Hertz[]): void {
  const last = into.length - 1;
  into[0] = Number(values['split1']);
  for (let middle = 1; middle < last; middle++) into[middle] = Number(values[middleSplits[middle - 1]!]);
  if (last > 0) into[last] = Number(values['split2']);
}
const middleSplits = ['middleSplit1', 'middleSplit2', 'middleSplit3'] as const;

/** Tilting up lowers the thresholds of the top and raises those of the bottom, in even steps from band to band, so that the top is lifted more. */
const judgedLouder = (tilt: Decibels, band: number, count: number): Decibels => tilt * (1 - (2 * band) / (count - 1));

/**
 * Compressor of two to six bands that works downward and upward at once (gain computer after Giannoulis et al. 2012, RMS detectors, bands by
 * Linkwitz–Riley filters). All bands share their settings, but those that go by themselves. The tilt moves the thresholds of low and high bands
 * against each other, and with them what comes forward.
 */
export const multiband = defineEffect({
  id: 'multiband',
  label: 'Multiband compressor',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Presses loud parts and lifts quiet ones in two to six bands at once: dense, even, all detail forward.',
  parameters: {
    amount: share({ label: 'Amount', default: 0.6 }),
    bands: { ...choice('Bands', counts, '3'), builds: true },
    ...dynamics,
    tilt: decibels({ label: 'Tilt to the top', min: -18, max: 18, default: 0 }),
    output: decibels({ label: 'Output', min: -36, max: 24, default: 0 }),
    split1: hertz({ label: 'Low split', min: 40, max: 1_000, default: 150 }),
    middleSplit1: { ...hertz({ label: 'Middle split', min: 100, max: 8_000, default: 600 }), ...from(4) },
    middleSplit2: { ...hertz({ label: 'Middle split 2', min: 150, max: 12_000, default: 1_200 }), ...from(5) },
    middleSplit3: { ...hertz({ label: 'Middle split 3', min: 200, max: 14_000, default: 2_000 }), ...from(6) },
    split2: { ...hertz({ label: 'High split', min: 600, max: 16_000, default: 2_800 }), ...from(3) },
    ...parametersOfBands(),
  },
  presets: [
    { name: 'Everything forward', values: { amount: 1, above: -30, downRatio: 8, below: -30, upRatio: 4, most: 24, release: 0.08 } },
    { name: 'Hold the bottom still', values: { amount: 0.8, above: -26, downRatio: 10, below: -72, upRatio: 1, tilt: -6 } },
    { name: 'Detail in the tail', values: { amount: 0.7, above: 0, downRatio: 1, below: -34, upRatio: 3, most: 20, release: 0.4 } },
    {
      name: 'Bite held, air lifted',
      values: {
        amount: 1,
        bands: '4',
        above: 0,
        downRatio: 1,
        below: -72,
        upRatio: 1,
        middle2Own: true,
        middle2Above: -30,
        middle2DownRatio: 6,
        middle2Knee: 9,
        middle2Attack: 0.004,
        middle2Release: 0.08,
        highOwn: true,
        highAbove: 0,
        highBelow: -38,
        highUpRatio: 3,
        highMost: 12,
      },
    },
  ],
  picture: (values) => {
    const count = Number(values.bands);
    const x = linearAxis('dB', -72, 0);
    const settings = bandsOf(count).map((band) => readDynamics(values, band));
    const out = (band: number) => (level: Decibels) =>
      level + Number(values.amount) * multibandGain(level + judgedLouder(Number(values.tilt), band, count), settings[band]!);
    return {
      title: 'Level of what comes out for what goes in: the highest band, and those below',
      x,
      y: linearAxis('dB', -72, 0),
      curves: [
        curveAlong(x, 1, 'before', (level) => level),
        ...settings.slice(0, -1).map((_, band) => curveAlong(x, 144, 'other side', out(band))),
        curveAlong(x, 144, 'main', out(count - 1)),
      ],
    };
  },
  latency: () => 0,
  tail: (values, sampleRate) => {
    const slowest = Math.max(...bandsOf(Number(values.bands)).map((band) => readDynamics(values, band).release));
    return Math.ceil((3 / Number(values.split1) + slowest) * sampleRate);
  },
  create: ({ sampleRate, channels, values: { bands } }) => {
    const here = bandsOf(Number(bands));
    const crossover = new Crossover(here.length, channels, sampleRate);
    const block = (): Block => ({ channels: Array.from({ length: channels }, () => new Float32Array(maxBlock)), frames: 0 });
    const parts = here.map(block);
    const dry = block();
    const gains = here.map(() => new BandGain(sampleRate));
    const splits = here.slice(1).map(() => 0);
    const amount = new Glide(glideFrames);
    const output = new Glide(glideFrames);
    const amounts = new Float64Array(maxBlock);
    const outputs = new Float64Array(maxBlock);
    let deepest = 0;
    return {
      dry,
      get gainReduction() {
        return -deepest;
      },
      reset: () => {
        deepest = 0;
        for (const part of [crossover, amount, output, ...gains]) part.reset();
      },
      process({ channels: samples, frames }, values: ParameterValues) {
        readSplits(values, splits);
        crossover.process(splits, samples, parts, frames);
        amount.aim(Number(values['amount']));
        amount.fill(amounts, frames);
        output.aim(decibelsToGain(Number(values['output'])));
        output.fill(outputs, frames);
        dry.frames = frames;
        deepest = 0;
        for (let b = 0; b < here.length; b++) {
          const band = here[b]!;
          const gain = gains[b]!;
          const part = parts[b]!.channels;
          readDynamics(values, band, gain.dynamics);
          const tilt = judgedLouder(Number(values['tilt']), b, here.length);
          deepest = Math.max(deepest, gain.process(part, frames, Number(values[band.key]), tilt, amounts, outputs));
          for (let c = 0; c < channels; c++) addBand(part[c]!, gain.gains, dry.channels[c]!, samples[c]!, frames, b === 0);
        }
      },
    };
  },
});

/** Adds a band to the bare sum and, with its gains, to the sum; the first one takes the place of what was there. */
function addBand(part: Float32Array, gains: Float64Array, dry: Float32Array, wet: Float32Array, frames: number, first: boolean): void {
  if (first) {
    for (let i = 0; i < frames; i++) {
      dry[i] = part[i]!;
      wet[i] = part[i]! * gains[i]!;
    }
  } else {
    for (let i = 0; i < frames; i++) {
      dry[i]! += part[i]!;
      wet[i]! += part[i]! * gains[i]!;
    }
  }
}
