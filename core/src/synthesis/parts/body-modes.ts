import type { Random } from '../../dsp/random';
import type { CurveParameter } from '../../project/parameters';
import { readCurve } from '../../project/parameters';
import type { Decibels, Ratio, Seconds, Semitones, Unit } from '../../units';
import { decibelsToGain, semitonesToRatio } from '../../units';

export const bodyShapes = ['string', 'bar', 'plate', 'membrane', 'bell', 'tube', 'glass', 'ice'] as const;
export type BodyShape = (typeof bodyShapes)[number];

/** A body whose modes are its own rather than those of an ideal one. */
export const takenBody = 'of its own';
/** How many modes that has at most, and how many numbers tell of each: semitones above the lowest one, level in dB, decay relative to the lowest one. */
export const mostTaken = 32;
const perMode = 3;

export const takenModes: CurveParameter = {
  kind: 'curve',
  label: 'Modes',
  measured: true,
  unit: '',
  points: perMode * mostTaken,
  min: -96,
  max: 120,
  default: '',
};

/** The most modes that a body has. */
export const mostModes = 48;

/** One way in which a body swings: its frequency relative to the lowest one, and how strongly a strike at a place sets it off. */
export interface Mode {
  readonly ratio: Ratio;
  /** How long it rings, relative to the lowest one; where it is missing, as the damping says. */
  readonly ring?: Ratio;
  reach(place: Unit): number;
}

/** How long a mode rings (a fall by 60 dB) in a body whose lowest one rings so long: by its own share, or the shorter the higher it is. */
export function modeDecay({ ratio, ring: share }: Mode, ring: Seconds, damping: number): Seconds {
  return share === undefined ? ring / Math.pow(ratio, damping) : ring * share;
}

/** How strongly a push at a place sets a mode off. */
export function modeGain({ ratio, ring, reach }: Mode, place: Unit): Ratio {
  return ring === undefined ? reach(place) / Math.sqrt(ratio) : reach(place);
}

/** A mode as it is kept in a patch. */
export interface TakenMode {
  readonly interval: Semitones;
  readonly level: Decibels;
  readonly ring: Ratio;
}

/** The modes of a body as the text of its parameter. Those beyond `mostTaken` are left out. */
export function writeModes(modes: readonly TakenMode[]): string {
  return modes
    .slice(0, mostTaken)
    .flatMap(({ interval, level, ring }) => [interval.toFixed(3), level.toFixed(1), ring.toFixed(3)])
    .join(' ');
}

/** The modes of a text; where there are none, a single one. */
export function readModes(text: string): readonly Mode[] {
  const numbers = readCurve(takenModes, text) ?? [];
  const modes: Mode[] = [];
  for (let m = 0; m + perMode <= numbers.length; m += perMode) {
    const [interval, level, ring] = [numbers[m]!, numbers[m + 1]!, numbers[m + 2]!];
    const gain = decibelsToGain(level);
    // What is left of the room for modes is zeros.
    if (ring > 0) modes.push({ ratio: semitonesToRatio(interval), ring, reach: () => gain });
  }
  return modes.length > 0 ? modes : [{ ratio: 1, ring: 1, reach: () => 1 }];
}

/** Zeros of the Bessel functions J0 to J5: the modes of a membrane, order by order. */
const besselZeros: readonly (readonly number[])[] = [
  [2.404_83, 5.520_08, 8.653_73, 11.791_53, 14.930_92, 18.071_06],
  [3.831_71, 7.015_59, 10.173_47, 13.323_69, 16.470_63, 19.615_86],
  [5.135_62, 8.417_24, 11.619_84, 14.795_95, 17.959_82, 21.117],
  [6.380_16, 9.761_02, 13.015_2, 16.223_47, 19.409_42, 22.582_73],
  [7.588_34, 11.064_71, 14.372_54, 17.615_97, 20.826_93, 24.019_02],
  [8.771_48, 12.338_6, 15.700_17, 18.980_13, 22.217_8, 25.430_34],
];

/** Partials of a minor-third church bell, as they are commonly named: hum, prime, tierce, quint, nominal and those above. */
const bellRatios = [1, 2, 2.4, 3, 4, 5.02, 5.34, 6.06, 6.66, 8.05, 10.14, 10.68, 12.24, 14.57, 17.11, 19.84, 22.75, 25.84];

const wave =
  (n: number) =>
  (place: Unit): number =>
    Math.abs(Math.sin(n * Math.PI * (0.02 + 0.48 * place)));

/**
 * The modes of an ideal body, lowest first. Ratios: strings with stiffness, free bars, simply supported plates, membranes and shells as in Fletcher &
 * Rossing, The Physics of Musical Instruments (1998), ch. 2, 3, 5 and 21; ice is a plate much wider than thick.
 */
export function bodyModes(shape: BodyShape): readonly Mode[] {
  const line = (ratio: (n: number) => number): Mode[] =>
    Array.from({ length: mostModes }, (_, i) => ({ ratio: ratio(i + 1) / ratio(1), reach: wave(i + 1) }));
  switch (shape) {
    case 'string':
      return line((n) => n * Math.sqrt(1 + 0.000_4 * n * n));
    case 'bar':
      // Roots of cos β · cosh β = 1, which beyond the third are odd multiples of π/2.
      return line((n) => ([4.730_041, 7.853_205, 10.995_608][n - 1] ?? ((2 * n + 1) * Math.PI) / 2) ** 2);
    case 'tube':
      return line((n) => 2 * n - 1);
    case 'glass':
      return line((n) => ((n + 1) * ((n + 1) ** 2 - 1)) / Math.sqrt((n + 1) ** 2 + 1));
    case 'bell':
      return bellRatios.map((ratio, i) => ({ ratio, reach: wave(i + 1) }));
    case 'plate':
      return surface((m, n) => m * m + (n * n) / 1.44);
    case 'ice':
      // Thickness slows its short waves: they rise with the frequency alone, no longer with its square.
      return surface((m, n) => {
        const wavenumbers = m * m + (n * n) / 2.89;
        return wavenumbers / Math.sqrt(1 + 0.004 * wavenumbers);
      });
    case 'membrane': {
      const modes = besselZeros.flatMap((zeros, order) =>
        zeros.map((zero, i) => ({
          ratio: zero / besselZeros[0]![0]!,
          reach: (place: Unit) => wave(i + 1)(1 - place) * (order === 0 ? 1 : Math.pow(place, order / 2)),
        })),
      );
      return modes.sort((a, b) => a.ratio - b.ratio).slice(0, mostModes);
    }
  }
}

function surface(frequency: (m: number, n: number) => number): Mode[] {
  const modes: Mode[] = [];
  const lowest = frequency(1, 1);
  for (let m = 1; m <= 12; m++)
    for (let n = 1; n <= 12; n++)
      modes.push({ ratio: frequency(m, n) / lowest, reach: (place) => wave(m)(place) * wave(n)(0.35 + 0.6 * place) });
  return modes.sort((a, b) => a.ratio - b.ratio).slice(0, mostModes);
}

/** By how much each mode is off, -1 to 1: no two bodies are quite alike. */
export function modeChances(random: Random, into: Float64Array): void {
  for (let i = 0; i < into.length; i++) into[i] = 2 * random.next() - 1;
}
