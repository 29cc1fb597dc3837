import { inject, Injectable, signal } from '@angular/core';
import { drawnPoints, soundBefore } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { JobCancelled, JobPool } from '../engine/job-pool';
import { DocumentStore } from './document.store';
import { Notices } from './notices';
import { renderable } from './renderable';
import { WorkbenchStore } from './workbench.store';

/** Measures what brings the sound in front of a step to the long-term spectrum of a source. */
@Injectable({ providedIn: 'root' })
export class SpectrumMatch {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(JobPool);
  private readonly notices = inject(Notices);
  readonly busy = signal(false);

  /** Levels in dB at the points of a drawn curve; nothing when it failed or was cancelled, which is told. */
  async levels(step: string, sourceId: string): Promise<readonly number[] | undefined> {
    const project = this.document.project();
    const sound = this.workbench.sound();
    const source = project?.sources.find(({ id }) => id === sourceId);
    if (!project || !sound || !source) return undefined;
    this.busy.set(true);
    try {
      const recipe = soundBefore(sound, this.workbench.owner(), step);
      await this.library.loadAll(project, [recipe]);
      const target = await this.library.stored(source);
      const request = { kind: 'match' as const, ...target, frequencies: drawnPoints, ...renderable(project, recipe, this.library) };
      return await this.jobs.run(request, `Matching ${source.name}`);
    } catch (error) {
      if (!(error instanceof JobCancelled)) this.notices.error(error instanceof Error ? error.message : String(error));
      return undefined;
    } finally {
      this.busy.set(false);
    }
  }
}
