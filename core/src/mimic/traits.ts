import type { Audio } from '../audio/audio';
import { RealFft } from '../dsp/fft';
import type { Decibels, Hertz, Seconds } from '../units';
import { decibelsToGain } from '../units';

/** What a patch that mimics a recording begins with: its envelope, its slope, its harmonics. All of them look at the first channel. */

const tableHarmonics = 32;

/** Mean square. */
export function power(samples: Float32Array): number {
  let sum = 0;
  for (const sample of samples) sum += sample * sample;
  return sum / samples.length;
}

/** Loudness in windows of 5 ms. */
function windows({ channels, sampleRate }: Audio): { readonly levels: Float64Array; readonly seconds: Seconds } {
  const samples = channels[0]!;
  const size = Math.max(1, Math.round(0.005 * sampleRate));
  const levels = new Float64Array(Math.max(1, Math.floor(samples.length / size)));
  for (let n = 0; n < levels.length; n++) levels[n] = 10 * Math.log10(power(samples.subarray(n * size, (n + 1) * size)) + 1e-12);
  return { levels, seconds: size / sampleRate };
}

/** How long it takes to its loudest window, and from there on until 40 dB are lost. */
export function envelopeOf(original: Audio): { readonly attack: Seconds; readonly decay: Seconds } {
  const { levels, seconds } = windows(original);
  const top = levels.reduce((best, each, n) => (each > levels[best]! ? n : best), 0);
  const end = levels.findIndex((each, n) => n > top && each < levels[top]! - 40);
  const last = end < 0 ? levels.length : end;
  return { attack: Math.max(0.0005, top * seconds), decay: Math.max(0.01, (last - top) * seconds) };
}

/** How loud it is at three quarters of its length, as a part of its peak. */
export function sustainOf(original: Audio): number {
  const { levels } = windows(original);
  const top = levels.reduce((most, each) => Math.max(most, each), -Infinity);
  return Math.min(1, decibelsToGain(levels[Math.floor(levels.length * 0.75)]! - top));
}

/** By how much the spectrum falls with every octave from 100 Hz to 12 kHz: a line through the means of half octaves. */
export function slopeOf({ channels, sampleRate }: Audio): Decibels {
  const size = 8_192;
  const fft = new RealFft(size);
  const [re, im] = [new Float64Array(fft.bins), new Float64Array(fft.bins)];
  const powers = new Float64Array(fft.bins);
  const samples = channels[0]!;
  for (let at = 0; at === 0 || at + size <= samples.length; at += size / 2) {
    const frame = Float64Array.from({ length: size }, (_, i) => (samples[at + i] ?? 0) * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size)));
    fft.forward(frame, re, im);
    for (let bin = 0; bin < fft.bins; bin++) powers[bin]! += re[bin]! * re[bin]! + im[bin]! * im[bin]!;
  }
  const points: [octave: number, level: Decibels][] = [];
  for (let octave = 0; octave < 7; octave += 0.5) {
    const from = Math.floor((100 * 2 ** octave * size) / sampleRate);
    const to = Math.min(fft.bins, Math.ceil((100 * 2 ** (octave + 0.5) * size) / sampleRate));
    if (to <= from || 100 * 2 ** octave > 12_000) continue;
    let sum = 0;
    for (let bin = from; bin < to; bin++) sum += powers[bin]!;
    points.push([octave, 10 * Math.log10(sum / (to - from) + 1e-12)]);
  }
  const middle = points.reduce((sum, [octave]) => sum + octave, 0) / points.length;
  const mean = points.reduce((sum, [, each]) => sum + each, 0) / points.length;
  const along = points.reduce((sum, [octave]) => sum + (octave - middle) ** 2, 0);
  const across = points.reduce((sum, [octave, each]) => sum + (octave - middle) * (each - mean), 0);
  return Math.max(-12, Math.min(6, across / along));
}

/** Amplitudes of the harmonics at a place of a recording, in percent of the strongest one, as the text of a table. */
export function harmonicsAt({ channels, sampleRate }: Audio, frequency: Hertz, place: number): string {
  const samples = channels[0]!;
  const length = Math.min(samples.length, Math.round((12 / frequency) * sampleRate));
  const from = Math.round(place * (samples.length - length));
  const amplitudes = Array.from({ length: tableHarmonics }, (_, h) => {
    const turn = (2 * Math.PI * (h + 1) * frequency) / sampleRate;
    if (turn >= Math.PI) return 0;
    let [re, im] = [0, 0];
    for (let i = 0; i < length; i++) {
      const sample = samples[from + i]! * (0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / length));
      re += sample * Math.cos(turn * i);
      im += sample * Math.sin(turn * i);
    }
    return Math.hypot(re, im);
  });
  const strongest = Math.max(...amplitudes, 1e-12);
  return amplitudes.map((amplitude) => ((100 * amplitude) / strongest).toFixed(1)).join(' ');
}
