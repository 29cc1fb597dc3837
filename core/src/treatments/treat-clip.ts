import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { changeSpeed, playAlong, resampledLength } from '../audio/resample';
import type { Clip } from '../project/schema';
import { ContentWalk, timeOfContent } from '../project/time/speed-curve';
import type { Frames, Hertz, Seconds } from '../units';
import { semitonesToRatio } from '../units';
import { isWholeRounds, loopContentWithin } from './looped';

/** What of a clip decides how its content sounds before fades and gain. */
export type Treatment = Pick<Clip, 'offset' | 'length' | 'speed' | 'speedCurve' | 'reversed' | 'loop'>;

/** True when a clip plays its source as it is; parts of the source then share its memory. */
export function isUntreated({ speed, speedCurve, reversed, loop }: Treatment): boolean {
  return speed === 0 && !speedCurve && !reversed && !loop;
}

/** What tells a treated clip apart from all others: what it was made from, and what was done to it. */
export function treatmentKey(identity: string, { offset, length, speed, speedCurve, reversed, loop }: Treatment): string {
  return JSON.stringify([identity, offset, length, speed, speedCurve, reversed, loop]);
}

/** Treated clips that were made elsewhere, by their keys. */
export interface TreatedAudio {
  get(key: string): Audio | undefined;
}

/** Frames around a part that still shape its edges when its speed is changed. */
const margin = 512;

/** The content of a clip: the used part of the source, looped, turned round, and played at the clip's speed. */
export function treatClip(audio: Audio, treatment: Treatment): Audio {
  const { offset, length, speed, speedCurve, reversed, loop } = treatment;
  const { sampleRate } = audio;
  const frames = frameCount(audio);
  const start = Math.min(frames, Math.round(offset * sampleRate));
  const wanted = Math.max(0, Math.round(length * sampleRate));
  const count = Math.min(frames - start, wanted);
  if (isUntreated(treatment)) return { sampleRate, channels: audio.channels.map((channel) => channel.subarray(start, start + count)) };
  // Fractions of a frame are kept, so that the parts of a split clip are as long together as the whole.
  const from = Math.min(frames, offset * sampleRate);
  const played = Math.min(frames - from, length * sampleRate);
  if (!loop && !reversed)
    return speedCurve ? playAlong(audio, placesOf(treatment, sampleRate, from)) : changeSpeed(audio, semitonesToRatio(speed), from, played);

  let content: Audio;
  let lead: Frames;
  const part = loop && {
    from: Math.round(loop.from * sampleRate),
    to: Math.min(frames, Math.round(loop.to * sampleRate)),
    crossfade: Math.round(loop.crossfade * sampleRate),
  };
  if (part) {
    content = loopContentWithin(audio, start, wanted, part, margin);
    lead = margin;
  } else {
    const first = Math.max(0, start - margin);
    const last = Math.min(frames, start + count + margin);
    lead = last - from - played;
    content = { sampleRate, channels: audio.channels.map((channel) => channel.subarray(first, last)) };
  }
  if (reversed) content = { sampleRate, channels: content.channels.map((channel) => channel.slice().reverse()) };
  if (speedCurve) return playAlong(content, placesOf(treatment, sampleRate, lead));
  const used = loop ? wanted : count;
  const whole = Math.round(lead);
  if (speed === 0) return { sampleRate, channels: content.channels.map((channel) => channel.subarray(whole, whole + used)) };
  const ratio = semitonesToRatio(speed);
  // Whole rounds stay whole: their length is brought to a whole frame, so that the end goes on at the beginning.
  if (part && isWholeRounds(start, wanted, part)) return changeSpeed(content, wanted / resampledLength(wanted, ratio), lead, wanted);
  return changeSpeed(content, ratio, lead, part ? length * sampleRate : played);
}

/** Where in the prepared content each frame of a clip with a speed curve is read; `first` is where the content begins in it. */
function placesOf(treatment: Treatment, sampleRate: Hertz, first: Frames): Float64Array {
  const frames = Math.max(1, Math.round(timeOfContent(treatment, treatment.length) * sampleRate));
  const walk = new ContentWalk(treatment);
  return Float64Array.from({ length: frames }, (_, i) => first + walk.at(i / sampleRate) * sampleRate);
}

/** Keeps treated clips while they are likely to be needed again; the oldest go first when there are too many samples. */
export class TreatmentCache {
  private readonly entries = new Map<string, Audio>();
  private samples = 0;

  /**
   * @param mostSamples how many samples are kept, over all channels
   * @param longest clips of more content are not treated here: that would keep whoever waits for it waiting
   */
  constructor(
    private readonly mostSamples = 64 * 2 ** 20,
    private readonly longest: Seconds = Infinity,
  ) {}

  /**
   * The treated clip; undefined where it would take too long and was not made elsewhere.
   * @param identity identifies the audio
   */
  treat(identity: string, audio: Audio, treatment: Treatment, made?: TreatedAudio): Audio | undefined {
    if (isUntreated(treatment)) return treatClip(audio, treatment);
    const key = treatmentKey(identity, treatment);
    const ready = made?.get(key);
    if (ready) return ready;
    const known = this.entries.get(key);
    if (known) {
      this.entries.delete(key);
      this.entries.set(key, known);
      return known;
    }
    if (treatment.length > this.longest) return undefined;
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
