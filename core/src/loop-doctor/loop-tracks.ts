import type { Audio } from '../audio/audio';
import { frameCount, toMono } from '../audio/audio';
import type { Recording } from '../audio/recording';
import { loudestChannel } from '../analysis/onsets';
import { YinDetector } from '../analysis/pitch';
import { Cancelled } from '../cancelled';
import { SpectralFrame } from '../dsp/spectral-frames';
import type { Decibels, Frames, Hertz, Seconds, Unit } from '../units';

/** Differences that are just heard in a loop that comes round again and again: level in dB, pitch and colour in semitones. */
export const justHeard = { level: 1, pitch: 0.15, colour: 1.5 };

const window: Frames = 4096;
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

/** Measures the tracks in windows of 4096 samples. Long recordings have wider spaced points, so that there are at most 1200. */
export function measureLoopTracks(audio: Audio): LoopTracks {
  const meter = new LoopTrackMeter(audio.sampleRate, frameCount(audio));
  for (let n = 0; n < meter.count; n++) {
    const { from, to } = meter.rangeOf(n);
    meter.measure(n, { sampleRate: audio.sampleRate, channels: audio.channels.map((channel) => channel.subarray(from, to)) });
  }
  return meter.tracks;
}

/**
 * The same for a recording of any length, of which only the windows are read.
 * @param progress called with the finished share; false stops the work with `Cancelled`
 */
export async function readLoopTracks(recording: Recording, progress: (share: Unit) => boolean = () => true): Promise<LoopTracks> {
  const meter = new LoopTrackMeter(recording.sampleRate, recording.frames);
  for (let n = 0; n < meter.count; n++) {
    if (n % 16 === 0 && !progress(n / meter.count)) throw new Cancelled();
    const { from, to } = meter.rangeOf(n);
    meter.measure(n, await recording.read(from, to));
  }
  return meter.tracks;
}

/** Measures one point of the tracks after the other. */
class LoopTrackMeter {
  readonly count: number;
  readonly tracks: LoopTracks;
  private readonly detector: YinDetector;
  /** Frames that a point needs: its window, and what its pitch is measured in. */
  private readonly reach: Frames;
  private readonly frame = new SpectralFrame(window);

  constructor(
    private readonly sampleRate: Hertz,
    private readonly frames: Frames,
  ) {
    const hop = Math.max(shortestHop, frames / sampleRate / mostPoints);
    this.count = Math.max(1, Math.floor(Math.max(0, frames - window) / sampleRate / hop) + 1);
    this.detector = new YinDetector(sampleRate);
    this.reach = Math.max(window, this.detector.length);
    this.tracks = {
      hop,
      first: window / 2 / sampleRate,
      levels: new Float64Array(this.count),
      colours: new Float64Array(this.count),
      pitches: new Float64Array(this.count).fill(Number.NaN),
    };
  }

  /** What a point is measured in, within the recording. */
  rangeOf(n: number): { from: Frames; to: Frames } {
    const start = this.startOf(n);
    return { from: start, to: Math.min(this.frames, start + this.reach) };
  }

  /** @param audio the point's range */
  measure(n: number, audio: Audio): void {
    const { levels, colours, pitches } = this.tracks;
    const samples = toMono(audio).channels[0] ?? new Float32Array(0);
    let energy = 0;
    for (let i = 0; i < window; i++) {
      const sample = samples[i] ?? 0;
      energy += sample * sample;
    }
    levels[n] = Math.max(quietest, 10 * Math.log10(energy / window + 1e-12));
    this.frame.take(samples, 0);
    let power = 0;
    let octaves = 0;
    for (let bin = 2; bin < this.frame.bins; bin++) {
      const weight = this.frame.power(bin);
      power += weight;
      octaves += weight * Math.log2((bin * this.sampleRate) / window);
    }
    colours[n] = power > 0 ? 2 ** (octaves / power) : Number.NaN;
    // In the middle of the window; at high sampling rates a period is longer than that leaves room for.
    const start = Math.max(0, Math.floor((window - this.detector.length) / 2));
    const { frequency, confidence } = this.detector.detect(loudestChannel(audio), start);
    if (frequency !== undefined && confidence >= certain) pitches[n] = frequency;
  }

  private startOf(n: number): Frames {
    return Math.round(n * this.tracks.hop * this.sampleRate);
  }
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
