import type { Decibels, Ratio } from '../units';

/** The natural logarithm is what processors compute fastest. */
export const decibelsPerNeper = 20 / Math.LN10;

/** Level of a magnitude; from -160 dB on down everything is silence. */
export function levelOf(magnitude: number): Decibels {
  return magnitude > 1e-8 ? Math.log(magnitude) * decibelsPerNeper : -160;
}

/** From here on down, nothing is lifted any more: it would only bring up noise. */
const floor: Decibels = -72;

/**
 * How far a level is pressed towards a threshold, 0 or above (Giannoulis et al. 2012, eq. 4).
 *
 * @param slope 1 - 1 / ratio: the part of what is over the threshold that is taken away
 * @param knee width of the quadratic part around the threshold, 0 for a corner
 */
export function pressOf(level: Decibels, threshold: Decibels, slope: Ratio, knee: Decibels): Decibels {
  const over = level - threshold;
  if (2 * over <= -knee) return 0;
  return 2 * over < knee ? (slope * (over + knee / 2) ** 2) / (2 * knee) : over * slope;
}

/**
 * How far a level is lifted towards a threshold that it lies below, 0 or above, with the same knee. From -72 dB on down the lift goes back, so
 * that silence stays silent.
 *
 * @param slope 1 - 1 / ratio
 * @param most what nothing is lifted beyond
 */
export function liftOf(level: Decibels, threshold: Decibels, slope: Ratio, knee: Decibels, most: Decibels): Decibels {
  const lift = Math.min(most, pressOf(-level, -threshold, slope, knee));
  return level >= floor ? lift : Math.max(0, lift - 2 * (floor - level));
}

/** Output level of the static curve of a compressor for an input level. */
export function compressorCurve(input: Decibels, threshold: Decibels, ratio: Ratio, knee: Decibels): Decibels {
  return input - pressOf(input, threshold, 1 - 1 / ratio, knee);
}

/** Output level of the static curve of an upward compressor. */
export function upwardCurve(input: Decibels, threshold: Decibels, ratio: Ratio, knee: Decibels, most: Decibels): Decibels {
  return input + liftOf(input, threshold, 1 - 1 / ratio, knee, most);
}

/** Automatic make-up: half of the reduction that full scale would get. */
export function automaticMakeUp(threshold: Decibels, ratio: Ratio, knee: Decibels): Decibels {
  return -compressorCurve(0, threshold, ratio, knee) / 2;
}
