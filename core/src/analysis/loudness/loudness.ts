import type { Audio } from '../../audio/audio';
import { frameCount } from '../../audio/audio';
import type { Decibels, Frames, Hertz, Seconds } from '../../units';
import { KWeighting } from './k-weighting';

/** Loudness in LUFS, ranges in LU; `-Infinity` where there is nothing above the gate. */
export interface Loudness {
  readonly integrated: Decibels;
  readonly maxMomentary: Decibels;
  readonly maxShortTerm: Decibels;
  readonly range: number;
}

const absoluteGate: Decibels = -70;
const stepsPerSecond = 10;
const momentarySteps = 4;
const shortTermSteps = 30;

/** Loudness of a mean square of K-weighted samples, summed over weighted channels (BS.1770-5). */
export function meanSquareToLufs(meanSquare: number): Decibels {
  return meanSquare > 0 ? -0.691 + 10 * Math.log10(meanSquare) : -Infinity;
}

/**
 * Channel weights by BS.1770-5: 1.41 for loudspeakers between 60° and 120° to the side, 1 for all others, 0 for the LFE. Channels are
 * taken in WAV order: L R C Ls Rs for five, L R C LFE Ls Rs for six, L R C LFE Lrs Rrs Lss Rss for eight; other counts count fully.
 */
export function channelWeights(channelCount: number): number[] {
  switch (channelCount) {
    case 4:
      return [1, 1, 1.41, 1.41];
    case 5:
      return [1, 1, 1, 1.41, 1.41];
    case 6:
      return [1, 1, 1, 0, 1.41, 1.41];
    case 8:
      return [1, 1, 1, 0, 1, 1, 1.41, 1.41];
    default:
      return new Array<number>(channelCount).fill(1);
  }
}

/**
 * Streaming loudness meter by ITU-R BS.1770-5 and EBU Tech 3341: 400 ms momentary and 3 s short-term windows that move in steps of
 * 100 ms, integrated loudness with absolute (-70 LUFS) and relative (-10 LU) gates, range by EBU Tech 3342.
 */
export class LoudnessMeter {
  private readonly filters: KWeighting[];
  private readonly weights: number[];
  private readonly stepFrames: Frames;
  /** Energy of every finished 100 ms step. */
  private readonly steps: number[] = [];
  private sum = 0;
  private filled = 0;

  constructor(sampleRate: Hertz, channelCount: number) {
    this.filters = Array.from({ length: channelCount }, () => new KWeighting(sampleRate));
    this.weights = channelWeights(channelCount);
    this.stepFrames = Math.round(sampleRate / stepsPerSecond);
  }

  /** Takes in the frames `from` to `to` of every channel. */
  process(channels: readonly Float32Array[], from: Frames, to: Frames): void {
    for (let i = from; i < to; i++) {
      for (let c = 0; c < this.filters.length; c++) {
        const weighted = this.filters[c]!.next(channels[c]![i]!);
        this.sum += this.weights[c]! * weighted * weighted;
      }
      if (++this.filled === this.stepFrames) {
        this.steps.push(this.sum / this.stepFrames);
        this.sum = 0;
        this.filled = 0;
      }
    }
  }

  /** Momentary loudness of the latest 400 ms; `-Infinity` before that much was heard. */
  get momentary(): Decibels {
    return this.windowEndingAt(this.steps.length, momentarySteps);
  }

  /** Short-term loudness of the latest 3 s, or of what was heard so far if that is less. */
  get shortTerm(): Decibels {
    return this.windowEndingAt(this.steps.length, Math.max(1, Math.min(shortTermSteps, this.steps.length)));
  }

  get integrated(): Decibels {
    return gatedLoudness(this.windows(momentarySteps), -10);
  }

  get maxMomentary(): Decibels {
    return meanSquareToLufs(largest(this.windows(momentarySteps)));
  }

  get maxShortTerm(): Decibels {
    return meanSquareToLufs(largest(this.windows(shortTermSteps)));
  }

  /** Loudness range (EBU Tech 3342): from the 10th to the 95th percentile of gated short-term loudness. */
  get range(): number {
    const windows = this.windows(shortTermSteps).filter((energy) => meanSquareToLufs(energy) > absoluteGate);
    if (windows.length === 0) return 0;
    const gate = meanSquareToLufs(mean(windows)) - 20;
    const levels = windows
      .map(meanSquareToLufs)
      .filter((level) => level > gate)
      .sort((a, b) => a - b);
    if (levels.length === 0) return 0;
    const at = (share: number): number => levels[Math.round(share * (levels.length - 1))]!;
    return at(0.95) - at(0.1);
  }

  private windowEndingAt(end: number, length: number): Decibels {
    if (end < length) return -Infinity;
    let sum = 0;
    for (let i = end - length; i < end; i++) sum += this.steps[i]!;
    return meanSquareToLufs(sum / length);
  }

  /** Mean square of every full window of `length` steps. */
  private windows(length: number): number[] {
    const energies: number[] = [];
    for (let end = length; end <= this.steps.length; end++) {
      let sum = 0;
      for (let i = end - length; i < end; i++) sum += this.steps[i]!;
      energies.push(sum / length);
    }
    return energies;
  }
}

function gatedLoudness(energies: readonly number[], relativeGate: number): Decibels {
  const audible = energies.filter((energy) => meanSquareToLufs(energy) > absoluteGate);
  if (audible.length === 0) return -Infinity;
  const gate = meanSquareToLufs(mean(audible)) + relativeGate;
  const counted = audible.filter((energy) => meanSquareToLufs(energy) > gate);
  return meanSquareToLufs(mean(counted.length > 0 ? counted : audible));
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}

function largest(values: readonly number[]): number {
  return values.reduce((most, value) => Math.max(most, value), 0);
}

/**
 * Loudness of a whole recording. Momentary windows need 400 ms and short-term windows 3 s; shorter sounds are measured by the
 * short-sound measure: one window over the sounding part (from the first to the last sample within 60 dB of the peak), at least 10 ms
 * long, without gating. It agrees with BS.1770 for a steady sound and does not fall only because a sound is short.
 */
export function measureLoudness(audio: Audio): Loudness {
  const meter = new LoudnessMeter(audio.sampleRate, audio.channels.length);
  meter.process(audio.channels, 0, frameCount(audio));
  return readLoudness(meter, frameCount(audio) / audio.sampleRate, () => shortSoundLoudness(audio));
}

/**
 * What a meter has measured of a whole recording.
 * @param seconds how long the recording is
 * @param short measures what is too short for its windows, or too quiet for its gates
 */
export function readLoudness(meter: LoudnessMeter, seconds: Seconds, short: () => Decibels): Loudness {
  const whole = seconds >= 0.4 ? meter.integrated : -Infinity;
  const integrated = Number.isFinite(whole) ? whole : short();
  return {
    integrated,
    maxMomentary: seconds >= 0.4 ? meter.maxMomentary : integrated,
    maxShortTerm: seconds >= 3 ? meter.maxShortTerm : integrated,
    range: meter.range,
  };
}

export function shortSoundLoudness(audio: Audio): Decibels {
  const frames = frameCount(audio);
  let peak = 0;
  for (const channel of audio.channels) for (let i = 0; i < frames; i++) peak = Math.max(peak, Math.abs(channel[i]!));
  if (peak === 0) return -Infinity;
  const floor = peak / 1_000;
  const sounds = (i: number): boolean => audio.channels.some((channel) => Math.abs(channel[i]!) >= floor);
  let first = 0;
  while (first < frames && !sounds(first)) first++;
  let last = frames - 1;
  while (last > first && !sounds(last)) last--;
  const filters = audio.channels.map(() => new KWeighting(audio.sampleRate));
  const weights = channelWeights(audio.channels.length);
  let sum = 0;
  for (let i = first; i <= last; i++) {
    audio.channels.forEach((channel, c) => {
      const weighted = filters[c]!.next(channel[i]!);
      sum += weights[c]! * weighted * weighted;
    });
  }
  const loudness = meanSquareToLufs(sum / Math.max(last - first + 1, audio.sampleRate * 0.01));
  return loudness > absoluteGate ? loudness : -Infinity;
}
