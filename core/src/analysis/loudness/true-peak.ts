import type { Audio } from '../../audio/audio';
import { frameCount } from '../../audio/audio';
import { InterSampleReader, interSampleReach, interSampleTaps } from '../../dsp/inter-sample';
import type { Decibels, Frames } from '../../units';
import { gainToDecibels } from '../../units';

/** No interpolated value exceeds the largest sample around it by more than this (the sum of a phase's magnitudes). */
const largestGain = 3;

/** Streaming true-peak meter of one channel: the largest magnitude of the signal at and between its samples, 4x oversampled. */
export class TruePeakMeter {
  private readonly reader = new InterSampleReader();
  /** For how many more samples the history holds one that could lead to a new peak. */
  private loudFor = 0;
  /** Largest magnitude so far, linear. */
  peak = 0;

  process(samples: Float32Array, from: Frames, to: Frames): void {
    for (let i = from; i < to; i++) this.next(samples[i]!);
  }

  /** Runs the filter out, so that the last samples count too. */
  finish(): void {
    for (let i = 0; i < interSampleReach; i++) this.next(0);
  }

  private next(sample: number): void {
    this.reader.push(sample);
    const magnitude = Math.abs(sample);
    if (magnitude > this.peak) this.peak = magnitude;
    if (magnitude * largestGain > this.peak) this.loudFor = interSampleTaps;
    else if (this.loudFor === 0) return;
    this.loudFor--;
    const between = this.reader.between();
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
