/** What a stretch or a shift does to known signals, in numbers: ours and the reference library's are judged by the same ones. */
import { hannWindow, RealFft } from '../../core/src/index';

export const rate = 48_000;

/** The frequency near `about` and its amplitude, refined by the phases of two frames (long, Blackman–Harris). */
export function toneNear(samples: Float32Array, about: number, from = 0, size = 32_768): { frequency: number; amplitude: number } {
  let best = { frequency: about, amplitude: 0 };
  for (let cents = -60; cents <= 60; cents += 10) {
    const found = refine(samples, about * 2 ** (cents / 1_200), from, size);
    if (found.amplitude > best.amplitude) best = found;
  }
  return best;
}

function refine(samples: Float32Array, about: number, from: number, size: number): { frequency: number; amplitude: number } {
  let frequency = about;
  let amplitude = 0;
  for (let round = 0; round < 6; round++) {
    const early = project(samples, frequency, from, size);
    const late = project(samples, frequency, from + size / 4, size);
    const turn = Math.atan2(late.im * early.re - late.re * early.im, late.re * early.re + late.im * early.im);
    frequency += (turn / (2 * Math.PI)) * (rate / (size / 4));
    amplitude = Math.hypot(early.re, early.im);
  }
  return { frequency, amplitude };
}

function project(samples: Float32Array, frequency: number, from: number, size: number): { re: number; im: number } {
  let re = 0;
  let im = 0;
  let sum = 0;
  for (let i = 0; i < size; i++) {
    const weight = blackmanHarris(i, size);
    const angle = (2 * Math.PI * frequency * (from + i)) / rate;
    const x = (samples[from + i] ?? 0) * weight;
    re += x * Math.cos(angle);
    im -= x * Math.sin(angle);
    sum += weight;
  }
  return { re: (2 * re) / sum, im: (2 * im) / sum };
}

function blackmanHarris(i: number, size: number): number {
  const x = (2 * Math.PI * i) / size;
  return 0.35875 - 0.48829 * Math.cos(x) + 0.14128 * Math.cos(2 * x) - 0.01168 * Math.cos(3 * x);
}

/** Power beside the wanted tones over all power, in dB: what a steady sound gained that it did not have. */
export function spuriousLevel(samples: Float32Array, tones: readonly number[], from: number, size = 65_536): number {
  const fft = new RealFft(size);
  const frame = Float64Array.from({ length: size }, (_, i) => (samples[from + i] ?? 0) * blackmanHarris(i, size));
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  fft.forward(frame, re, im);
  let wanted = 0;
  let other = 0;
  for (let k = 0; k < fft.bins; k++) {
    const power = re[k]! ** 2 + im[k]! ** 2;
    if (tones.some((tone) => Math.abs((k * rate) / size - tone) < 6)) wanted += power;
    else other += power;
  }
  return 10 * Math.log10(other / wanted);
}

/** How far the level of short pieces strays, in dB (standard deviation), in `ms` long windows. */
export function levelFlutter(samples: Float32Array, from: number, to: number, ms = 20): number {
  const size = Math.round((ms * rate) / 1_000);
  const levels: number[] = [];
  for (let at = from; at + size <= to; at += size / 2) {
    let sum = 0;
    for (let i = 0; i < size; i++) sum += samples[at + i]! ** 2;
    levels.push(10 * Math.log10(sum / size + 1e-12));
  }
  const mean = levels.reduce((a, b) => a + b, 0) / levels.length;
  return Math.sqrt(levels.reduce((a, b) => a + (b - mean) ** 2, 0) / levels.length);
}

/** Where a click stands nearest to `expected` (seconds off), and the loudest before it within 80 ms over its peak, in dB. */
export function clickAt(samples: Float32Array, expected: number): { late: number; before: number; peak: number } {
  const reach = Math.round(0.1 * rate);
  let place = expected;
  let peak = 0;
  for (let i = Math.max(0, expected - reach); i < Math.min(samples.length, expected + reach); i++)
    if (Math.abs(samples[i]!) > peak) {
      peak = Math.abs(samples[i]!);
      place = i;
    }
  let before = 0;
  for (let i = Math.max(0, place - Math.round(0.08 * rate)); i < place - Math.round(0.001 * rate); i++)
    before = Math.max(before, Math.abs(samples[i]!));
  return { late: (place - expected) / rate, before: 20 * Math.log10((before + 1e-9) / peak), peak };
}

/** Peak over RMS of the loudest 50 ms, in dB. */
export function crest(samples: Float32Array): number {
  const size = Math.round(0.05 * rate);
  let place = 0;
  for (let i = 0; i < samples.length; i++) if (Math.abs(samples[i]!) > Math.abs(samples[place]!)) place = i;
  let sum = 0;
  for (let i = 0; i < size; i++) sum += (samples[place - 240 + i] ?? 0) ** 2;
  return 20 * Math.log10(Math.abs(samples[place]!) / Math.sqrt(sum / size));
}

/** Phase between two channels at a frequency, in degrees. */
export function phaseBetween(left: Float32Array, right: Float32Array, frequency: number, from: number, size = 16_384): number {
  const a = project(left, frequency, from, size);
  const b = project(right, frequency, from, size);
  return (Math.atan2(a.im * b.re - a.re * b.im, a.re * b.re + a.im * b.im) * 180) / Math.PI;
}

/** Centre of the energy between two frequencies of a long-term spectrum, in Hz. */
export function formantCentre(samples: Float32Array, low: number, high: number, fundamental: number, from: number, to: number): number {
  // The envelope is read at the partials, so that where they lie does not count.
  let sum = 0;
  let weighed = 0;
  for (let partial = Math.ceil(low / fundamental); partial * fundamental < high; partial++) {
    const { amplitude } = toneNear(samples, partial * fundamental, from, Math.min(32_768, to - from - 8_192));
    sum += amplitude ** 2;
    weighed += amplitude ** 2 * partial * fundamental;
  }
  return weighed / sum;
}

/** Frequency over time by the phases of neighbouring frames around the strongest bin, `hop` frames apart. */
export function strongest(samples: Float32Array, from: number, size = 4_096): number {
  const fft = new RealFft(size);
  const window = hannWindow(size);
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  const spectrum = (start: number): { re: Float64Array; im: Float64Array } => {
    fft.forward(
      Float64Array.from({ length: size }, (_, i) => (samples[start + i] ?? 0) * window[i]!),
      re,
      im,
    );
    return { re: re.slice(), im: im.slice() };
  };
  const a = spectrum(from);
  const b = spectrum(from + 32);
  let peak = 1;
  for (let k = 1; k < fft.bins; k++) if (a.re[k]! ** 2 + a.im[k]! ** 2 > a.re[peak]! ** 2 + a.im[peak]! ** 2) peak = k;
  const turn = Math.atan2(b.im[peak]! * a.re[peak]! - b.re[peak]! * a.im[peak]!, b.re[peak]! * a.re[peak]! + b.im[peak]! * a.im[peak]!);
  const expected = (2 * Math.PI * peak * 32) / size;
  const off = turn - expected - 2 * Math.PI * Math.round((turn - expected) / (2 * Math.PI));
  return ((expected + off) / 32 / (2 * Math.PI)) * rate;
}
