import { computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withProps, withState } from '@ngrx/signals';
import type { ConductData, Project, Sound, WantedTake } from '@tangled-choir/core';
import { conductData, effectCatalogue, recipeId, wantedTakes } from '@tangled-choir/core';
import type { SharedAudio } from '@tangled-choir/jobs';
import { JobCancelled } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';
import { Notices } from './notices';
import { Renderables } from './renderables';

interface TakesState {
  /** Rendered takes by the ids of their recipes. */
  readonly finished: ReadonlyMap<string, SharedAudio>;
  readonly running: number;
  /** Somebody looks at behaviours; without that nothing is rendered. */
  readonly watched: boolean;
}

/** A take with the id of everything that decides how it comes out. */
interface KeyedTake extends WantedTake {
  readonly recipe: string;
}

const settleTime = 200;

/** Which takes behaviours name, as text: only where that changes is anything looked for anew. */
const playsOf = ({ conduct }: Project): string =>
  conduct.behaviours.map(({ play }) => (play.kind === 'one' ? `${play.sound} ${play.from}` : '')).join('\n');

/** What behaviours play, rendered: each take once, and again only when its recipe changes. */
export const ConductTakes = signalStore(
  withState<TakesState>({ finished: new Map(), running: 0, watched: false }),
  withProps(() => ({ _document: inject(DocumentStore) })),
  withComputed(({ watched, _document: document }) => {
    const source = computed(() => (watched() ? document.project() : undefined), {
      equal: (a, b) =>
        a === b || (a !== undefined && b !== undefined && a.sounds === b.sounds && a.sources === b.sources && playsOf(a) === playsOf(b)),
    });
    const recipes = new WeakMap<Sound, { readonly sources: Project['sources']; readonly ids: Map<number | undefined, string> }>();
    const recipeOf = ({ of, sibling, sound }: WantedTake, project: Project): string => {
      let known = recipes.get(of);
      if (known?.sources !== project.sources) recipes.set(of, (known = { sources: project.sources, ids: new Map() }));
      let id = known.ids.get(sibling);
      if (id === undefined) known.ids.set(sibling, (id = recipeId(sound, project)));
      return id;
    };
    return {
      _source: source,
      wanted: computed((): readonly KeyedTake[] => {
        const project = source();
        return project ? wantedTakes(project, effectCatalogue).map((take) => ({ ...take, recipe: recipeOf(take, project) })) : [];
      }),
    };
  }),
  withComputed(({ wanted, finished, running, _document: document }) => ({
    /** What is rendered, by asset. */
    assets: computed((): ReadonlyMap<string, SharedAudio> => {
      const done = finished();
      return new Map(wanted().flatMap(({ asset, recipe }) => (done.has(recipe) ? [[asset, done.get(recipe)!] as const] : [])));
    }),
    busy: computed(() => running() > 0),
    /** How many takes are there. */
    ready: computed(() => wanted().filter(({ recipe }) => finished().has(recipe)).length),
    _frames: computed(
      () =>
        new Map(
          wanted().flatMap(({ asset, recipe }) => {
            const audio = finished().get(recipe);
            return audio ? [[asset, audio.channels[0]!.length] as const] : [];
          }),
        ),
    ),
    _project: document.project,
  })),
  withComputed(({ wanted, _frames: frames, _project: project }) => ({
    /** What the engine needs of the project as it is now. */
    data: computed((): ConductData | undefined => {
      const now = project();
      return now && conductData(now, wanted(), frames());
    }),
  })),
  withMethods((store, renderables = inject(Renderables), jobs = inject(ProjectJobs), notices = inject(Notices)) => {
    /** Recipes of what is being rendered, and of what could not be. */
    const asked = new Set<string>();
    const failed = new Set<string>();
    return {
      /** Somebody looks at behaviours from now on, or does no longer. Who comes back sees tried again what had failed. */
      watch(watched: boolean): void {
        if (watched) failed.clear();
        patchState(store, { watched });
      },
      async renderMissing(): Promise<void> {
        const project = store._document.project();
        const wanted = store.wanted();
        if (!project) return;
        const needed = new Set(wanted.map(({ recipe }) => recipe));
        patchState(store, ({ finished }) => ({ finished: new Map([...finished].filter(([recipe]) => needed.has(recipe))) }));
        const missing = wanted.filter(
          ({ recipe }, index) =>
            !store.finished().has(recipe) &&
            !asked.has(recipe) &&
            !failed.has(recipe) &&
            wanted.findIndex((other) => other.recipe === recipe) === index,
        );
        patchState(store, ({ running }) => ({ running: running + missing.length }));
        await Promise.all(
          missing.map(async ({ recipe, sound, loops, of }) => {
            asked.add(recipe);
            try {
              const input = { sound, loops, ...(await renderables.load(project, [sound], 'is silent')) };
              const audio = await jobs.run('take', input, `“${of.name}” for the game`, { quiet: true });
              patchState(store, ({ finished }) => ({ finished: new Map(finished).set(recipe, audio) }));
            } catch (error) {
              if (error instanceof JobCancelled) return;
              failed.add(recipe);
              notices.error(`“${of.name}” could not be rendered: ${error instanceof Error ? error.message : String(error)}`);
            } finally {
              asked.delete(recipe);
              patchState(store, ({ running }) => ({ running: running - 1 }));
            }
          }),
        );
      },
    };
  }),
  withHooks((store) => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    return {
      onInit(): void {
        effect(() => {
          const wanted = store.wanted();
          untracked(() => {
            clearTimeout(timer);
            if (wanted.some(({ recipe }) => !store.finished().has(recipe)))
              timer = setTimeout(() => void store.renderMissing(), settleTime);
          });
        });
      },
      onDestroy: (): void => clearTimeout(timer),
    };
  }),
);

export type ConductTakes = InstanceType<typeof ConductTakes>;
