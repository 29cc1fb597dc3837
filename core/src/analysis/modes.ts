import type { Audio } from '../audio/audio';
import { RealFft } from '../dsp/fft';
import type { Decibels, Frames, Hertz, Seconds } from '../units';
import { loudestChannel } from './onsets';

/** A way in which something rings after a strike. */
export interface RingingMode {
  readonly frequency: Hertz;
  /** Its amplitude where the sound begins, relative to full scale. */
  readonly level: Decibels;
  /** Time in which it falls by 60 dB. */
  readonly decay: Seconds;
}

const size = 65_536;
/** What is looked at is this long at most; the beginning of a strike is left out. */
const longest: Seconds = 1.2;
/** What dies away soon is only seen in a short look. */
const shortest: Seconds = 0.2;
const strike: Seconds = 0.004;
/** A peak counts down to this far below the highest one, and must stand this far above what is around it. */
const range: Decibels = 56;
const prominence: Decibels = 15;
/** Modes are at least so far apart. */
const leastGap: Hertz = 18;
const leastInterval = 1.012;
/** What dies away sooner than this is a knock, and no mode. */
const leastDecay: Seconds = 0.02;
const mostDecay: Seconds = 60;
/** Of the way of a mode's level, this much must be straight. */
const leastFit = 0.75;

/** Where a sound begins: the first sample within 20 dB of its peak. */
export function strikeAt(samples: Float32Array): Frames {
  let peak = 0;
  for (const sample of samples) peak = Math.max(peak, Math.abs(sample));
  return Math.max(
    0,
    samples.findIndex((sample) => Math.abs(sample) >= 0.1 * peak && peak > 0),
  );
}

/**
 * The modes of a struck sound, the strongest first: peaks of its spectrum behind the strike that stand out of what is around them, each with the decay of
 * its own level, measured as a straight line in decibels (what is common in modal analysis; Smith, Physical Audio Signal Processing, 2010). Clean modes:
 * frequency within 0.1 %, decay within 5 %. Noise and silence have none.
 * @param most how many at most
 */
export function findModes(audio: Audio, most = 32): RingingMode[] {
  const samples = loudestChannel(audio);
  const { sampleRate } = audio;
  const begin = strikeAt(samples) + Math.round(strike * sampleRate);
  const length = Math.min(samples.length - begin, Math.round(longest * sampleRate), size);
  if (length < 256) return [];
  const short = Math.min(length, Math.round(shortest * sampleRate));
  const peaks = apart([length, short].flatMap((looked) => spectralPeaks(samples, begin, looked, sampleRate))).slice(0, 2 * most);
  const modes: RingingMode[] = [];
  for (const frequency of peaks) {
    const gap = peaks.reduce((least, other) => (other === frequency ? least : Math.min(least, Math.abs(other - frequency))), 400);
    const way = levelOf(samples, begin, frequency, gap, sampleRate);
    if (!way || way.decay < leastDecay) continue;
    // What it had lost when it was first looked at is given back.
    modes.push({ frequency, level: way.level + (60 * strike) / way.decay, decay: Math.min(mostDecay, way.decay) });
  }
  return modes.sort((a, b) => b.level - a.level).slice(0, most);
}

interface Peak {
  readonly frequency: Hertz;
  readonly level: Decibels;
}

/** The peaks of one spectrum. */
function spectralPeaks(samples: Float32Array, begin: Frames, length: Frames, sampleRate: Hertz): Peak[] {
  const fft = new RealFft(size);
  const frame = new Float64Array(size);
  for (let i = 0; i < length; i++) frame[i] = samples[begin + i]! * (0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / length));
  const [re, im] = [new Float64Array(fft.bins), new Float64Array(fft.bins)];
  fft.forward(frame, re, im);
  const levels = re.map((value, bin) => 10 * Math.log10(value * value + im[bin]! * im[bin]! + 1e-20));
  const lobe = Math.ceil((2 * size) / length);
  const highest = levels.reduce((a, b) => Math.max(a, b));
  const perBin = sampleRate / size;
  const found: Peak[] = [];
  for (let bin = Math.ceil(25 / perBin); bin < fft.bins - lobe; bin++) {
    const level = levels[bin]!;
    if (level < highest - range || level <= levels[bin - 1]! || level < levels[bin + 1]!) continue;
    const reach = Math.max(3 * lobe, Math.round(bin * 0.06));
    if (level < mean(levels, bin - reach, bin + reach, lobe, bin) + prominence) continue;
    const [a, c] = [levels[bin - 1]!, levels[bin + 1]!];
    const off = (0.5 * (a - c)) / (a - 2 * level + c || 1);
    // As amplitudes, so that long and short looks can be compared.
    found.push({ frequency: (bin + off) * perBin, level: level - 20 * Math.log10(length) });
  }
  return found;
}

/** The frequencies of peaks, the highest first; of those that lie too near to each other, the higher one. */
function apart(found: readonly Peak[]): Hertz[] {
  const kept: Hertz[] = [];
  for (const { frequency } of found.toSorted((a, b) => b.level - a.level)) {
    const free = kept.every(
      (other) => Math.abs(other - frequency) > leastGap && Math.max(other / frequency, frequency / other) > leastInterval,
    );
    if (free) kept.push(frequency);
  }
  return kept;
}

/** Mean level around a bin, without the peak itself. */
function mean(levels: Float64Array, from: number, to: number, lobe: number, at: number): Decibels {
  let sum = 0;
  let count = 0;
  for (let bin = Math.max(1, from); bin < Math.min(levels.length, to); bin++) {
    if (Math.abs(bin - at) <= lobe) continue;
    sum += levels[bin]!;
    count++;
  }
  return count > 0 ? sum / count : -Infinity;
}

/** The level of one frequency over time, as a straight line: where it begins, and how long it takes for 60 dB. */
function levelOf(
  samples: Float32Array,
  begin: Frames,
  frequency: Hertz,
  gap: Hertz,
  sampleRate: Hertz,
): { readonly level: Decibels; readonly decay: Seconds } | undefined {
  const width = Math.round(sampleRate * Math.max(0.01, Math.min(0.12, 4 / gap)));
  const hop = Math.max(64, width >> 2);
  const points: { time: Seconds; level: Decibels }[] = [];
  const turn = (2 * Math.PI * frequency) / sampleRate;
  for (let start = begin; start + width <= samples.length && points.length < 200; start += hop) {
    let [re, im, weight] = [0, 0, 0];
    for (let i = 0; i < width; i++) {
      const hann = 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / width);
      const sample = samples[start + i]! * hann;
      re += sample * Math.cos(turn * (start + i));
      im += sample * Math.sin(turn * (start + i));
      weight += hann;
    }
    points.push({ time: (start - begin + width / 2) / sampleRate, level: 20 * Math.log10((2 * Math.hypot(re, im)) / weight + 1e-9) });
  }
  const top = points.reduce((highest, { level }) => Math.max(highest, level), -Infinity);
  const first = points.findIndex(({ level }) => level === top);
  const floor = Math.max(top - 45, points.slice(first).reduce((least, { level }) => Math.min(least, level), top) + 6);
  let last = first;
  while (last + 1 < points.length && points[last + 1]!.level > floor) last++;
  const part = points.slice(first, last + 1);
  return part.length < 3 ? undefined : lineThrough(part);
}

/** Least squares. */
function lineThrough(
  points: readonly { time: Seconds; level: Decibels }[],
): { readonly level: Decibels; readonly decay: Seconds } | undefined {
  const count = points.length;
  const time = points.reduce((sum, point) => sum + point.time, 0) / count;
  const level = points.reduce((sum, point) => sum + point.level, 0) / count;
  let [along, across, spread] = [0, 0, 0];
  for (const point of points) {
    along += (point.time - time) ** 2;
    across += (point.time - time) * (point.level - level);
    spread += (point.level - level) ** 2;
  }
  const slope = across / along;
  const fit = spread > 0 ? (slope * across) / spread : 1;
  if (slope >= 0) return { level: level - slope * time, decay: mostDecay };
  return fit < leastFit ? undefined : { level: level - slope * time, decay: -60 / slope };
}
