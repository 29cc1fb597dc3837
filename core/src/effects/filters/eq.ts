import type { AnaloguePrototype } from '../../dsp/filters/analogue';
import { analoguePower, bandPass, bell, cut, highShelf, lowShelf, notch, tilt } from '../../dsp/filters/analogue';
import { Glide } from '../../dsp/glide';
import { matchSections } from '../../dsp/filters/matched-section';
import { SectionCascade } from '../../dsp/filters/section-cascade';
import { passThrough } from '../../dsp/filters/state-variable';
import type { Parameter, ParameterValues } from '../../project/parameters';
import { choice, decibels, factor, hertz, share, toggle } from '../../project/parameters';
import type { Decibels, Frames, Hertz, Ratio } from '../../units';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';

export const eqBandCount = 16;
export const eqBandKinds = ['bell', 'low shelf', 'high shelf', 'low cut', 'high cut', 'band', 'notch', 'tilt'] as const;
export type EqBandKind = (typeof eqBandKinds)[number];
export const eqSlopes = ['6', '12', '18', '24', '30', '36', '42', '48'] as const;

/** One band of the EQ as its parameters say. */
export interface EqBand {
  readonly on: boolean;
  readonly kind: EqBandKind;
  readonly frequency: Hertz;
  readonly gain: Decibels;
  readonly q: Ratio;
  /** Slope of a cut in dB per octave. */
  readonly slope: number;
}

const startingBands: readonly { kind: EqBandKind; frequency: Hertz }[] = [
  { kind: 'low cut', frequency: 30 },
  { kind: 'low shelf', frequency: 100 },
  { kind: 'bell', frequency: 250 },
  { kind: 'bell', frequency: 800 },
  { kind: 'bell', frequency: 2_400 },
  { kind: 'bell', frequency: 6_000 },
  { kind: 'high shelf', frequency: 10_000 },
  { kind: 'high cut', frequency: 18_000 },
  ...[60, 160, 400, 1_200, 1_800, 3_500, 8_000, 13_000].map((frequency) => ({ kind: 'bell' as const, frequency })),
];
/** Where the EQ works. */
const sides = ['both sides', 'the middle', 'the sides'] as const;

/** Beyond these, shelves overshoot and cuts ring more than anybody uses, and follow their analogue curves less closely. */
const steepestShelf: Ratio = 1.5;
const strongestResonance: Ratio = 8;
const mostQ: Ratio = 30;

const narrowest: Readonly<Record<string, Ratio>> = {
  'low shelf': steepestShelf,
  'high shelf': steepestShelf,
  'low cut': strongestResonance,
  'high cut': strongestResonance,
};

/** The largest Q that a kind of band has. */
export function eqNarrowest(kind: EqBandKind): Ratio {
  return narrowest[kind] ?? mostQ;
}

function bandParameters(): Record<string, Parameter> {
  const parameters: Record<string, Parameter> = {};
  startingBands.forEach(({ kind, frequency }, index) => {
    const band = index + 1;
    parameters[`band${band}On`] = toggle(`Band ${band} on`, false);
    parameters[`band${band}Kind`] = { ...choice(`Band ${band} kind`, eqBandKinds, kind), needs: `band${band}On` };
    parameters[`band${band}Frequency`] = {
      ...hertz({ label: `Band ${band} frequency`, min: 20, max: 20_000, default: frequency }),
      needs: `band${band}On`,
    };
    parameters[`band${band}Gain`] = { ...decibels({ label: `Band ${band} gain`, min: -24, max: 24, default: 0 }), needs: `band${band}On` };
    parameters[`band${band}Q`] = {
      ...factor({ label: `Band ${band} width (Q)`, min: 0.1, max: mostQ, default: 0.7071 }),
      upTo: { of: `band${band}Kind`, most: narrowest },
      needs: `band${band}On`,
    };
    parameters[`band${band}Slope`] = { ...choice(`Band ${band} slope`, eqSlopes, '12'), needs: `band${band}On` };
  });
  return parameters;
}

/** Names of the parameters of every band. */
const keys = Array.from({ length: eqBandCount }, (_, index) => ({
  on: `band${index + 1}On`,
  kind: `band${index + 1}Kind`,
  frequency: `band${index + 1}Frequency`,
  gain: `band${index + 1}Gain`,
  q: `band${index + 1}Q`,
  slope: `band${index + 1}Slope`,
}));

const isOn = (values: ParameterValues, index: number): boolean => values[keys[index]!.on] === true;

/** Reads band `index`, from 0 on, out of the EQ's values. */
export function readEqBand(values: ParameterValues, index: number): EqBand {
  const key = keys[index]!;
  const kind = values[key.kind];
  return {
    on: values[key.on] === true,
    kind: eqBandKinds.find((known) => known === kind) ?? 'bell',
    frequency: Number(values[key.frequency]),
    gain: Number(values[key.gain]),
    q: Number(values[key.q]),
    slope: Number(values[key.slope]),
  };
}

/** The analogue prototypes that a band stands for, with its gain scaled by `strength`. */
export function eqPrototypes(band: EqBand, strength: Ratio): AnaloguePrototype[] {
  const gain = band.gain * strength;
  // What older documents say beyond it counts as the end of the range.
  const q = Math.min(band.q, eqNarrowest(band.kind));
  switch (band.kind) {
    case 'bell':
      return [bell(band.frequency, gain, q)];
    case 'low shelf':
      return [lowShelf(band.frequency, gain, q)];
    case 'high shelf':
      return [highShelf(band.frequency, gain, q)];
    case 'low cut':
      return cut('low', band.frequency, band.slope, q);
    case 'high cut':
      return cut('high', band.frequency, band.slope, q);
    case 'band':
      return [bandPass(band.frequency, q)];
    case 'notch':
      return [notch(band.frequency, q)];
    case 'tilt':
      return [tilt(band.frequency, gain)];
  }
}

/** Where a band works: around its frequency, or on all to one side of it. */
export function eqBandRegion({ kind, frequency, q }: EqBand): { part: 'around' | 'below' | 'above'; frequency: Hertz; q: Ratio } {
  const part = kind.startsWith('low') ? 'below' : kind.startsWith('high') ? 'above' : 'around';
  return { part, frequency, q: kind === 'tilt' ? 0.5 : q };
}

/** Gain of the whole EQ at `frequency`, by the analogue formula: what the interface draws. */
export function eqResponse(values: ParameterValues, frequency: Hertz): Decibels {
  let power = 1;
  for (let index = 0; index < eqBandCount; index++) {
    const band = readEqBand(values, index);
    if (!band.on) continue;
    for (const prototype of eqPrototypes(band, Number(values['strength']))) power *= analoguePower(prototype, frequency);
  }
  return 10 * Math.log10(Math.max(power, 1e-20)) + Number(values['output']);
}

/** What the first two channels have in common, in the place of the first, and what they do not, in the place of the second. */
function toMiddleAndSides([left, right]: readonly Float32Array[], frames: Frames): void {
  for (let i = 0; i < frames; i++) {
    const l = left![i]!;
    const r = right![i]!;
    left![i] = (l + r) / 2;
    right![i] = (l - r) / 2;
  }
}

function toLeftAndRight([middle, sidesOnly]: readonly Float32Array[], frames: Frames): void {
  for (let i = 0; i < frames; i++) {
    const m = middle![i]!;
    const s = sidesOnly![i]!;
    middle![i] = m + s;
    sidesOnly![i] = m - s;
  }
}

interface Design {
  readonly band: EqBand;
  readonly strength: Ratio;
}

function sameBand(a: EqBand, b: EqBand): boolean {
  return a.kind === b.kind && a.frequency === b.frequency && a.gain === b.gain && a.q === b.q && a.slope === b.slope;
}

const sectionsPerBand = 5;
const glideFrames = 512;

/** Parametric EQ: up to sixteen bands, for both sides or for what they have in common or apart, each within 0.1 dB of its analogue prototype up to 18 kHz (see `matchSections`). */
export const eq = defineEffect({
  id: 'eq',
  label: 'EQ',
  family: 'EQ and filters',
  channels: 'each',
  purpose: 'Removes what another layer already covers, tames a piercing tone, adds what is missing.',
  parameters: {
    ...bandParameters(),
    works: { ...choice('Works on', sides, 'both sides'), builds: true },
    strength: share({ label: 'Strength', max: 1.5, default: 1 }),
    output: decibels({ label: 'Output', min: -24, max: 24, default: 0 }),
  },
  presets: [
    { name: 'Clear of rumble', values: { band1On: true, band1Frequency: 45, band1Slope: '24' } },
    { name: 'Room for dialogue', values: { band5On: true, band5Frequency: 2_500, band5Gain: -5, band5Q: 0.8 } },
    {
      name: 'Bite and weight',
      values: { band2On: true, band2Frequency: 90, band2Gain: 4, band6On: true, band6Frequency: 4_200, band6Gain: 4, band6Q: 0.9 },
    },
    {
      name: 'Telephone band',
      values: { band1On: true, band1Frequency: 320, band1Slope: '24', band8On: true, band8Frequency: 3_300, band8Slope: '24' },
    },
  ],
  latency: () => 0,
  tail: (values, sampleRate) => {
    // A resonance falls by 60 dB in about 2.2 · Q / f seconds.
    let longest = 0;
    for (let index = 0; index < eqBandCount; index++) {
      if (!isOn(values, index)) continue;
      const band = readEqBand(values, index);
      longest = Math.max(longest, (2.2 * Math.max(1, band.q)) / band.frequency);
    }
    return Math.ceil(longest * sampleRate);
  },
  create: ({ sampleRate, channels, values: { works } }) => {
    const apart = works !== 'both sides' && channels >= 2;
    /** What the sections of each band were designed for; unchanged bands cost nothing. */
    const designs: (Design | 'off' | undefined)[] = new Array<undefined>(eqBandCount).fill(undefined);
    /** Sections of each band that were used by its latest design; at first all are set. */
    const worked = new Uint8Array(eqBandCount).fill(sectionsPerBand);
    const cascades = Array.from({ length: channels }, () => new SectionCascade(eqBandCount * sectionsPerBand, glideFrames));
    const output = new Glide(glideFrames);
    let last: ParameterValues | undefined;
    const redesign = (values: ParameterValues): void => {
      const strength = Number(values['strength']);
      for (let index = 0; index < eqBandCount; index++) {
        const before = designs[index];
        // Most bands are off most of the time, and nothing of them is read then.
        if (!isOn(values, index)) {
          if (before === 'off') continue;
          designs[index] = 'off';
        } else {
          const band = readEqBand(values, index);
          if (before !== 'off' && before?.strength === strength && sameBand(before.band, band)) continue;
          designs[index] = { band, strength };
        }
        const design = designs[index];
        const sections = design && design !== 'off' ? matchSections(eqPrototypes(design.band, strength), sampleRate) : [];
        // Those behind the last one that works, now or before, go on changing nothing.
        const working = Math.max(sections.length, worked[index]!);
        worked[index] = sections.length;
        for (const cascade of cascades)
          for (let i = 0; i < working; i++) cascade.aim(index * sectionsPerBand + i, sections[i] ?? passThrough);
      }
    };
    return {
      reset: () => {
        last = undefined;
        output.reset();
        designs.fill(undefined);
        worked.fill(sectionsPerBand);
        for (const cascade of cascades) cascade.reset();
      },
      process(block, values) {
        if (values !== last) {
          redesign(values);
          output.aim(decibelsToGain(Number(values.output)));
          last = values;
        }
        if (apart) {
          toMiddleAndSides(block.channels, block.frames);
          const side = works === 'the middle' ? 0 : 1;
          cascades[side]!.process(block.channels[side]!, block.frames);
          toLeftAndRight(block.channels, block.frames);
        } else for (let c = 0; c < channels; c++) cascades[c]!.process(block.channels[c]!, block.frames);
        if (output.moving) {
          for (let i = 0; i < block.frames; i++) {
            const gain = output.next();
            for (let c = 0; c < channels; c++) block.channels[c]![i]! *= gain;
          }
        } else if (output.current !== 1) {
          const gain = output.current;
          for (let c = 0; c < channels; c++) {
            const channel = block.channels[c]!;
            for (let i = 0; i < block.frames; i++) channel[i]! *= gain;
          }
        }
      },
    };
  },
});
