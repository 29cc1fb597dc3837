import { inject, Injectable, signal } from '@angular/core';
import type { Clip, MethodChoice } from '@tangled-choir/core';
import { sourceIdentities, stretchedNeed, treatmentOf } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from './project/document.store';

/** What is found out about stretched clips in the background: which method suits them, and why. */
@Injectable()
export class StretchJudging {
  private readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(ProjectJobs);
  private readonly choices = signal<ReadonlyMap<string, MethodChoice>>(new Map());
  private readonly running = new Set<string>();

  /** The method that suits a clip's content; undefined while that is being found out. A signal is read. */
  choiceFor(clip: Clip): MethodChoice | undefined {
    const source = this.document.project()?.sources.find(({ id }) => id === clip.source);
    if (!source) return undefined;
    const identity = sourceIdentities([source]).get(source.id)!;
    // The content alone decides, not what is made of it.
    const { offset, length, loop, speed } = clip;
    const key = JSON.stringify([identity, offset, length, loop, speed]);
    const known = this.choices().get(key);
    if (!known && !this.running.has(key)) void this.find(key, clip);
    return known;
  }

  private async find(key: string, clip: Clip): Promise<void> {
    this.running.add(key);
    try {
      const source = this.document.project()!.sources.find(({ id }) => id === clip.source)!;
      const audio = await this.library.load(source, [stretchedNeed(clip)]);
      const choice = await this.jobs.run('chooseMethod', { audio, treatment: treatmentOf(clip) }, 'Choosing how to stretch', { quiet: true });
      this.choices.update((before) => new Map([...before, [key, choice]]));
    } catch {
      // Without audio there is nothing to choose by; who plays it is told.
    } finally {
      this.running.delete(key);
    }
  }
}
