import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { AudioLibrary } from '../engine/audio-library';
import { JobCancelled, JobPool } from '../engine/job-pool';
import { DocumentStore } from './document.store';
import { Notices } from './notices';

/** The mean spectrum of a source that the meters show behind what is heard. */
@Injectable({ providedIn: 'root' })
export class ReferenceSpectrum {
  private readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(JobPool);
  private readonly notices = inject(Notices);
  /** The chosen source; empty for none. */
  readonly source = signal('');
  readonly levels = signal<Float32Array | undefined>(undefined);

  private readonly projectId = computed(() => this.document.project()?.id);

  constructor() {
    // A source of another project may have the same id.
    effect(() => {
      this.projectId();
      untracked(() => void this.choose(''));
    });
  }

  async choose(id: string): Promise<void> {
    this.source.set(id);
    this.levels.set(undefined);
    const source = this.document.project()?.sources.find((candidate) => candidate.id === id);
    if (!source) return;
    try {
      const stored = await this.library.stored(source);
      const { levels } = await this.jobs.run({ kind: 'spectrum', ...stored }, `Spectrum of ${source.name}`);
      // Another may have been chosen meanwhile.
      if (this.source() === id) this.levels.set(levels);
    } catch (error) {
      if (this.source() === id) this.source.set('');
      if (!(error instanceof JobCancelled)) this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }
}
