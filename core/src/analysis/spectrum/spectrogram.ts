import type { Recording } from '../../audio/recording';
import { SpectralFrame } from '../../dsp/spectral-frames';
import type { Frames, Hertz } from '../../units';

/** Levels over time and logarithmic frequency, for drawing. */
export interface Spectrogram {
  readonly columns: number;
  readonly rows: number;
  /** dBFS, column after column, each from the lowest frequency up. */
  readonly levels: Float32Array;
}

export interface SpectrogramShape {
  readonly columns: number;
  /** Bands in equal ratios from `low` to `high`. */
  readonly rows: number;
  readonly low?: Hertz;
  readonly high?: Hertz;
  /** The part of the recording that the columns are spread over; all of it without them. */
  readonly from?: Frames;
  readonly to?: Frames;
}

const size = 2048;
/** What spectrograms show unless they are asked for something else. */
export const spectrogramRange: { readonly low: Hertz; readonly high: Hertz } = { low: 30, high: 20_000 };

/**
 * Short-time spectrum of the mean of all channels: Hann windows of 2048 samples, spread evenly over a part of the recording and reaching
 * beyond its edges, so that neighbouring parts fit together. Only what lies in the windows is read. A full-scale sine reads 0 dB.
 */
export async function measureSpectrogram(recording: Recording, shape: SpectrogramShape): Promise<Spectrogram> {
  const { frames, sampleRate } = recording;
  const { columns, rows, low = spectrogramRange.low, high = spectrogramRange.high, from: begin = 0, to: end = frames } = shape;
  // Where windows overlap, all of them are read at once.
  const overlapping = end - begin <= columns * size;
  const readFrom = Math.max(0, begin - size);
  const together = overlapping ? await recording.read(readFrom, Math.min(frames, end + size)) : undefined;
  const frame = new SpectralFrame(size);
  const levels = new Float32Array(columns * rows);
  const bins = new Float64Array(frame.bins);
  const edges = Array.from({ length: rows + 1 }, (_, row) => (low * Math.pow(high / low, row / rows) * size) / sampleRate);
  for (let column = 0; column < columns; column++) {
    const start = Math.round(begin + ((column + 0.5) * (end - begin)) / columns - size / 2);
    const first = together ? readFrom : Math.max(0, start);
    const { channels } = together ?? (await recording.read(first, Math.max(first, Math.min(frames, start + size))));
    frame.takeMean(channels, start - first);
    for (let bin = 0; bin < bins.length; bin++) bins[bin] = 10 * Math.log10(frame.power(bin) * (4 / size) ** 2 + 1e-14);
    for (let row = 0; row < rows; row++) levels[column * rows + row] = levelBetween(bins, edges[row]!, edges[row + 1]!);
  }
  return { columns, rows, levels };
}

/** The largest level of the bins in a band; of a band that is narrower than they are apart, what lies between them. */
function levelBetween(bins: Float64Array, from: number, to: number): number {
  if (to - from < 1) {
    const place = Math.min(bins.length - 1, Math.sqrt(from * to));
    const below = Math.min(bins.length - 2, Math.floor(place));
    return bins[below]! + (bins[below + 1]! - bins[below]!) * (place - below);
  }
  const first = Math.max(1, Math.round(from));
  const last = Math.min(bins.length - 1, Math.max(first, Math.round(to) - 1));
  let most = bins[first]!;
  for (let bin = first + 1; bin <= last; bin++) most = Math.max(most, bins[bin]!);
  return most;
}
