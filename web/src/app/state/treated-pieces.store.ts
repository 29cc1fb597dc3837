import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import type { Clip, Seconds, StretchedPiece } from '@tangled-choir/core';
import { clipDuration, pieceSpan, stretchedLength, treatmentOf } from '@tangled-choir/core';
import type { FrameRange, WantedTreatment } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';

/** What is sooner there as a whole needs no pieces. */
export const longStretch: Seconds = 12;
/** How far a piece reaches behind where it is heard, so that it has come before the one before it ends, and how far before. */
const reach: Seconds = 15;
const before: Seconds = 0.5;
/** The next piece is made as soon as less than this is left of one. */
const enough: Seconds = 7;
/** A clip that begins later than this is not heard yet. */
const soon: Seconds = 8;

interface Asked {
  readonly span: FrameRange;
  readonly ended: AbortController;
}

/**
 * What is heard of long stretched clips until they are there as a whole: a few seconds from where the playhead stands, and the next ones as it
 * comes near their end.
 */
export const TreatedPieces = signalStore(
  withState({ pieces: new Map() as ReadonlyMap<string, StretchedPiece> }),
  withMethods((store, jobs = inject(ProjectJobs)) => {
    const asked = new Map<string, Asked>();

    const ask = async (key: string, { audio, clip }: WantedTreatment, span: FrameRange): Promise<void> => {
      asked.get(key)?.ended.abort();
      const asking: Asked = { span, ended: new AbortController() };
      asked.set(key, asking);
      const input = { audio, treatment: treatmentOf(clip), span };
      // Whoever makes the whole tells what is wrong with it.
      const piece = await jobs
        .run('treatPiece', input, 'Treating a piece of a clip', { quiet: true, signal: asking.ended.signal })
        .catch(() => undefined);
      if (asked.get(key) !== asking) return;
      asked.delete(key);
      if (piece) patchState(store, ({ pieces }) => ({ pieces: new Map([...pieces, [key, { audio: piece, from: span.from }]]) }));
    };

    const forgetAllBut = (keys: ReadonlySet<string>): void => {
      for (const [key, { ended }] of asked)
        if (!keys.has(key)) {
          asked.delete(key);
          ended.abort();
        }
      if ([...store.pieces().keys()].some((key) => !keys.has(key)))
        patchState(store, ({ pieces }) => ({ pieces: new Map([...pieces].filter(([key]) => keys.has(key))) }));
    };

    /** Frames of what is there for a clip, or is being made. */
    const coveredOf = (key: string): FrameRange | undefined => {
      const piece = store.pieces().get(key);
      return asked.get(key)?.span ?? (piece && { from: piece.from, to: piece.from + (piece.audio.channels[0]?.length ?? 0) });
    };

    return {
      /**
       * Has pieces made of what is not there yet, and drops those of what is not wanted any more.
       * @param at where on the time axis the playhead stands
       */
      follow(missing: readonly WantedTreatment[], at: Seconds): void {
        forgetAllBut(new Set(missing.map(({ key }) => key)));
        const seen = new Set<string>();
        // Of clips that are parts of one stretch, the one that is heard first.
        for (const wanted of [...missing].sort((a, b) => a.clip.start - b.clip.start)) {
          const { key, clip, audio } = wanted;
          const heard = Math.max(0, at - clip.start);
          if (seen.has(key) || !isHeardSoon(clip, at) || stretchedLength(clip) < longStretch) continue;
          seen.add(key);
          const needed = pieceSpan(clip, audio.sampleRate, { from: heard, to: heard + enough });
          const covered = coveredOf(key);
          if (covered && covered.from <= needed.from && covered.to >= needed.to) continue;
          void ask(key, wanted, pieceSpan(clip, audio.sampleRate, { from: heard - before, to: heard + reach }));
        }
      },
    };
  }),
);

export type TreatedPieces = InstanceType<typeof TreatedPieces>;

function isHeardSoon(clip: Clip, at: Seconds): boolean {
  return clip.start < at + soon && clip.start + clipDuration(clip) > at;
}
