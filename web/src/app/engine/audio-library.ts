import { inject, Injectable, signal } from '@angular/core';
import type { Project } from '@tangled-choir/core';
import { ProjectRepository } from '../storage/project-repository';
import { JobPool } from './job-pool';
import type { LoadedAudio, SharedAudio } from './protocol';

/** The sampled audio of the open project, decoded once and shared by everybody who plays, renders or draws it. */
@Injectable({ providedIn: 'root' })
export class AudioLibrary {
  private readonly repository = inject(ProjectRepository);
  private readonly jobs = inject(JobPool);
  private readonly loaded = signal<ReadonlyMap<string, LoadedAudio>>(new Map());
  private readonly loading = new Map<string, Promise<LoadedAudio>>();
  /** Sources whose audio could not be read, by hash. */
  readonly missing = signal<ReadonlyMap<string, string>>(new Map());

  /** What is known of a recording so far; a signal read, so that views follow when it arrives. */
  get(hash: string): LoadedAudio | undefined {
    return this.loaded().get(hash);
  }

  put(hash: string, name: string, audio: LoadedAudio): void {
    this.loaded.update((map) => new Map(map).set(hash, audio));
    if (!audio.measured) void this.measure(hash, name, audio);
  }

  /** Loads and decodes a recording unless it is there already. Rejects when the database does not have it. */
  load(hash: string, name: string): Promise<LoadedAudio> {
    const known = this.loaded().get(hash);
    if (known) return Promise.resolve(known);
    let promise = this.loading.get(hash);
    if (!promise) {
      promise = this.decode(hash, name).finally(() => this.loading.delete(hash));
      this.loading.set(hash, promise);
    }
    return promise;
  }

  /** Loads everything that a project uses, in the background, and lets go of what another project used. */
  loadAll(project: Project): void {
    if (project.id !== this.projectId) {
      this.projectId = project.id;
      const needed = new Set(project.sources.map((source) => source.audio));
      this.loaded.update((map) => new Map([...map].filter(([hash]) => needed.has(hash))));
      this.missing.set(new Map());
    }
    // What is missing once is not asked for again at every edit.
    for (const source of project.sources)
      if (!this.missing().has(source.audio)) this.load(source.audio, source.name).catch(() => undefined);
  }
  private projectId: string | undefined;

  /** The recordings that are ready, by hash, for renders. */
  shared(hashes: Iterable<string>): Map<string, SharedAudio> {
    const result = new Map<string, SharedAudio>();
    const loaded = this.loaded();
    for (const hash of hashes) {
      const entry = loaded.get(hash);
      if (entry) result.set(hash, entry.audio);
    }
    return result;
  }

  private async measure(hash: string, name: string, audio: LoadedAudio): Promise<void> {
    const measured = await this.jobs.run({ kind: 'measure', audio: audio.audio }, `Measuring ${name}`).catch(() => undefined);
    if (measured) this.loaded.update((map) => new Map(map).set(hash, { ...audio, measured }));
  }

  private async decode(hash: string, name: string): Promise<LoadedAudio> {
    try {
      const wav = await this.repository.loadAudio(hash);
      if (!wav) throw new Error(`The audio of “${name}” is not in this browser's storage.`);
      const result = await this.jobs.run({ kind: 'decode', name: `“${name}”`, wav }, `Reading ${name}`, { quiet: true });
      this.put(hash, name, result);
      return result;
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error);
      this.missing.update((map) => new Map(map).set(hash, message));
      throw error;
    }
  }
}
