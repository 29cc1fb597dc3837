import { inject, Injectable, signal } from '@angular/core';
import type { Clip, MethodChoice, Source, Strain } from '@tangled-choir/core';
import { isStretched, sourceIdentities, stretchedNeed, treatmentKey, treatmentOf } from '@tangled-choir/core';
import type { JobInput, JobOutput } from '@tangled-choir/jobs';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';
import { TreatedClips } from './treated-clips.store';
import { WorkbenchStore } from './workbench.store';

/** What was found out is remembered of so many stretches. */
const mostKnown = 500;

/** What is found out about stretched clips in the background: which method suits them and why, and what it did to them. */
@Injectable()
export class StretchJudging {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(ProjectJobs);
  private readonly treated = inject(TreatedClips);
  private readonly choices = signal<ReadonlyMap<string, MethodChoice>>(new Map());
  private readonly strains = signal<ReadonlyMap<string, Strain>>(new Map());
  private readonly running = new Set<string>();

  /** The method that suits a clip's content; undefined while that is being found out. A signal is read. */
  choiceFor(clip: Clip): MethodChoice | undefined {
    const source = this.sourceOf(clip);
    if (!source) return undefined;
    // The content alone decides, not what is made of it.
    const { offset, length, loop, speed } = clip;
    const key = JSON.stringify([identityOf(source), offset, length, loop, speed]);
    return this.found(key, this.choices, () => this.judge('chooseMethod', clip, source));
  }

  /** What the stretch of a clip did to it; undefined where it has none, or while that is being found out. A signal is read. */
  strainOf(plain: Clip): Strain | undefined {
    const clip = this.workbench.asHeard(plain);
    const source = isStretched(clip) ? this.sourceOf(clip) : undefined;
    if (!source) return undefined;
    const treatment = treatmentKey(identityOf(source), clip);
    const made = this.treated.made().get(treatment);
    // Judged as soon as it is heard.
    if (!made) return undefined;
    const key = JSON.stringify([treatment, clip.offset, clip.length, clip.reversed]);
    return this.found(key, this.strains, () => this.judge('strain', clip, source, { made }));
  }

  private found<T>(key: string, known: ReturnType<typeof signal<ReadonlyMap<string, T>>>, find: () => Promise<T>): T | undefined {
    const value = known().get(key);
    if (value === undefined && !this.running.has(key)) {
      this.running.add(key);
      const keep = (one: T): void => {
        known.update((before) => new Map([...[...before].slice(1 - mostKnown), [key, one]]));
        this.running.delete(key);
      };
      // Without audio, or without its project, there is nothing to judge; who plays it is told. It is not tried again.
      find().then(keep, () => undefined);
    }
    return value;
  }

  private async judge<N extends 'chooseMethod' | 'strain'>(
    job: N,
    clip: Clip,
    source: Source,
    more: Pick<JobInput<'strain'>, 'made'> = {},
  ): Promise<JobOutput<N>> {
    const audio = await this.library.load(source, [stretchedNeed(clip)]);
    const input = { audio, treatment: treatmentOf(clip), ...more } as JobInput<N>;
    return this.jobs.run(job, input, 'Judging a stretch', { quiet: true, background: true });
  }

  private sourceOf(clip: Clip): Source | undefined {
    return this.document.project()?.sources.find(({ id }) => id === clip.source);
  }
}

function identityOf(source: Source): string {
  return sourceIdentities([source]).get(source.id)!;
}
