import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { isStretched } from '../project/time/clip-pace';
import { clipDuration } from '../project/time/clip-times';
import type { Frames, Seconds } from '../units';
import type { Rounds } from './at-speed';
import { heldFrames, isAtOwnSpeed, isPlainLoop, playAtSpeed, roundsOf } from './at-speed';
import type { MakingHelp, StretchedPiece } from './stretched';
import { makeStretched, showPiece, showStretched, stretchKey } from './stretched';
import type { Treatment } from './treatment';

/** Raise it when treated clips come out otherwise than before: those that are kept somewhere are made anew then. */
export const treatmentVersion = 2;

/** True when a clip plays its source as it is, or rounds of it: nothing has to be made for it. */
export function isUntreated(treatment: Treatment): boolean {
  return (isAtOwnSpeed(treatment) || isPlainLoop(treatment)) && !isStretched(treatment);
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

/** Pieces of treated clips that are made elsewhere and are not there yet as a whole, by their keys. */
export interface TreatedPieces {
  get(key: string): StretchedPiece | undefined;
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

/** What is played of a clip: `frames` in all, of which those behind the end of the audio are its last `period` frames again and again. */
export interface PlayedContent {
  readonly audio: Audio;
  /** 0 where the audio is all there is. */
  readonly period: Frames;
  readonly frames: Frames;
  /** Where there is only a piece of it yet: at which of its frames the audio begins. Around it lies silence. */
  readonly pieceFrom?: Frames;
}

/** Keeps treated clips while they are likely to be needed again; the oldest go first when there are too many samples. */
export class TreatmentCache {
  private readonly entries = new Map<string, Rounds>();
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
   * What is played of a clip; undefined where it would take too long and nothing of it was made elsewhere. A plain loop is held up to the end of its
   * first round, however long it lasts.
   * @param identity identifies the audio
   */
  play(identity: string, audio: Audio, treatment: Treatment, made?: TreatedAudio, pieces?: TreatedPieces): PlayedContent | undefined {
    if (isUntreated(treatment) && isPlainLoop(treatment)) {
      const { offset, loop, length } = treatment;
      const rounds = this.recall(JSON.stringify([identity, offset, loop, heldFrames(audio, treatment)]), () => roundsOf(audio, treatment));
      if (rounds) return { ...rounds, frames: Math.max(0, Math.round(length * audio.sampleRate)) };
    }
    const treated = this.treat(identity, audio, treatment, made);
    if (treated) return { audio: treated, period: 0, frames: frameCount(treated) };
    const piece = pieces?.get(treatmentKey(identity, treatment));
    if (!piece) return undefined;
    const { audio: heard, from } = showPiece(piece, treatment);
    return { audio: heard, period: 0, frames: Math.max(1, Math.round(clipDuration(treatment) * audio.sampleRate)), pieceFrom: from };
  }

  /** The treated clip as a whole; undefined as for `play`. */
  treat(identity: string, audio: Audio, treatment: Treatment, made?: TreatedAudio): Audio | undefined {
    if (isUntreated(treatment)) return treatClip(audio, treatment);
    const key = treatmentKey(identity, treatment);
    const ready = made?.get(key);
    if (ready) return showTreated(ready, treatment);
    const kept = this.recall(key, () =>
      treatmentWork(treatment) > this.longest ? undefined : { audio: makeTreated(audio, treatment), period: 0 },
    );
    return kept && showTreated(kept.audio, treatment);
  }

  /** What is kept under a key, or is made and kept now. */
  private recall(key: string, make: () => Rounds | undefined): Rounds | undefined {
    const known = this.entries.get(key);
    if (known) {
      this.entries.delete(key);
      this.entries.set(key, known);
      return known;
    }
    const made = make();
    if (!made) return undefined;
    this.entries.set(key, made);
    this.samples += sampleCount(made.audio);
    for (const [oldest, entry] of this.entries) {
      if (this.samples <= this.mostSamples || oldest === key) break;
      this.entries.delete(oldest);
      this.samples -= sampleCount(entry.audio);
    }
    return made;
  }
}

function sampleCount(audio: Audio): number {
  return frameCount(audio) * audio.channels.length;
}
