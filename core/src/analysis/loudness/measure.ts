import type { Audio } from '../../audio/audio';
import type { Recording } from '../../audio/recording';
import { piecesOf } from '../../audio/recording';
import type { Decibels, Frames, Hertz, Seconds } from '../../units';
import { gainToDecibels } from '../../units';
import { LevelMeter } from './level';
import { LoudnessMeter, readLoudness, shortSoundLoudness } from './loudness';
import { TruePeakMeter } from './true-peak';

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
  const meter = new MeasurementMeter(audio.sampleRate, audio.channels.length);
  meter.process(audio.channels);
  return meter.finish(() => shortSoundLoudness(audio));
}

/** What has no more frames is held as a whole, so that what is too quiet for the windows of a loudness meter is measured, too. */
const mostFramesHeld: Frames = 2 ** 23;
/** Frames that a longer recording is read in. */
const pieceFrames: Frames = 2 ** 20;

/** Measures a recording however long it is, no more than a piece of it in memory at a time; what is short is measured as a whole. */
export async function measureRecording(recording: Recording): Promise<Measurement> {
  const { sampleRate, channelCount, frames } = recording;
  if (frames <= mostFramesHeld) return measure(await recording.read(0, frames));
  const meter = new MeasurementMeter(sampleRate, channelCount);
  for await (const { channels } of piecesOf(recording, pieceFrames)) meter.process(channels);
  return meter.finish();
}

/** Measures a recording that comes piece by piece. */
export class MeasurementMeter {
  private readonly loudness: LoudnessMeter;
  private readonly levels: LevelMeter;
  private readonly peaks: readonly TruePeakMeter[];
  private frames: Frames = 0;

  constructor(
    private readonly sampleRate: Hertz,
    private readonly channelCount: number,
  ) {
    this.loudness = new LoudnessMeter(sampleRate, channelCount);
    this.levels = new LevelMeter(channelCount);
    this.peaks = Array.from({ length: channelCount }, () => new TruePeakMeter());
  }

  process(channels: readonly Float32Array[]): void {
    const count = channels[0]?.length ?? 0;
    this.loudness.process(channels, 0, count);
    this.levels.process(channels);
    channels.forEach((channel, c) => this.peaks[c]!.process(channel, 0, count));
    this.frames += count;
  }

  /**
   * What was measured; nothing can come after that.
   * @param short the loudness of what is too short or too quiet for the windows of a loudness meter
   */
  finish(short: () => Decibels = () => -Infinity): Measurement {
    const { sampleRate, channelCount, frames } = this;
    for (const meter of this.peaks) meter.finish();
    const seconds = frames / sampleRate;
    const loudness = readLoudness(this.loudness, seconds, short);
    return {
      sampleRate,
      channels: channelCount,
      frames,
      seconds,
      integratedLufs: loudness.integrated,
      maxMomentaryLufs: loudness.maxMomentary,
      maxShortTermLufs: loudness.maxShortTerm,
      loudnessRangeLu: loudness.range,
      truePeakDbtp: gainToDecibels(this.peaks.reduce((most, { peak }) => Math.max(most, peak), 0)),
      samplePeakDbfs: this.levels.samplePeak,
      rmsDbfs: this.levels.rms,
      dcOffset: this.levels.dcOffset,
    };
  }
}
