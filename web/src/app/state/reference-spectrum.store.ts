import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import { JobCancelled } from '@tangled-choir/jobs';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { spectrumHigh, spectrumLow, spectrumPoints } from '../engine/protocol';
import { DocumentStore } from './project/document.store';
import { Notices } from './notices';

interface ReferenceState {
  /** The chosen source; empty for none. */
  readonly source: string;
  readonly levels: Float32Array | undefined;
}

/** The mean spectrum of a source that the meters show behind what is heard. */
export const ReferenceSpectrum = signalStore(
  withState<ReferenceState>({ source: '', levels: undefined }),
  withMethods(
    (store, document = inject(DocumentStore), library = inject(AudioLibrary), jobs = inject(ProjectJobs), notices = inject(Notices)) => ({
      async choose(id: string): Promise<void> {
        patchState(store, { source: id, levels: undefined });
        const source = document.project()?.sources.find((candidate) => candidate.id === id);
        if (!source) return;
        try {
          const input = { ...(await library.stored(source)), points: spectrumPoints, low: spectrumLow, high: spectrumHigh };
          const { levels } = await jobs.run('meanSpectrum', input, `Spectrum of ${source.name}`);
          // Another may have been chosen meanwhile.
          if (store.source() === id) patchState(store, { levels });
        } catch (error) {
          if (store.source() === id) patchState(store, { source: '' });
          if (!(error instanceof JobCancelled)) notices.error(error instanceof Error ? error.message : String(error));
        }
      },
    }),
  ),
);

export type ReferenceSpectrum = InstanceType<typeof ReferenceSpectrum>;
