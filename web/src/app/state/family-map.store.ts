import { computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withProps, withState } from '@ngrx/signals';
import { bestSiblings, drawSibling, evenOut, fireOrder, repeatTime } from '@tangled-choir/core';
import type { MeasuredFamily, SiblingAudio } from '@tangled-choir/jobs';
import { JobCancelled } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';
import { FamilyRenders } from './family-renders.store';
import { Notices } from './notices';
import { Playback } from './playback.store';
import { WorkbenchStore } from './workbench.store';

interface FamilyMapState {
  /** Distances, and the rendered siblings that they are of. */
  readonly measured: { readonly of: readonly SiblingAudio[]; readonly family: MeasuredFamily } | undefined;
  readonly measuring: boolean;
  /** Siblings a second while a family is fired. */
  readonly rate: number;
  /** How many times a family has been fired: each time in another order. */
  readonly volleys: number;
}

/** How long a family is fired at a time, in seconds. */
const fireSeconds = 12;
/** Under which name a family is heard as it is fired. */
export const firedName = 'the family, fired';
const mostFired = 400;

/** How the siblings of the open sound differ by ear, and what comes of it: the best of them, their levels, their repeats. */
export const FamilyMap = signalStore(
  withState<FamilyMapState>({ measured: undefined, measuring: false, rate: 6, volleys: 0 }),
  withProps(() => ({
    _document: inject(DocumentStore),
    _workbench: inject(WorkbenchStore),
    _renders: inject(FamilyRenders),
    _playback: inject(Playback),
    _jobs: inject(ProjectJobs),
  })),
  withComputed(({ measured, rate, _workbench: workbench, _renders: renders, _playback: playback }) => {
    const siblings = computed(() => workbench.sound()?.family.siblings ?? []);
    /** All rendered siblings, once all of them are there as they should be. */
    const rendered = computed((): readonly SiblingAudio[] | undefined => {
      const ready = renders.siblings().filter((sibling) => sibling !== undefined);
      return ready.length > 0 && ready.length === siblings().length && renders.ready() === ready.length ? ready : undefined;
    });
    /** The map as long as it is that of the siblings that are there; while an edit is looked into, of those that were. */
    const family = computed(() => {
      const of = measured()?.of;
      const there = renders.siblings();
      return of?.length === siblings().length && of.every((each, i) => each === there[i]) ? measured()?.family : undefined;
    });
    /** Those that are heard in the game: the kept ones, and as long as fewer than two are kept, all that are not dropped. */
    const members = computed(() => {
      const of = (wanted: (state: string) => boolean): number[] => siblings().flatMap(({ state }, index) => (wanted(state) ? [index] : []));
      const kept = of((state) => state === 'kept');
      return kept.length > 1 ? kept : of((state) => state !== 'dropped');
    });
    return {
      rendered,
      family,
      /** The map is there, and of the siblings as they should be: what is measured may be acted on. */
      current: computed(() => rendered() !== undefined && family() !== undefined),
      members,
      firing: computed(() => playback.auditioned() === firedName),
      /** Seconds until something that is still in the ear is heard again. */
      repeats: computed(() => {
        const known = family();
        return known && members().length > 0 ? repeatTime(members(), known.distances, rate()) : undefined;
      }),
    };
  }),
  withMethods(({ _document: document, _workbench: workbench, _renders: renders, _playback: playback, _jobs: jobs, ...store }) => {
    const notices = inject(Notices);
    return {
      setRate: (rate: number): void => patchState(store, { rate }),
      /** Keeps the `wanted` siblings that differ most evenly; those that are dropped or stand out are not among them. */
      keepBest(wanted: number): void {
        const sound = workbench.sound();
        const known = store.current() ? store.family() : undefined;
        if (!sound || !known) return;
        const dropped = sound.family.siblings.flatMap(({ state }, index) => (state === 'dropped' ? [index] : []));
        const { chosen, nearest } = bestSiblings(known.distances, wanted, new Set([...dropped, ...known.findings.outliers]));
        document.edit('keepBest', { sound: sound.id, kept: chosen.map((index) => ({ index, draws: drawSibling(sound, index) })) });
        const apart = nearest
          ? `; the nearest two, ${nearest.a + 1} and ${nearest.b + 1}, are ${nearest.distance.toFixed(1)} dB apart`
          : '';
        notices.info(`Kept ${chosen.length} that differ most evenly${apart}.`);
      },
      /** Brings the loudness of all kept siblings within a span. */
      evenOut(span: number): void {
        const sound = workbench.sound();
        // A second click must not act on what was measured before the first.
        if (!sound || !store.current()) return;
        const kept = sound.family.siblings.flatMap(({ state }, index) => {
          const measured = state === 'kept' ? renders.siblings()[index]?.measured : undefined;
          return measured ? [{ index, ...measured }] : [];
        });
        const changes = [...evenOut(kept, span)].map(([index, gain]) => ({ index, gain }));
        if (changes.length === 0) notices.info('The kept siblings lie within that already.');
        else document.edit('levelSiblings', { sound: sound.id, changes });
      },
      /** Plays the family in fast alternation, or ends that. */
      async fire(): Promise<void> {
        if (store.firing()) {
          playback.stop();
          return;
        }
        const ready = new Map(
          store.members().flatMap((index) => (renders.siblings()[index] ? [[index, renders.siblings()[index]!.audio]] : [])),
        );
        if (ready.size === 0) return;
        patchState(store, ({ volleys }) => ({ volleys: volleys + 1 }));
        const order = fireOrder([...ready.keys()], Math.min(mostFired, Math.ceil(fireSeconds * store.rate())), store.volleys());
        try {
          const audio = await jobs.run('fire', { family: ready, order, rate: store.rate() }, 'Firing the family', { quiet: true });
          playback.audition(firedName, audio);
        } catch (error) {
          if (!(error instanceof JobCancelled)) notices.error(error instanceof Error ? error.message : String(error));
        }
      },
    };
  }),
  withHooks(({ _jobs: jobs, ...store }, notices = inject(Notices)) => {
    let asked = new AbortController();
    const measure = async (of: readonly SiblingAudio[]): Promise<void> => {
      const { signal } = (asked = new AbortController());
      patchState(store, { measuring: true });
      try {
        const family = await jobs.run('familyMap', { prints: of.map(({ print }) => print) }, 'Measuring the family', { signal });
        patchState(store, { measured: { of, family } });
      } catch (error) {
        if (!(error instanceof JobCancelled)) notices.error(error instanceof Error ? error.message : String(error));
      } finally {
        if (!signal.aborted) patchState(store, { measuring: false });
      }
    };
    return {
      onInit: () =>
        void effect(() => {
          const of = store.rendered();
          asked.abort();
          if (of && !untracked(store.current)) void untracked(() => measure(of));
        }),
      onDestroy: () => asked.abort(),
    };
  }),
);

export type FamilyMap = InstanceType<typeof FamilyMap>;
