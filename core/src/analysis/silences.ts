import type { Audio } from '../audio/audio';
import type { Decibels, Seconds } from '../units';
import { decibelsToGain } from '../units';
import { findOnsets, loudestChannel } from './onsets';

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

const step: Seconds = 0.01;

/** The parts of a recording between silences. */
export function splitAtSilences(audio: Audio, { below = 42, shortestPause = 0.15, margin = 0.015 }: SilenceOptions = {}): SoundingPart[] {
  const samples = loudestChannel(audio);
  const window = Math.max(1, Math.round(step * audio.sampleRate));
  const count = Math.ceil(samples.length / window);
  const levels = new Float64Array(count);
  for (let n = 0; n < count; n++) {
    let sum = 0;
    for (let i = n * window; i < Math.min(samples.length, (n + 1) * window); i++) sum += samples[i]! ** 2;
    levels[n] = Math.sqrt(sum / window);
  }
  const loudest = levels.reduce((a, b) => Math.max(a, b), 0);
  const floor = loudest * decibelsToGain(-below);
  const end = samples.length / audio.sampleRate;
  const parts: { from: Seconds; to: Seconds }[] = [];
  for (let n = 0; n < count; n++) {
    if (levels[n]! <= floor) continue;
    const from = (n * window) / audio.sampleRate;
    const to = Math.min(end, ((n + 1) * window) / audio.sampleRate);
    const last = parts.at(-1);
    if (last && from - last.to < shortestPause) last.to = to;
    else parts.push({ from, to });
  }
  return parts.map(({ from, to }) => ({ from: Math.max(0, from - margin), to: Math.min(end, to + margin) }));
}

/** The parts of a recording from each transient to the next; each begins a little before its transient. */
export function splitAtTransients(audio: Audio, lead: Seconds = 0.003): SoundingPart[] {
  const end = audio.channels[0] ? audio.channels[0].length / audio.sampleRate : 0;
  const starts = findOnsets(audio).map(({ time }) => Math.max(0, time - lead));
  return starts.map((from, i) => ({ from, to: starts[i + 1] ?? end })).filter(({ from, to }) => to - from >= 0.005);
}
