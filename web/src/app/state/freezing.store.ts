import { computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withProps, withState } from '@ngrx/signals';
import type { FrozenLayer, Sound } from '@tangled-choir/core';
import { freezeIdentity, freezeRecipe, soloed, soundEnd, sourceIdentities } from '@tangled-choir/core';
import { JobCancelled } from '@tangled-choir/jobs';
import { JobPool } from '../engine/job-pool';
import { LiveEngine } from '../engine/live/live-engine';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';
import { Judging } from './judging.store';
import { Notices } from './notices';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

/** Above this share of real time, a sound is too heavy: the engine has one core, and others use it too. */
const tooHeavy = 0.6;
/** Layers that take less than this are not worth it. */
const worthFreezing = 0.08;
/**
 * Milliseconds for which it must have been too heavy; more while jobs keep the machine busy, because everything seems heavier then than it
 * is, and one job more would not help at once.
 */
const patience = 1_000;
const patienceWithJobs = 10_000;
/** Milliseconds without an edit of the sound before a layer is frozen, so that nothing is rendered in vain. */
const rest = 1_500;
/** A longer sound would take too much memory: two minutes of stereo are 46 MB. */
const longestSeconds = 120;

/** A frozen layer, and what it took live, as a share of real time. */
interface Frozen {
  readonly layer: FrozenLayer;
  readonly load: number;
}

const none: ReadonlyMap<string, Frozen> = new Map();

interface FreezingState {
  readonly kept: ReadonlyMap<string, Frozen>;
  /** Layers that somebody wants to stay live. */
  readonly live: ReadonlySet<string>;
}

/**
 * Layers that are too heavy to be computed while they play are rendered in the background and played as they were rendered, until
 * something changes that would be heard.
 */
export const Freezing = signalStore(
  withState<FreezingState>({ kept: none, live: new Set<string>() }),
  withProps(() => ({
    _engine: inject(LiveEngine),
    _document: inject(DocumentStore),
    _workbench: inject(WorkbenchStore),
    _judging: inject(Judging),
  })),
  withComputed(({ kept, _document: document, _workbench: workbench }) => {
    const identityOf = (sound: Sound, layer: string): string => {
      const { sampleRate, sources } = document.project()!;
      return freezeIdentity(freezeRecipe(sound, layer), { sampleRate, identities: sourceIdentities(sources) });
    };
    return {
      /** Those that still are what their layers would give. */
      current: computed((): ReadonlyMap<string, Frozen> => {
        const sound = workbench.sound();
        if (!sound || kept().size === 0) return none;
        const entries = [...kept()].filter(
          ([id, { layer }]) => sound.layers.some((each) => each.id === id) && layer.identity === identityOf(sound, id),
        );
        return entries.length > 0 ? new Map(entries) : none;
      }),
    };
  }),
  withComputed(({ current, _workbench: workbench, _judging: judging }) => ({
    /** What the engine plays in the place of layers. */
    playable: computed(
      (): ReadonlyMap<string, FrozenLayer> => {
        // Whoever listens to a part of a chain needs it at work; a branch that is heard alone may lie in what others hear as a key.
        const sound = workbench.sound();
        if (sound && soloed(sound).some(({ kind }) => kind === 'branch')) return new Map();
        const listened = judging.alone() && workbench.layer()?.id;
        return new Map([...current()].filter(([id]) => id !== listened).map(([id, { layer }]) => [id, layer]));
      },
      { equal: sameLayers },
    ),
  })),
  withMethods((store) => ({
    /** What a frozen layer took live, as a share of real time; nothing for layers that are not frozen. */
    loadOf: (layer: string): number | undefined => store.current().get(layer)?.load,
    /** Plays a layer live again, and leaves it so. */
    keepLive: (layer: string): void =>
      patchState(store, ({ live, kept }) => ({
        live: new Set([...live, layer]),
        kept: new Map([...kept].filter(([id]) => id !== layer)),
      })),
  })),
  withHooks((store, pool = inject(JobPool), jobs = inject(ProjectJobs), renderables = inject(Renderables), notices = inject(Notices)) => {
    const { _document: document, _workbench: workbench, _engine: engine } = store;
    const told = new Set<string>();
    let busy = false;
    let lastEdit = 0;
    let heavySince: number | undefined;

    const freeze = async (id: string, load: number): Promise<void> => {
      const project = document.project();
      const sound = workbench.sound();
      const layer = sound?.layers.find((each) => each.id === id);
      if (!project || !sound || !layer || soundEnd(sound) > longestSeconds) return;
      busy = true;
      try {
        const recipe = freezeRecipe(sound, id);
        // What is missing would be frozen as silence.
        const input = { sound: recipe, ...(await renderables.load(project, [recipe])) };
        const frozen = await jobs.run('freeze', input, `Freezing ${layer.name}`);
        patchState(store, ({ kept }) => ({ kept: new Map([...kept, [id, { layer: frozen, load }]]) }));
        if (told.has(id) || !store.current().has(id)) return;
        told.add(id);
        notices.info(`“${layer.name}” takes ${Math.round(load * 100)} % of real time, so it is frozen. Any change of it thaws it.`);
      } catch (error) {
        // Who cancels it wants it live, and what failed once would fail again and again.
        store.keepLive(id);
        if (!(error instanceof JobCancelled)) notices.error(error instanceof Error ? error.message : String(error));
      } finally {
        busy = false;
      }
    };

    const consider = (loads: ReadonlyMap<string, number>): void => {
      const sum = [...loads.values()].reduce((total, load) => total + load, 0);
      const now = performance.now();
      if (sum < tooHeavy) heavySince = undefined;
      else heavySince ??= now;
      if (busy || heavySince === undefined || now - lastEdit < rest) return;
      if (now - heavySince < (pool.busy() > 0 ? patienceWithJobs : patience)) return;
      const candidates = (workbench.sound()?.layers ?? [])
        .map(({ id }) => ({ id, load: loads.get(`layer/${id}`) ?? 0 }))
        .filter(({ id, load }) => load > worthFreezing && !store.live().has(id) && !store.current().has(id))
        .sort((a, b) => b.load - a.load);
      if (candidates[0]) void freeze(candidates[0].id, candidates[0].load);
    };

    return {
      onInit(): void {
        effect(() => {
          workbench.sound();
          lastEdit = performance.now();
        });
        effect(() => {
          const loads = engine.playing() === 'sound' ? engine.meters()?.loads : undefined;
          if (loads) untracked(() => consider(loads));
          else heavySince = undefined;
        });
        effect(() => {
          workbench.soundId();
          untracked(() => patchState(store, { kept: none }));
        });
      },
    };
  }),
);

export type Freezing = InstanceType<typeof Freezing>;

function sameLayers(a: ReadonlyMap<string, FrozenLayer>, b: ReadonlyMap<string, FrozenLayer>): boolean {
  return a.size === b.size && [...a].every(([id, layer]) => b.get(id) === layer);
}
