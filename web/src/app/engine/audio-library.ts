import { inject, Injectable, signal } from '@angular/core';
import type { Overview, Project, Sound } from '@tangled-choir/core';
import { usedSources } from '@tangled-choir/core';
import { ProjectRepository } from '../storage/project-repository';
import { JobPool } from './job-pool';
import type { LoadedAudio, SharedAudio, SourceFacts } from './protocol';

/**
 * The recordings of the open project. Waveforms and measured facts are kept in the database and there at once; samples are decoded when
 * somebody plays, renders or inspects them, once, and shared by all.
 */
@Injectable({ providedIn: 'root' })
export class AudioLibrary {
  private readonly repository = inject(ProjectRepository);
  private readonly jobs = inject(JobPool);
  private readonly loaded = signal<ReadonlyMap<string, SharedAudio>>(new Map());
  private readonly overviews = signal<ReadonlyMap<string, Overview>>(new Map());
  private readonly described = signal<ReadonlyMap<string, SourceFacts>>(new Map());
  private readonly loading = new Map<string, Promise<SharedAudio>>();
  private readonly describing = new Set<string>();
  private projectId: string | undefined;
  /** Sources whose audio could not be read, by hash. */
  readonly missing = signal<ReadonlyMap<string, string>>(new Map());
  /** Everything that was measured so far, by hash. */
  readonly allFacts = this.described.asReadonly();

  /** The samples, if they are decoded; a signal read, so that views follow when they arrive. */
  audio(hash: string): SharedAudio | undefined {
    return this.loaded().get(hash);
  }

  overview(hash: string): Overview | undefined {
    return this.overviews().get(hash);
  }

  facts(hash: string): SourceFacts | undefined {
    return this.described().get(hash);
  }

  put(hash: string, name: string, { audio, overview }: LoadedAudio): void {
    this.loaded.update((map) => new Map(map).set(hash, audio));
    this.overviews.update((map) => new Map(map).set(hash, overview));
    if (!this.described().has(hash)) void this.describe(hash, name, audio, overview);
  }

  /** Decodes a recording unless that is done already. Rejects when the database does not have it. */
  load(hash: string, name: string): Promise<SharedAudio> {
    const known = this.loaded().get(hash);
    if (known) return Promise.resolve(known);
    let promise = this.loading.get(hash);
    if (!promise) {
      promise = this.decode(hash, name).finally(() => this.loading.delete(hash));
      this.loading.set(hash, promise);
    }
    return promise;
  }

  /**
   * Brings in what a project shows: stored waveforms and facts of all sources, the samples of those that its sounds use, and in the
   * background the facts that are not stored yet.
   */
  async open(project: Project): Promise<void> {
    if (project.id !== this.projectId) {
      this.projectId = project.id;
      const needed = new Set(project.sources.map((source) => source.audio));
      const keep = <T>(map: ReadonlyMap<string, T>): Map<string, T> => new Map([...map].filter(([hash]) => needed.has(hash)));
      this.loaded.update(keep);
      this.overviews.update(keep);
      this.described.update(keep);
      this.missing.set(new Map());
    }
    this.loadUsed(project);
    const unknown = project.sources.filter((source) => !this.overviews().has(source.audio) || !this.described().has(source.audio));
    if (unknown.length === 0) return;
    const stored = await this.repository.loadDerived(unknown.map((source) => source.audio));
    this.overviews.update((map) => new Map([...map, ...stored.map(({ hash, overview }) => [hash, overview] as const)]));
    this.described.update((map) => new Map([...map, ...stored.map(({ hash, facts }) => [hash, facts] as const)]));
    for (const source of unknown)
      if (!this.overviews().has(source.audio) && !this.missing().has(source.audio))
        this.load(source.audio, source.name).catch(() => undefined);
  }

  /** The recordings that are ready, by hash, for renders. */
  shared(hashes: Iterable<string>): Map<string, SharedAudio> {
    const result = new Map<string, SharedAudio>();
    const loaded = this.loaded();
    for (const hash of hashes) {
      const audio = loaded.get(hash);
      if (audio) result.set(hash, audio);
    }
    return result;
  }

  /**
   * Every recording that sounds use, ready to be rendered. Rejects when one is missing: in what leaves the house or is printed, it would
   * be silence.
   */
  async loadAll({ sources }: Pick<Project, 'sources'>, sounds: readonly Sound[]): Promise<Map<string, SharedAudio>> {
    const used = new Set(sounds.flatMap((sound) => [...usedSources(sound)]));
    const loading = sources.filter(({ id }) => used.has(id)).map(async ({ audio, name }) => [audio, await this.load(audio, name)] as const);
    return new Map(await Promise.all(loading));
  }

  private loadUsed(project: Project): void {
    const used = new Set(project.sounds.flatMap((sound) => [...usedSources(sound)]));
    // What is missing once is not asked for again at every edit.
    for (const source of project.sources)
      if (used.has(source.id) && !this.missing().has(source.audio)) this.load(source.audio, source.name).catch(() => undefined);
  }

  private async describe(hash: string, name: string, audio: SharedAudio, overview: Overview): Promise<void> {
    if (this.describing.has(hash)) return;
    this.describing.add(hash);
    try {
      const facts = await this.jobs.run({ kind: 'describe', audio }, `Measuring ${name}`, { background: true });
      this.described.update((map) => new Map(map).set(hash, facts));
      await this.repository.saveDerived({ hash, overview, facts });
    } catch {
      // Facts can be measured anew at any time; a cancelled or failed measurement leaves them out.
    } finally {
      this.describing.delete(hash);
    }
  }

  private async decode(hash: string, name: string): Promise<SharedAudio> {
    try {
      const wav = await this.repository.loadAudio(hash);
      if (!wav) throw new Error(`The audio of “${name}” is not in this browser's storage.`);
      const result = await this.jobs.run({ kind: 'decode', name: `“${name}”`, wav }, `Reading ${name}`, { quiet: true });
      this.put(hash, name, result);
      return result.audio;
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error);
      this.missing.update((map) => new Map(map).set(hash, message));
      throw error;
    }
  }
}
