import type { Audio } from '../../audio/audio';
import { frameCount } from '../../audio/audio';
import { InterSampleReader, interSampleReach } from '../../dsp/inter-sample';
import type { Decibels, Frames } from '../../units';
import { gainToDecibels } from '../../units';

/** Frames between which the peak so far is told to the reader, which reads only what may pass it. */
const run: Frames = 128;

/**
 * Streaming true-peak meter of one channel (ITU-R BS.1770-5 annex 2, read more finely): the largest magnitude of the signal at and between its samples. Within 0.02 dB
 * for sines of up to 20 kHz.
 */
export class TruePeakMeter {
  private readonly reader = new InterSampleReader();
  private readonly peaks = new Float32Array(run);
  /** Largest magnitude so far, linear. */
  peak = 0;

  process(samples: Float32Array, from: Frames, to: Frames): void {
    for (let start = from; start < to; start += run) this.take(samples, start, Math.min(to, start + run));
  }

  /** Runs the filter out, so that the last samples count too. */
  finish(): void {
    this.take(new Float32Array(interSampleReach), 0, interSampleReach);
  }

  private take(samples: Float32Array, from: Frames, to: Frames): void {
    this.reader.read(samples, from, to, this.peak, this.peaks);
    for (let i = 0; i < to - from; i++) if (this.peaks[i]! > this.peak) this.peak = this.peaks[i]!;
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
