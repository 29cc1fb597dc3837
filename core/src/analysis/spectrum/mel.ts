import type { Audio } from '../../audio/audio';
import { frameCount, toMono } from '../../audio/audio';
import { sharedPowerSpectra } from '../../dsp/power-spectra';
import type { Hertz } from '../../units';

const size = 2048;
export const melBands = 32;
const lowest: Hertz = 40;
const highest: Hertz = 16_000;
const floor = 1e-10;

const toMel = (frequency: Hertz): number => 2595 * Math.log10(1 + frequency / 700);
const fromMel = (mel: number): Hertz => 700 * (10 ** (mel / 2595) - 1);

/** Levels of mel bands over time, with what a spectrum says about brightness. */
export interface MelFrames {
  /** Band energies in dB, frame after frame, `melBands` each. */
  readonly levels: Float32Array;
  /** Energy of each frame over all bins, linear. */
  readonly energies: Float64Array;
  /** Energy-weighted mean frequency of each frame in Hz. */
  readonly centroids: Float64Array;
  readonly count: number;
}

/**
 * Mel-band levels (triangular bands over 40 Hz–16 kHz, Stevens & Volkmann 1940 in O'Shaughnessy's form) of windows of 2048 samples, spread
 * evenly over the recording.
 * @param most how many windows at most; short recordings have fewer
 */
export function measureMel(audio: Audio, most = 240): MelFrames {
  const frames = frameCount(audio);
  const count = Math.max(1, Math.min(most, Math.ceil(frames / (size / 4))));
  const spectra = sharedPowerSpectra(size);
  const bands = melTriangles(audio.sampleRate, spectra.bins, melBands);
  const samples = toMono(audio).channels[0] ?? new Float32Array(0);
  const levels = new Float32Array(count * melBands);
  const energies = new Float64Array(count);
  const centroids = new Float64Array(count);
  const startOf = (n: number): number => Math.round(count === 1 ? (frames - size) / 2 : ((frames - size) * n) / (count - 1));
  for (let n = 0; n < count; n++) {
    if (n % 2 === 0) spectra.take(samples, startOf(n), startOf(n + 1));
    const powers = n % 2 === 0 ? spectra.first : spectra.second;
    let whole = 0;
    let weighted = 0;
    for (let bin = 1; bin < spectra.bins; bin++) {
      whole += powers[bin]!;
      weighted += powers[bin]! * bin;
    }
    energies[n] = whole / size;
    centroids[n] = whole > 0 ? (weighted / whole) * (audio.sampleRate / size) : 0;
    for (let band = 0; band < melBands; band++) {
      const { first, weights } = bands[band]!;
      let energy = 0;
      for (let k = 0; k < weights.length; k++) energy += powers[first + k]! * weights[k]!;
      levels[n * melBands + band] = 10 * Math.log10(energy / size + floor);
    }
  }
  return { levels, energies, centroids, count };
}

/** One band: the first bin that it takes from, and how much of that and those behind it. */
interface Triangle {
  readonly first: number;
  readonly weights: readonly number[];
}

/** Triangular bands over 40 Hz–16 kHz, each from the middle of the one below to the middle of the one above, for spectra of so many bins. */
export function melTriangles(sampleRate: Hertz, bins: number, bands: number): Triangle[] {
  const top = toMel(Math.min(highest, sampleRate / 2));
  const edge = (i: number): number => (fromMel(toMel(lowest) + ((top - toMel(lowest)) * i) / (bands + 1)) * (2 * (bins - 1))) / sampleRate;
  return Array.from({ length: bands }, (_, band) => {
    const [from, centre, to] = [edge(band), edge(band + 1), edge(band + 2)];
    const first = Math.max(1, Math.floor(from));
    const last = Math.min(bins - 1, Math.ceil(to));
    const weights = Array.from({ length: Math.max(1, last - first + 1) }, (_, k) => {
      const bin = first + k;
      const rise = (bin - from) / (centre - from);
      const fall = (to - bin) / (to - centre);
      return Math.max(0, Math.min(rise, fall));
    });
    // The lowest triangles are narrower than a bin: they take the bin that lies nearest.
    if (weights.every((weight) => weight === 0)) return { first: Math.max(1, Math.round(centre)), weights: [1] };
    return { first, weights };
  });
}
