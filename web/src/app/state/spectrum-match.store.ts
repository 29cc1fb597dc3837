import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import { drawnPoints, soundBefore } from '@tangled-choir/core';
import { JobCancelled } from '@tangled-choir/jobs';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';
import { Notices } from './notices';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

/** Measures what brings the sound in front of a step to the long-term spectrum of a source. */
export const SpectrumMatch = signalStore(
  withState({ busy: false }),
  withMethods(
    (
      store,
      document = inject(DocumentStore),
      workbench = inject(WorkbenchStore),
      library = inject(AudioLibrary),
      renderables = inject(Renderables),
      jobs = inject(ProjectJobs),
      notices = inject(Notices),
    ) => ({
      /** Levels in dB at the points of a drawn curve; nothing when it failed or was cancelled, which is told. */
      async levels(step: string, sourceId: string): Promise<readonly number[] | undefined> {
        const project = document.project();
        const sound = workbench.sound();
        const source = project?.sources.find(({ id }) => id === sourceId);
        if (!project || !sound || !source) return undefined;
        patchState(store, { busy: true });
        try {
          const recipe = soundBefore(sound, workbench.owner(), step);
          const rendering = await renderables.load(project, [recipe]);
          const input = { sound: recipe, ...rendering, ...(await library.stored(source)), frequencies: drawnPoints };
          return await jobs.run('match', input, `Matching ${source.name}`);
        } catch (error) {
          if (!(error instanceof JobCancelled)) notices.error(error instanceof Error ? error.message : String(error));
          return undefined;
        } finally {
          patchState(store, { busy: false });
        }
      },
    }),
  ),
);

export type SpectrumMatch = InstanceType<typeof SpectrumMatch>;
