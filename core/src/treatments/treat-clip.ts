import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { isStretched } from '../project/time/clip-pace';
import type { Seconds } from '../units';
import { isAtOwnSpeed, playAtSpeed } from './at-speed';
import type { MakingHelp } from './stretched';
import { makeStretched, showStretched, stretchKey } from './stretched';
import type { Treatment } from './treatment';

/** Raise it when treated clips come out otherwise than before: those that are kept somewhere are made anew then. */
export const treatmentVersion = 1;

/** True when a clip plays its source as it is; parts of the source then share its memory. */
export function isUntreated(treatment: Treatment): boolean {
  return isAtOwnSpeed(treatment) && !isStretched(treatment);
}

/** What tells a treated clip apart from all others: what it was made from, and what was done to it. Parts of one stretch have one key. */
export function treatmentKey(identity: string, treatment: Treatment): string {
  if (isStretched(treatment)) return stretchKey(identity, treatment);
  const { offset, length, speed, curves, reversed, loop } = treatment;
  return JSON.stringify([identity, offset, length, speed, curves?.speed, reversed, loop]);
}

/** How much work a treatment is: seconds of content, or without end where it must not keep anybody waiting. */
export function treatmentWork(treatment: Treatment): Seconds {
  return isStretched(treatment) ? Infinity : treatment.length;
}

/** Treated clips that were made elsewhere, by their keys. */
export interface TreatedAudio {
  get(key: string): Audio | undefined;
}

/** The content of a clip: the used part of the source, looped, at the clip's speed, stretched and shifted, and turned round. */
export function treatClip(audio: Audio, treatment: Treatment): Audio {
  return showTreated(makeTreated(audio, treatment), treatment);
}

/** What is kept of a treatment under its key: of a stretch, more than the clip shows, so that its other parts need not be made again. */
export function makeTreated(audio: Audio, treatment: Treatment, help?: MakingHelp): Audio {
  return isStretched(treatment) ? makeStretched(audio, treatment, help) : playAtSpeed(audio, treatment);
}

/** What a clip shows of what was made for its key. */
export function showTreated(made: Audio, treatment: Treatment): Audio {
  return isStretched(treatment) ? showStretched(made, treatment) : made;
}

/** Keeps treated clips while they are likely to be needed again; the oldest go first when there are too many samples. */
export class TreatmentCache {
  private readonly entries = new Map<string, Audio>();
  private samples = 0;

  /**
   * @param mostSamples how many samples are kept, over all channels
   * @param longest what is more work (see `treatmentWork`) is not done here: that would keep whoever waits for it waiting
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
    if (ready) return showTreated(ready, treatment);
    const known = this.entries.get(key);
    if (known) {
      this.entries.delete(key);
      this.entries.set(key, known);
      return showTreated(known, treatment);
    }
    if (treatmentWork(treatment) > this.longest) return undefined;
    const treated = makeTreated(audio, treatment);
    this.entries.set(key, treated);
    this.samples += sampleCount(treated);
    for (const [oldest, entry] of this.entries) {
      if (this.samples <= this.mostSamples || oldest === key) break;
      this.entries.delete(oldest);
      this.samples -= sampleCount(entry);
    }
    return showTreated(treated, treatment);
  }
}

function sampleCount(audio: Audio): number {
  return frameCount(audio) * audio.channels.length;
}
