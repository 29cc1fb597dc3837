import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Decibels, Frames, Hertz, Seconds } from '../units';
import { measureDcOffset, measureRms, measureSamplePeak } from './level';
import { measureLoudness } from './loudness';
import { measureTruePeak } from './true-peak';

/** The measured facts of a recording; levels are `-Infinity` for silence. */
export interface Measurement {
  readonly sampleRate: Hertz;
  readonly channels: number;
  readonly frames: Frames;
  readonly seconds: Seconds;
  readonly integratedLufs: Decibels;
  readonly maxMomentaryLufs: Decibels;
  readonly maxShortTermLufs: Decibels;
  readonly loudnessRangeLu: number;
  readonly truePeakDbtp: Decibels;
  readonly samplePeakDbfs: Decibels;
  readonly rmsDbfs: Decibels;
  readonly dcOffset: number;
}

export function measure(audio: Audio): Measurement {
  const loudness = measureLoudness(audio);
  return {
    sampleRate: audio.sampleRate,
    channels: audio.channels.length,
    frames: frameCount(audio),
    seconds: frameCount(audio) / audio.sampleRate,
    integratedLufs: loudness.integrated,
    maxMomentaryLufs: loudness.maxMomentary,
    maxShortTermLufs: loudness.maxShortTerm,
    loudnessRangeLu: loudness.range,
    truePeakDbtp: measureTruePeak(audio),
    samplePeakDbfs: measureSamplePeak(audio),
    rmsDbfs: measureRms(audio),
    dcOffset: measureDcOffset(audio),
  };
}
