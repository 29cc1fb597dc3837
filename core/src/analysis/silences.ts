import type { Recording } from '../audio/recording';
import { stretchesOf } from '../audio/recording';
import type { Decibels, Frames, Seconds, Unit } from '../units';
import { decibelsToGain } from '../units';
import { findOnsets } from './onsets';

/** A part of a recording. */
export interface SoundingPart {
  readonly from: Seconds;
  readonly to: Seconds;
}

export interface SilenceOptions {
  /** How far below the loudest 10 ms counts as silence. */
  readonly below?: Decibels;
  /** Pauses shorter than this do not separate. */
  readonly shortestPause?: Seconds;
  /** Kept in front of and behind each part. */
  readonly margin?: Seconds;
}

/** Called with the finished share; false stops the work with `Cancelled`. */
type Progress = (share: Unit) => boolean;

const step: Seconds = 0.01;
/** Steps of 10 ms that are read at once. */
const stepsRead = 3_000;
const stretch: Seconds = 30;
/** So much beside a stretch is seen that onsets near its borders come out as they do elsewhere. */
const beside: Seconds = 1;
/** Two onsets nearer together than this are one that was found on both sides of a border. */
const apart: Seconds = 0.03;

/** The parts of a recording between silences, by the mean level of 10 ms at a time in the channel that carries most energy. */
export async function splitAtSilences(
  recording: Recording,
  { below = 42, shortestPause = 0.15, margin = 0.015 }: SilenceOptions = {},
  progress?: Progress,
): Promise<SoundingPart[]> {
  const { sampleRate, frames } = recording;
  const window = Math.max(1, Math.round(step * sampleRate));
  const powers = await loudestPowers(recording, window, progress);
  const loudest = powers.reduce((a, b) => Math.max(a, b), 0);
  const floor = loudest * decibelsToGain(-below) ** 2;
  const end = frames / sampleRate;
  const parts: { from: Seconds; to: Seconds }[] = [];
  for (let n = 0; n < powers.length; n++) {
    if (powers[n]! <= floor) continue;
    const from = (n * window) / sampleRate;
    const to = Math.min(end, ((n + 1) * window) / sampleRate);
    const last = parts.at(-1);
    if (last && from - last.to < shortestPause) last.to = to;
    else parts.push({ from, to });
  }
  return parts.map(({ from, to }) => ({ from: Math.max(0, from - margin), to: Math.min(end, to + margin) }));
}

/** The parts of a recording from each transient to the next; each begins `lead` before its transient. */
export async function splitAtTransients(recording: Recording, lead: Seconds = 0.003, progress?: Progress): Promise<SoundingPart[]> {
  const { sampleRate } = recording;
  const starts: Seconds[] = [];
  const border = Math.round(beside * sampleRate);
  for await (const { from, to, audio, first } of stretchesOf(recording, Math.round(stretch * sampleRate), border, progress))
    for (const onset of findOnsets(audio)) {
      const time = onset.time + first / sampleRate;
      const here = time >= from / sampleRate && time < to / sampleRate;
      if (here && time - (starts.at(-1) ?? -Infinity) >= apart) starts.push(time);
    }
  const end = recording.frames / sampleRate;
  return starts
    .map((time, i) => ({ from: Math.max(0, time - lead), to: i + 1 < starts.length ? Math.max(0, starts[i + 1]! - lead) : end }))
    .filter(({ from, to }) => to - from >= 0.005);
}

/** Energy of each window of the channel that carries most of it. */
async function loudestPowers(recording: Recording, window: Frames, progress?: Progress): Promise<Float64Array> {
  const powers = Array.from({ length: recording.channelCount }, () => new Float64Array(Math.ceil(recording.frames / window)));
  for await (const { from, audio } of stretchesOf(recording, stepsRead * window, 0, progress))
    audio.channels.forEach((samples, c) => {
      for (let i = 0; i < samples.length; i++) powers[c]![Math.floor((from + i) / window)]! += samples[i]! ** 2;
    });
  const energy = (channel: Float64Array): number => channel.reduce((sum, power) => sum + power, 0);
  return powers.reduce((best, channel) => (energy(channel) > energy(best) ? channel : best), powers[0] ?? new Float64Array(0));
}
