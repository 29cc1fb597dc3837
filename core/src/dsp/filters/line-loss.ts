import type { Decibels, Frames, Hertz, Ratio, Seconds } from '../../units';

/** Where the decay of low, middle and high is set and measured; from `high` on, up to the top, it is the same. */
export const decayBands = { low: 125, middle: 1_000, high: 4_000, top: 8_000 } as const;

/** What a delay line loses on each round: four second-order sections in series, six numbers each (see `writeShelf`). */
export type LineLoss = Float64Array;
export const lossSections = 4;
export const sectionNumbers = 6;
export const lossNumbers = lossSections * sectionNumbers;

/** Order of both shelves, and damping of their sections (Butterworth). */
const order = 4;
const dampings = [2 * Math.cos(Math.PI / 8), 2 * Math.cos((3 * Math.PI) / 8)];

/** A shelf: its gain at the end, and its corner, as a warped frequency. */
interface Shelf {
  readonly gain: Decibels;
  readonly corner: number;
}

const warped = (frequency: Hertz, sampleRate: Hertz): number => Math.tan((Math.PI * Math.min(frequency, 0.45 * sampleRate)) / sampleRate);

/** Level of a Butterworth shelf so far from its corner towards its end, as a ratio of frequencies. */
function shelfLevel(ratio: Ratio, gain: Decibels): Decibels {
  const power = ratio ** (2 * order);
  // The zeros lie so far behind the poles that the end is reached.
  return 10 * Math.log10((1 + power * 10 ** (gain / 10)) / (1 + power));
}

/**
 * The corner from which a shelf leaves the middle as it is and reaches its end in time: both are missed by the same part of what is lost there.
 * @param middle, end warped frequencies; `lost` and `gain` the level of a round in the middle, and that of the shelf
 */
function balancedCorner(middle: number, end: number, gain: Decibels, lost: Decibels): number {
  let [near, far] = [middle, end];
  for (let round = 0; round < 12; round++) {
    const corner = Math.sqrt(near * far);
    const towards = (frequency: number): Ratio => (end > middle ? frequency / corner : corner / frequency);
    const leaked = Math.abs(shelfLevel(towards(middle), gain) / lost);
    const missing = Math.abs((gain - shelfLevel(towards(end), gain)) / (lost + gain));
    if (leaked > missing) near = corner;
    else far = corner;
  }
  return Math.sqrt(near * far);
}

/**
 * What a delay line must lose per round so that low, middle and high each fall by 60 dB in their time (Jot & Chaigne 1991): a gain and two shelves of fourth
 * order (Butterworth), steep enough for decays that differ by a factor of ten within two octaves. What shelves still do in the middle is made up for by a few rounds of correction (after Schlecht & Habets,
 * "Accurate Reverberation Time Control in Feedback Delay Networks", 2017).
 */
export function lineLoss(length: Frames, times: readonly [low: Seconds, middle: Seconds, high: Seconds], sampleRate: Hertz): LineLoss {
  const wanted = times.map((time) => (-60 * length) / (time * sampleRate));
  const [low, middle, high] = [
    warped(decayBands.low, sampleRate),
    warped(decayBands.middle, sampleRate),
    warped(decayBands.high, sampleRate),
  ];
  let level = wanted[1]!;
  let lowShelf: Shelf = { gain: wanted[0]! - level, corner: Math.sqrt(low * middle) };
  let highShelf: Shelf = { gain: wanted[2]! - level, corner: Math.sqrt(middle * high) };
  for (let round = 0; round < 2; round++) {
    lowShelf = { gain: wanted[0]! - level, corner: balancedCorner(middle, low, wanted[0]! - level, level) };
    highShelf = { gain: wanted[2]! - level, corner: balancedCorner(middle, high, wanted[2]! - level, level) };
    const leaked = shelfLevel(lowShelf.corner / middle, lowShelf.gain) + shelfLevel(middle / highShelf.corner, highShelf.gain);
    // A gain above 1 would ring for ever where no shelf reaches.
    level = Math.min(wanted[1]! / 2, wanted[1]! - leaked);
  }
  const loss = new Float64Array(lossNumbers);
  for (const [n, damping] of dampings.entries()) {
    writeShelf(loss, n * sectionNumbers, lowShelf, damping, 'low');
    writeShelf(loss, (dampings.length + n) * sectionNumbers, highShelf, damping, 'high');
  }
  // The gain goes into what comes out of the last section.
  for (let n = 3; n < sectionNumbers; n++) loss[lossNumbers - sectionNumbers + n]! *= 10 ** (level / 20);
  return loss;
}

/** Level in dB that a round leaves at a frequency. */
export function lossLevel(loss: LineLoss, frequency: Hertz, sampleRate: Hertz): Decibels {
  let power = 1;
  for (let at = 0; at < lossNumbers; at += sectionNumbers) {
    const corner = loss[at + 1]! / loss[at]!;
    const damping = (1 / loss[at]! - 1) / corner - corner;
    const ratio = warped(frequency, sampleRate) / corner;
    const [high, band, low] = [loss[at + 3]!, loss[at + 4]! + loss[at + 3]! * damping, loss[at + 5]! + loss[at + 3]!];
    power *= ((low - high * ratio ** 2) ** 2 + (band * ratio) ** 2) / ((1 - ratio ** 2) ** 2 + (damping * ratio) ** 2);
  }
  return 10 * Math.log10(power);
}

/** A line that loses nothing. */
export function endlessLine(): LineLoss {
  const loss = new Float64Array(lossNumbers);
  for (let section = 0; section < lossSections; section++) loss[section * sectionNumbers + 3] = 1;
  return loss;
}

/**
 * A section of a shelf as six numbers of a topology-preserving state-variable filter (Zavalishin 2012): three for its states, and how much of its input, its band and its low-pass
 * come out. Poles lie at the corner, zeros as far from it as the end's gain says.
 */
function writeShelf(into: LineLoss, at: number, { gain, corner }: Shelf, damping: number, end: 'low' | 'high'): void {
  const far = 10 ** (gain / (20 * order));
  const a1 = 1 / (1 + corner * (corner + damping));
  into[at] = a1;
  into[at + 1] = corner * a1;
  into[at + 2] = corner * corner * a1;
  const [high, band, low] = end === 'high' ? [far * far, far * damping, 1] : [1, far * damping, far * far];
  into[at + 3] = high;
  into[at + 4] = band - high * damping;
  into[at + 5] = low - high;
}
