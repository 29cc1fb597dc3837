import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withProps, withState } from '@ngrx/signals';
import type { Difference, Sound } from '@tangled-choir/core';
import { drawSibling, effectCatalogue, siblingSound } from '@tangled-choir/core';
import { JobCancelled } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import { Notices } from './notices';
import { DocumentStore } from './project/document.store';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

interface DifferencesState {
  /** What was found about a sibling, and of which state of its sound. */
  readonly found: { readonly sound: Sound; readonly index: number; readonly differences: readonly Difference[] } | undefined;
  /** The sibling that is looked into. */
  readonly asked: number | undefined;
}

/** Which draws make a sibling what it is, found out where somebody asks. */
export const FamilyDifferences = signalStore(
  withState<DifferencesState>({ found: undefined, asked: undefined }),
  withProps(() => ({ _workbench: inject(WorkbenchStore) })),
  withComputed(({ found, _workbench: workbench }) => ({
    /** What was found as long as the sound is as it was. */
    current: computed(() => (found()?.sound === workbench.sound() ? found() : undefined)),
  })),
  withMethods((store, document = inject(DocumentStore), renderables = inject(Renderables), jobs = inject(ProjectJobs)) => {
    const notices = inject(Notices);
    let abort: AbortController | undefined;
    return {
      /** Renders the sibling again without each of its draws. Whoever is asked about before is let go. */
      async ask(index: number): Promise<void> {
        abort?.abort();
        const { signal } = (abort = new AbortController());
        const [sound, project] = [store._workbench.sound(), document.project()];
        if (!sound || !project) return;
        patchState(store, { asked: index });
        try {
          const input = await renderables.load(project, [sound, siblingSound(sound, index, effectCatalogue)], 'is silent');
          const label = `What differs in sibling ${index + 1} of ${sound.name}`;
          const differences = await jobs.run('whatDiffers', { sound, draws: drawSibling(sound, index), ...input }, label, { signal });
          patchState(store, { found: { sound, index, differences } });
        } catch (error) {
          if (!(error instanceof JobCancelled)) notices.error(error instanceof Error ? error.message : String(error));
        } finally {
          if (!signal.aborted) patchState(store, { asked: undefined });
        }
      },
    };
  }),
);

export type FamilyDifferences = InstanceType<typeof FamilyDifferences>;
