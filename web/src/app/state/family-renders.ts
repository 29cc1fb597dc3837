import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { effectCatalogue, recipeId, siblingSound } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { JobCancelled, JobPool } from '../engine/job-pool';
import type { MeasuredAudio } from '../engine/protocol';
import { DocumentStore } from './document.store';
import { Notices } from './notices';
import { renderable } from './renderable';
import { WorkbenchStore } from './workbench.store';

const settleTime = 200;

/**
 * The rendered siblings of the sound being worked on. Renders what is missing whenever the family changes, on all cores; a sibling whose
 * recipe has not changed is kept as it is.
 */
@Injectable({ providedIn: 'root' })
export class FamilyRenders {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(JobPool);
  private readonly notices = inject(Notices);
  private readonly finished = signal<ReadonlyMap<string, MeasuredAudio>>(new Map());
  private readonly running = signal(0);
  private abort: AbortController | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Rendering was stopped by a person and waits until they want it again. */
  readonly paused = signal(false);
  /** Somebody looks at the family; without that nothing is rendered. */
  readonly watched = signal(false);

  /** Per sibling the key of its recipe. */
  private readonly keys = computed(() => {
    const sound = this.workbench.sound();
    const project = this.document.project();
    if (!sound || !project) return [];
    return sound.family.siblings.map((_, index) => recipeId(siblingSound(sound, index, effectCatalogue), project));
  });
  /** Siblings are rendered only once all audio of the sound is there, or known to be missing. */
  private readonly audioReady = computed(() => {
    const sound = this.workbench.sound();
    const project = this.document.project();
    if (!sound || !project) return false;
    const { identities, audio } = renderable(project, sound, this.library);
    return [...identities.values()].every((hash) => audio.has(hash) || this.library.missing().has(hash));
  });
  readonly siblings = computed(() => this.keys().map((key) => this.finished().get(key)));
  readonly ready = computed(() => this.siblings().filter((sibling) => sibling !== undefined).length);
  readonly busy = computed(() => this.running() > 0);

  constructor() {
    effect(() => {
      const keys = this.keys();
      const wanted = this.watched() && !this.paused() && this.audioReady();
      untracked(() => {
        clearTimeout(this.timer);
        if (wanted && keys.some((key) => !this.finished().has(key))) this.timer = setTimeout(() => void this.renderMissing(), settleTime);
      });
    });
  }

  /** Stops what is being rendered; what is ready stays. */
  cancel(): void {
    this.paused.set(true);
    this.abort?.abort();
  }

  resume(): void {
    this.paused.set(false);
  }

  private async renderMissing(): Promise<void> {
    this.abort?.abort();
    const abort = (this.abort = new AbortController());
    const keys = this.keys();
    const sound = this.workbench.sound();
    const project = this.document.project();
    if (!sound || !project) return;
    const kept = new Map(
      keys.flatMap((key): [string, MeasuredAudio][] => (this.finished().has(key) ? [[key, this.finished().get(key)!]] : [])),
    );
    this.finished.set(kept);
    const missing = keys.map((key, index) => ({ key, index })).filter(({ key, index }) => !kept.has(key) && keys.indexOf(key) === index);
    this.running.update((count) => count + missing.length);
    await Promise.all(
      missing.map(async ({ key, index }) => {
        try {
          const sibling = siblingSound(sound, index, effectCatalogue);
          // A clip may begin elsewhere in a long recording. What is missing is silent, as in the sound itself.
          await this.library.loadAll(project, [sibling]).catch(() => undefined);
          const request = { kind: 'render', ...renderable(project, sibling, this.library) } as const;
          const result = await this.jobs.run(request, `Sibling ${index + 1} of ${sound.name}`, { signal: abort.signal });
          this.finished.update((map) => new Map(map).set(key, result));
        } catch (error) {
          if (!(error instanceof JobCancelled))
            this.notices.error(`Sibling ${index + 1} could not be rendered: ${error instanceof Error ? error.message : String(error)}`);
        } finally {
          this.running.update((count) => count - 1);
        }
      }),
    );
  }
}
