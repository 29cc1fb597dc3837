import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { correlation, crossfadeGains } from '../audio/crossfade';
import type { Frames } from '../units';

/** A part of a recording that repeats, in frames. */
export interface LoopedPart {
  readonly from: Frames;
  readonly to: Frames;
  /** Frames over which each return is blended; what lies before `from` fades in while the end of the part fades out. */
  readonly crossfade: Frames;
}

/** Samples over all channels that can be held beside everything else. */
const mostSamples = 2 ** 28;

/**
 * The content of a recording from `start` on with a part that repeats until `frames` frames are filled. Each return is a crossfade whose
 * law follows the correlation of its two sides, so that its level stays even. A part of no length, or one that lies behind the recording's end, does not
 * repeat: silence follows.
 */
export function loopContent(audio: Audio, start: Frames, frames: Frames, part: LoopedPart): Audio {
  const to = Math.min(part.to, frameCount(audio));
  const { from, crossfade } = part;
  const period = to - from;
  if (frames * audio.channels.length > mostSamples)
    throw new RangeError(`A looped clip of ${Math.round(frames / audio.sampleRate / 60)} minutes is too long to be held.`);
  if (period < 1) return padded(audio, start, frames);
  const overlap = Math.max(0, Math.min(crossfade, from, Math.floor(period / 2)));
  const r = correlation(audio.channels, audio.channels, to - overlap, from - overlap, overlap);
  const gains = crossfadeGains(overlap, r);
  const channels = audio.channels.map((channel) => {
    const looped = new Float32Array(frames);
    // One round of the loop, its end already blended into what leads to its beginning.
    const round = channel.slice(from, to);
    for (let i = 0; i < overlap; i++) {
      const at = period - overlap + i;
      round[at] = round[at]! * gains.out[i]! + channel[from - overlap + i]! * gains.in[i]!;
    }
    const lead = Math.max(0, Math.min(frames, to - start));
    looped.set(channel.subarray(start, start + lead));
    for (let i = Math.max(0, to - overlap - start); i < lead; i++) if (start + i >= from) looped[i] = round[start + i - from]!;
    for (let at = lead; at < frames; at += period) looped.set(round.subarray(0, Math.min(period, frames - at)), at);
    return looped;
  });
  return { sampleRate: audio.sampleRate, channels };
}

/**
 * Like `loopContent`, with `around` frames more on either side of what is wanted, which shape its edges where it is resampled: behind it the loop goes on;
 * before it lies what comes before in the recording, or, where the content begins with the loop and nothing is blended, the loop's end.
 */
export function loopContentWithin(audio: Audio, start: Frames, frames: Frames, part: LoopedPart, around: Frames): Audio {
  const inside = loopContent(audio, start, frames + around, part);
  const to = Math.min(part.to, frameCount(audio));
  const period = to - part.from;
  // Content that begins behind the loop begins with its next round, whatever is blended.
  const behind = period >= 1 && start >= to;
  const comesRound = behind || (period >= 1 && start === part.from && part.crossfade === 0);
  const round = behind ? loopContent(audio, start, period, part) : undefined;
  const channels = inside.channels.map((content, c) => {
    const whole = new Float32Array(content.length + around);
    whole.set(content, around);
    const source = round?.channels[c] ?? audio.channels[c]!;
    const first = round ? 0 : part.from;
    for (let i = 1; i <= around; i++)
      whole[around - i] = (comesRound ? source[first + ((period - (i % period)) % period)] : source[start - i]) ?? 0;
    return whole;
  });
  return { sampleRate: audio.sampleRate, channels };
}

/** True where content is whole rounds of a loop, from its beginning on and without a blend: its end goes on at its beginning. */
export function isWholeRounds(start: Frames, frames: Frames, { from, to, crossfade }: LoopedPart): boolean {
  return start === from && crossfade === 0 && to > from && frames > 0 && frames % (to - from) === 0;
}

/** The content from `start` on, with silence behind its end. */
function padded(audio: Audio, start: Frames, frames: Frames): Audio {
  const channels = audio.channels.map((channel) => {
    const content = new Float32Array(frames);
    content.set(channel.subarray(start, start + frames));
    return content;
  });
  return { sampleRate: audio.sampleRate, channels };
}
