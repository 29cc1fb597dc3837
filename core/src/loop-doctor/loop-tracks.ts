import type { Audio } from '../audio/audio';
import { frameCount, toMono } from '../audio/audio';
import { trackPitch } from '../analysis/pitch';
import { hannWindow, RealFft } from '../dsp/fft';
import type { Decibels, Hertz, Seconds } from '../units';

/** Differences that are just heard in a loop that comes round again and again: level in dB, pitch and colour in semitones. */
export const justHeard = { level: 1, pitch: 0.15, colour: 1.5 };

const window = 4096;
const shortestHop: Seconds = 0.02;
const mostPoints = 1_200;
/** A pitch counts where the sound is at least this periodic. */
const certain = 0.6;
const quietest: Decibels = -120;

/** How level, pitch and colour of a recording run, at evenly spaced moments. */
export interface LoopTracks {
  readonly hop: Seconds;
  /** Moment of the first point; the others follow at `hop`. */
  readonly first: Seconds;
  readonly levels: Float64Array;
  /** In Hz; NaN where nothing has a pitch. */
  readonly pitches: Float64Array;
  /** Energy-weighted mean of the log frequency, in Hz: what is heard as dark or bright. */
  readonly colours: Float64Array;
}

/**
 * Measures the tracks in windows of 4096 samples. Long recordings have wider spaced points, so that there are at most 1200.
 * @param audio the recording or a part of it
 */
export function measureLoopTracks(audio: Audio): LoopTracks {
  const { sampleRate } = audio;
  const samples = toMono(audio).channels[0] ?? new Float32Array(0);
  const hop = Math.max(shortestHop, frameCount(audio) / sampleRate / mostPoints);
  const count = Math.max(1, Math.floor(Math.max(0, samples.length - window) / sampleRate / hop) + 1);
  const first = window / 2 / sampleRate;
  const fft = new RealFft(window);
  const shape = hannWindow(window);
  const frame = new Float64Array(window);
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  const levels = new Float64Array(count);
  const colours = new Float64Array(count);
  for (let n = 0; n < count; n++) {
    const start = Math.round(n * hop * sampleRate);
    let energy = 0;
    for (let i = 0; i < window; i++) {
      const sample = samples[start + i] ?? 0;
      energy += sample * sample;
      frame[i] = sample * shape[i]!;
    }
    levels[n] = Math.max(quietest, 10 * Math.log10(energy / window + 1e-12));
    fft.forward(frame, re, im);
    let power = 0;
    let octaves = 0;
    for (let bin = 2; bin < fft.bins; bin++) {
      const weight = re[bin]! ** 2 + im[bin]! ** 2;
      power += weight;
      octaves += weight * Math.log2((bin * sampleRate) / window);
    }
    colours[n] = power > 0 ? 2 ** (octaves / power) : Number.NaN;
  }
  return { hop, first, levels, colours, pitches: pitchesAt(audio, hop, first, count) };
}

function pitchesAt(audio: Audio, hop: Seconds, first: Seconds, count: number): Float64Array {
  const pitches = new Float64Array(count).fill(Number.NaN);
  for (const { time, frequency, confidence } of trackPitch(audio, { hop })) {
    const n = Math.round((time - first) / hop);
    if (n >= 0 && n < count && frequency !== undefined && confidence >= certain) pitches[n] = frequency;
  }
  return pitches;
}

/** Means over stretches of a track, with how many of its points count; every stretch at the same cost. */
export class TrackMeans {
  private readonly sums: Float64Array;
  private readonly squares: Float64Array;
  private readonly counts: Float64Array;

  /** @param values points that are NaN do not count */
  constructor(values: Float64Array) {
    this.sums = new Float64Array(values.length + 1);
    this.squares = new Float64Array(values.length + 1);
    this.counts = new Float64Array(values.length + 1);
    for (let n = 0; n < values.length; n++) {
      const value = values[n]!;
      const counts = !Number.isNaN(value);
      this.sums[n + 1] = this.sums[n]! + (counts ? value : 0);
      this.squares[n + 1] = this.squares[n]! + (counts ? value * value : 0);
      this.counts[n + 1] = this.counts[n]! + (counts ? 1 : 0);
    }
  }

  mean(from: number, to: number): number {
    return (this.sums[to]! - this.sums[from]!) / (this.counts[to]! - this.counts[from]!);
  }

  deviation(from: number, to: number): number {
    const count = this.counts[to]! - this.counts[from]!;
    const mean = this.mean(from, to);
    return Math.sqrt(Math.max(0, (this.squares[to]! - this.squares[from]!) / count - mean * mean));
  }

  /** Share of the points that count. */
  share(from: number, to: number): number {
    return (this.counts[to]! - this.counts[from]!) / Math.max(1, to - from);
  }
}

/** A frequency track in semitones above 1 Hz, in which distances are heard alike. */
export function inSemitones(track: readonly Hertz[] | Float64Array): Float64Array {
  return Float64Array.from(track, (frequency) => 12 * Math.log2(frequency));
}
