import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { changeSpeed } from '../audio/resample';
import type { Clip } from '../project/schema';
import { semitonesToRatio } from '../units';

/** What of a clip decides how its content sounds before fades and gain. */
export type Treatment = Pick<Clip, 'offset' | 'length' | 'speed'>;

/**
 * The content of a clip: the used part of the source, played at the clip's speed. Parts of a source played at its own speed share its
 * memory.
 */
export function treatClip(audio: Audio, { offset, length, speed }: Treatment): Audio {
  const frames = frameCount(audio);
  const start = Math.min(frames, Math.round(offset * audio.sampleRate));
  const count = Math.max(0, Math.min(frames - start, Math.round(length * audio.sampleRate)));
  if (speed === 0)
    return { sampleRate: audio.sampleRate, channels: audio.channels.map((channel) => channel.subarray(start, start + count)) };
  return changeSpeed(audio, semitonesToRatio(speed), start, count);
}

/** Keeps treated clips while they are likely to be needed again; the oldest go first when there are too many samples. */
export class TreatmentCache {
  private readonly entries = new Map<string, Audio>();
  private samples = 0;

  /** @param mostSamples how many samples are kept, over all channels */
  constructor(private readonly mostSamples = 64 * 2 ** 20) {}

  /** @param hash identifies the audio */
  treat(hash: string, audio: Audio, treatment: Treatment): Audio {
    if (treatment.speed === 0) return treatClip(audio, treatment);
    const key = `${hash}|${treatment.offset}|${treatment.length}|${treatment.speed}`;
    const known = this.entries.get(key);
    if (known) {
      this.entries.delete(key);
      this.entries.set(key, known);
      return known;
    }
    const treated = treatClip(audio, treatment);
    this.entries.set(key, treated);
    this.samples += sampleCount(treated);
    for (const [oldest, entry] of this.entries) {
      if (this.samples <= this.mostSamples || oldest === key) break;
      this.entries.delete(oldest);
      this.samples -= sampleCount(entry);
    }
    return treated;
  }
}

function sampleCount(audio: Audio): number {
  return frameCount(audio) * audio.channels.length;
}
