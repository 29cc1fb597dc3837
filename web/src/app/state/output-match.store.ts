import { effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withHooks, withMethods, withState } from '@ngrx/signals';
import type { OutputMatch as Match } from '@tangled-choir/core';
import { effectCatalogue, findProperty, stepAddress, stepsOf } from '@tangled-choir/core';
import { JobCancelled } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';
import { Notices } from './notices';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

/** Milliseconds without an edit after which a step that is kept matched is measured anew. */
const rest = 700;
/** Smaller corrections are not worth an edit. */
const least = 0.05;

interface OutputMatchState {
  /** Steps whose output follows every change, by id. */
  readonly kept: ReadonlySet<string>;
  readonly measuring: string | undefined;
  /** What was found last, by step. */
  readonly found: ReadonlyMap<string, Match>;
}

/** Brings steps to the loudness that went into them, once or whenever something changes; measured over the whole sound by a job. */
export const OutputMatch = signalStore(
  withState<OutputMatchState>({ kept: new Set<string>(), measuring: undefined, found: new Map<string, Match>() }),
  withMethods(
    (
      store,
      document = inject(DocumentStore),
      workbench = inject(WorkbenchStore),
      jobs = inject(ProjectJobs),
      renderables = inject(Renderables),
      notices = inject(Notices),
    ) => {
      let running = new AbortController();

      /** Where the output level of a step of the open sound is, by id; undefined once it is gone. */
      const addressOf = (step: string): string | undefined => {
        const sound = workbench.sound();
        if (!sound) return undefined;
        const owners = [
          ...sound.layers.map(({ id, chain }) => ({ owner: { layer: id }, chain })),
          ...sound.buses.map(({ id, chain }) => ({ owner: { bus: id }, chain })),
          { owner: 'sound' as const, chain: sound.chain },
        ];
        const home = owners.find(({ chain }) => stepsOf(chain).some(({ id }) => id === step));
        return home && stepAddress(home.owner, step, 'output');
      };

      const match = async (step: string, after?: string): Promise<void> => {
        const project = document.project();
        const sound = workbench.sound();
        const address = addressOf(step);
        if (!project || !sound || address === undefined) return;
        running.abort();
        const { signal } = (running = new AbortController());
        patchState(store, { measuring: step });
        try {
          const input = { sound, step, address, ...(await renderables.load(project, [sound])) };
          const found = await jobs.run('outputMatch', input, 'Matching the output', { signal, quiet: true });
          patchState(store, (state) => ({ found: new Map(state.found).set(step, found) }));
          // Whatever was changed meanwhile is measured in its turn.
          if (workbench.sound() !== sound) return;
          const property = findProperty(sound, address, effectCatalogue);
          if (Math.abs(Number(property?.value) - found.output) < least) return;
          document.edit('setValues', { sound: sound.id, values: { [address]: found.output }, label: 'Match the output' }, after);
        } catch (error) {
          if (!(error instanceof JobCancelled)) notices.error(error instanceof Error ? error.message : String(error));
        } finally {
          if (!signal.aborted) patchState(store, { measuring: undefined });
        }
      };

      return {
        match: (step: string): Promise<void> => match(step),
        /** Matches with every change from now on, or no more. */
        keep(step: string, kept: boolean): void {
          patchState(store, (state) => {
            const steps = new Set(state.kept);
            if (kept) steps.add(step);
            else steps.delete(step);
            return { kept: steps };
          });
        },
        /** Matches those that are kept matched; what it changes belongs to the undo step of what was changed last. */
        async follow(): Promise<void> {
          for (const step of store.kept()) await match(step, document.lastGesture());
        },
        stop: (): void => running.abort(),
      };
    },
  ),
  withHooks((store, workbench = inject(WorkbenchStore)) => {
    let waiting: ReturnType<typeof setTimeout> | undefined;
    return {
      onInit(): void {
        effect(() => {
          workbench.sound();
          const { size } = store.kept();
          clearTimeout(waiting);
          if (size > 0) waiting = setTimeout(() => untracked(() => void store.follow()), rest);
        });
      },
      onDestroy(): void {
        clearTimeout(waiting);
        store.stop();
      },
    };
  }),
);

export type OutputMatch = InstanceType<typeof OutputMatch>;
