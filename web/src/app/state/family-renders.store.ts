import { computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withProps, withState } from '@ngrx/signals';
import { effectCatalogue, siblingSound } from '@tangled-choir/core';
import type { Project, Sound } from '@tangled-choir/core';
import type { SiblingAudio } from '@tangled-choir/jobs';
import { JobCancelled } from '@tangled-choir/jobs';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';
import { Notices } from './notices';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

const settleTime = 200;
/** Siblings that are ready are shown so often: each by itself would keep the page as busy as the workers. */
const showEvery = 250;

interface FamilyState {
  /** Ids of the recipes of all siblings, and whose they are. */
  readonly recipes: { readonly sound: Sound; readonly keys: readonly string[] } | undefined;
  /** Finished siblings by the ids of their recipes. */
  readonly finished: ReadonlyMap<string, SiblingAudio>;
  readonly running: number;
  /** Rendering was stopped by a person and waits until they want it again. */
  readonly paused: boolean;
  /** Somebody looks at the family; without that nothing is reckoned and nothing is rendered. */
  readonly watched: boolean;
}

const noKeys: readonly string[] = [];

/**
 * The rendered siblings of the sound being worked on. Renders what is missing whenever the family changes, on all cores; a sibling whose
 * recipe has not changed is kept as it is.
 */
export const FamilyRenders = signalStore(
  withState<FamilyState>({ recipes: undefined, finished: new Map(), running: 0, paused: false, watched: false }),
  withProps(() => ({ _document: inject(DocumentStore), _workbench: inject(WorkbenchStore), _library: inject(AudioLibrary) })),
  withComputed(({ recipes, watched, _document: document, _workbench: workbench, _library: library }) => ({
    keys: computed((): readonly string[] => (recipes()?.sound.id === workbench.sound()?.id ? recipes()?.keys : undefined) ?? noKeys),
    /** Siblings are rendered only once all audio of the sound is there, or known to be missing. */
    audioReady: computed(() => {
      const sound = workbench.sound();
      const project = document.project();
      return watched() && sound !== undefined && project !== undefined && library.settled(project, sound);
    }),
  })),
  withComputed(({ keys, recipes, finished, running, _workbench: workbench }) => {
    const siblings = computed(() => keys().map((key) => finished().get(key)));
    return {
      siblings,
      /** How many are what they should be by now; the others may still show what they were. */
      ready: computed(() => (recipes()?.sound === workbench.sound() ? siblings().filter((sibling) => sibling !== undefined).length : 0)),
      busy: computed(() => running() > 0),
    };
  }),
  withMethods((store, renderables = inject(Renderables), jobs = inject(ProjectJobs), notices = inject(Notices)) => {
    let abort: AbortController | undefined;
    const arrived = new Map<string, SiblingAudio>();
    let ended = 0;
    let showing: ReturnType<typeof setTimeout> | undefined;
    const show = (): void => {
      clearTimeout(showing);
      showing = undefined;
      if (ended === 0) return;
      const [more, fewer] = [new Map(arrived), ended];
      arrived.clear();
      ended = 0;
      patchState(store, ({ finished, running }) => ({ finished: new Map([...finished, ...more]), running: running - fewer }));
    };
    /** The first at once, the last at once, and the others together. */
    const end = (): void => {
      ended++;
      if (ended === store.running()) show();
      else if (showing === undefined) {
        show();
        showing = setTimeout(show, showEvery);
      }
    };
    return {
      /** Somebody looks at the family from now on, or does no longer. */
      watch: (watched: boolean): void => patchState(store, { watched }),
      /** Stops what is being rendered; what is ready stays. */
      cancel(): void {
        patchState(store, { paused: true });
        abort?.abort();
      },
      resume: (): void => patchState(store, { paused: false }),
      async renderMissing(): Promise<void> {
        abort?.abort();
        show();
        const { signal } = (abort = new AbortController());
        const keys = store.keys();
        const sound = store._workbench.sound();
        const project = store._document.project();
        if (!sound || !project) return;
        const wanted = new Set(keys);
        patchState(store, ({ finished }) => ({ finished: new Map([...finished].filter(([key]) => wanted.has(key))) }));
        const missing = keys
          .map((key, index) => ({ key, index }))
          .filter(({ key, index }) => !store.finished().has(key) && keys.indexOf(key) === index);
        patchState(store, ({ running }) => ({ running: running + missing.length }));
        await Promise.all(
          missing.map(async ({ key, index }) => {
            try {
              const sibling = siblingSound(sound, index, effectCatalogue);
              // A clip may begin elsewhere in a long recording. What is missing is silent, as in the sound itself.
              const input = { sound: sibling, ...(await renderables.load(project, [sibling], 'is silent')) };
              const result = await jobs.run('sibling', input, `Sibling ${index + 1} of ${sound.name}`, { signal });
              arrived.set(key, result);
            } catch (error) {
              if (!(error instanceof JobCancelled))
                notices.error(`Sibling ${index + 1} could not be rendered: ${error instanceof Error ? error.message : String(error)}`);
            } finally {
              end();
            }
          }),
        );
      },
    };
  }),
  withHooks((store, jobs = inject(ProjectJobs)) => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let asked = new AbortController();

    const findRecipes = async (sound: Sound, { sources, sampleRate }: Project): Promise<void> => {
      const { signal } = (asked = new AbortController());
      const input = { sound, project: { sources, sampleRate } };
      const keys = await jobs.run('recipes', input, `Recipes of ${sound.name}`, { quiet: true, signal }).catch(() => undefined);
      if (keys && !signal.aborted) patchState(store, { recipes: { sound, keys } });
    };

    return {
      onInit(): void {
        // With many siblings the recipes take long: a worker finds them out, and only while somebody looks.
        effect(() => {
          const sound = store._workbench.sound();
          const project = store._document.project();
          asked.abort();
          if (store.watched() && sound && project) void untracked(() => findRecipes(sound, project));
        });
        effect(() => {
          const keys = store.keys();
          const wanted = store.watched() && !store.paused() && store.audioReady();
          untracked(() => {
            clearTimeout(timer);
            if (wanted && keys.some((key) => !store.finished().has(key))) timer = setTimeout(() => void store.renderMissing(), settleTime);
          });
        });
      },
      onDestroy: (): void => clearTimeout(timer),
    };
  }),
);

export type FamilyRenders = InstanceType<typeof FamilyRenders>;
