import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { kaiser, sinc } from '../dsp/kaiser';
import type { Decibels, Frames } from '../units';
import { gainToDecibels } from '../units';

const halfTaps = 12;
const taps = 2 * halfTaps;
/** No interpolated value exceeds the largest sample around it by more than this (the sum of a phase's magnitudes). */
const largestGain = 3;

/** Interpolation filter for `fraction` of a sample, as in BS.1770-5 annex 2 but with twice the length, which reads closer. */
function interpolator(fraction: number): Float64Array {
  const phase = new Float64Array(taps);
  let sum = 0;
  for (let tap = 0; tap < taps; tap++) {
    const x = tap - halfTaps + 1 - fraction;
    phase[tap] = sinc(x) * kaiser(x / halfTaps, 6);
    sum += phase[tap]!;
  }
  return phase.map((value) => value / sum);
}

const firstQuarter = interpolator(0.25);
const half = interpolator(0.5);
const lastQuarter = interpolator(0.75);

/** Streaming true-peak meter of one channel: the largest magnitude of the signal at and between its samples, 4x oversampled. */
export class TruePeakMeter {
  private readonly history = new Float64Array(2 * taps);
  private position = 0;
  /** For how many more samples the history holds one that could lead to a new peak. */
  private loudFor = 0;
  /** Largest magnitude so far, linear. */
  peak = 0;

  process(samples: Float32Array, from: Frames, to: Frames): void {
    for (let i = from; i < to; i++) this.next(samples[i]!);
  }

  /** Runs the filter out, so that the last samples count too. */
  finish(): void {
    for (let i = 0; i < halfTaps; i++) this.next(0);
  }

  private next(sample: number): void {
    const { history } = this;
    // Every sample is stored twice, so that the latest ones always lie in one piece.
    history[this.position] = sample;
    history[this.position + taps] = sample;
    if (++this.position === taps) this.position = 0;
    const magnitude = Math.abs(sample);
    if (magnitude > this.peak) this.peak = magnitude;
    if (magnitude * largestGain > this.peak) this.loudFor = taps;
    else if (this.loudFor === 0) return;
    this.loudFor--;
    let a = 0;
    let b = 0;
    let c = 0;
    for (let tap = 0, at = this.position; tap < taps; tap++, at++) {
      const value = history[at]!;
      a += firstQuarter[tap]! * value;
      b += half[tap]! * value;
      c += lastQuarter[tap]! * value;
    }
    const between = Math.max(Math.abs(a), Math.abs(b), Math.abs(c));
    if (between > this.peak) this.peak = between;
  }
}

/** True peak of a recording in dBTP over all channels. */
export function measureTruePeak(audio: Audio): Decibels {
  let peak = 0;
  for (const channel of audio.channels) {
    const meter = new TruePeakMeter();
    meter.process(channel, 0, frameCount(audio));
    meter.finish();
    peak = Math.max(peak, meter.peak);
  }
  return gainToDecibels(peak);
}
