import { computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withProps, withState } from '@ngrx/signals';
import type { Seating } from '@tangled-choir/core';
import { guideLayerId, soundEnd, withGuide } from '@tangled-choir/core';
import { JobCancelled } from '@tangled-choir/jobs';
import { LiveEngine } from '../engine/live/live-engine';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';
import { LecternPanel } from './lectern-panel.store';
import { Notices } from './notices';
import { Playback } from './playback.store';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

/** Milliseconds without an edit after which the sound is measured anew. */
const rest = 700;

interface SeatingState {
  readonly measured: Seating | undefined;
  readonly measuring: boolean;
}

/** The seating of the open sound: live while it plays, over the loop or the whole sound while it does not. */
export const SeatingChart = signalStore(
  withState<SeatingState>({ measured: undefined, measuring: false }),
  withProps(() => ({
    _engine: inject(LiveEngine),
    _workbench: inject(WorkbenchStore),
    _playback: inject(Playback),
    _panel: inject(LecternPanel),
  })),
  withComputed(({ measured, _engine: engine, _workbench: workbench, _playback: playback, _panel: panel }) => {
    /** Also with a guide that is on, once the engine has it. */
    const live = computed(() => {
      const seating = engine.playing() === 'sound' ? engine.meters()?.seating : undefined;
      const wanted = workbench.sound()?.guide?.on === true;
      return seating !== undefined && (!wanted || seating.layers.some(({ layer }) => layer === guideLayerId));
    });
    return {
      live,
      open: computed(() => panel.visible() === 'seating'),
      seating: computed(() => (live() ? engine.meters()?.seating : measured())),
      range: computed(() => {
        const sound = workbench.sound();
        return (workbench.looping() && playback.loopRange()) || { from: 0, to: sound ? soundEnd(sound) : 0 };
      }),
    };
  }),
  withHooks(
    (store, document = inject(DocumentStore), jobs = inject(ProjectJobs), renderables = inject(Renderables), notices = inject(Notices)) => {
      const { _engine: engine, _workbench: workbench } = store;
      let waiting: ReturnType<typeof setTimeout> | undefined;
      /** Ends a measurement that nobody waits for any more. */
      let running = new AbortController();

      const measure = async (): Promise<void> => {
        const project = document.project();
        const plain = workbench.sound();
        const sound = project && plain && withGuide(plain, project);
        const range = store.range();
        const { signal } = (running = new AbortController());
        if (!project || !sound || range.to <= range.from) {
          patchState(store, { measured: undefined });
          return;
        }
        patchState(store, { measuring: true });
        try {
          const input = { sound, range, ...(await renderables.load(project, [sound])) };
          const measured = await jobs.run('seating', input, `Seating of ${sound.name}`, { signal });
          patchState(store, { measured });
        } catch (error) {
          if (!(error instanceof JobCancelled)) notices.error(error instanceof Error ? error.message : String(error));
        } finally {
          if (!signal.aborted) patchState(store, { measuring: false });
        }
      };

      return {
        onInit(): void {
          effect(() => engine.showSeating(store.open()));
          effect(() => {
            workbench.sound();
            store.range();
            const open = store.open();
            clearTimeout(waiting);
            running.abort();
            if (open) waiting = setTimeout(() => void measure(), rest);
          });
          effect(() => {
            workbench.soundId();
            untracked(() => patchState(store, { measured: undefined }));
          });
        },
        onDestroy(): void {
          clearTimeout(waiting);
          running.abort();
        },
      };
    },
  ),
);

export type SeatingChart = InstanceType<typeof SeatingChart>;
