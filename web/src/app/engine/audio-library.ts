import { inject, Injectable, signal } from '@angular/core';
import type { Frames, Need, Overview, Project, RecordingFacts, Sound, Spectrogram, SpectrogramShape, Stretch } from '@tangled-choir/core';
import { listeningNeeds, measureOverview, sourceNeeds } from '@tangled-choir/core';
import type { SharedAudio, StoredRecording } from '@tangled-choir/jobs';
import { ProjectRepository } from '../storage/project-repository';
import { ProjectJobs } from './project-jobs';
import { RecordingParts } from './recording-parts';

/** What of a source says which recording it has, by its hash, and what that is called. */
interface NamedRecording {
  readonly audio: string;
  readonly name: string;
}

/** What is asked of a source before its recording is loaded. */
export interface Recorded extends NamedRecording {
  readonly frames: Frames;
}

/** Recordings of more frames are loaded only where somebody needs them: about a minute and a half. */
const longFrames = 2 ** 22;
/** Room for recordings that no sound uses, such as those that somebody listened to. */
const spareBytes = 256 * 2 ** 20;

/** Seconds of the longest stretch that is looked at closely, and how many of them are kept. */
const longestDetail = 60;
const mostDetails = 100;

/** The waveform of a part of a recording that begins at a frame of it. */
export interface DetailedWaveform {
  readonly first: Frames;
  readonly overview: Overview;
}

/** Longer recordings than this are loaded in parts. */
export function isLong({ frames }: { readonly frames: Frames }): boolean {
  return frames > longFrames && typeof SharedArrayBuffer !== 'undefined';
}

/**
 * The recordings of the open project. Waveforms and measured facts are kept in the database and there at once; samples are loaded when
 * somebody plays, renders or inspects them, and shared by all: those that sounds use, and lately used others as far as there is room.
 */
@Injectable()
export class AudioLibrary {
  private readonly repository = inject(ProjectRepository);
  private readonly jobs = inject(ProjectJobs);
  /** Changes whenever samples were loaded or let go, so that views and the engine follow. */
  private readonly changes = signal(0);
  /** What is loaded, by hash, the latest used last. */
  private readonly loaded = new Map<string, RecordingParts>();
  private readonly overviews = signal<ReadonlyMap<string, Overview>>(new Map());
  private readonly described = signal<ReadonlyMap<string, RecordingFacts>>(new Map());
  private readonly details = new Map<string, DetailedWaveform>();
  private readonly loading = new Map<string, Promise<unknown>>();
  private readonly describing = new Set<string>();
  /** Hashes that the sounds of the open project use. */
  private used = new Set<string>();
  /** Sources whose audio could not be read, by hash. */
  readonly missing = signal<ReadonlyMap<string, string>>(new Map());
  /** Everything that was measured so far, by hash. */
  readonly allFacts = this.described.asReadonly();

  /** The samples, as far as they are loaded; a signal read, so that views follow when they arrive. */
  audio(hash: string): SharedAudio | undefined {
    this.changes();
    return this.loaded.get(hash)?.audio;
  }

  overview(hash: string): Overview | undefined {
    return this.overviews().get(hash);
  }

  /**
   * A finer waveform of a stretch of a recording, whose own is too coarse for what is looked at closely; undefined where that is not loaded,
   * too long, or not needed.
   */
  detail(source: Recorded, stretch: Stretch, framesPerPixel: number): DetailedWaveform | undefined {
    // Most are fine enough, and need not look again whenever something was loaded.
    if ((this.overview(source.audio)?.framesPerColumn ?? 0) <= framesPerPixel) return undefined;
    this.changes();
    const parts = this.loaded.get(source.audio);
    if (!parts || stretch.to - stretch.from > longestDetail || !parts.has([stretch])) return undefined;
    const { sampleRate, channels } = parts.audio;
    const first = Math.max(0, Math.floor(stretch.from * sampleRate));
    const last = Math.min(source.frames, Math.ceil(stretch.to * sampleRate));
    // A finer one at every second octave of zoom is enough, and seldom measured.
    const framesPerColumn = 4 ** Math.floor(Math.log2(Math.max(1, framesPerPixel)) / 2);
    const key = `${source.audio}|${first}|${last}|${framesPerColumn}`;
    const known = this.details.get(key);
    if (known) return known;
    const part = { sampleRate, channels: channels.map((channel) => channel.subarray(first, last)) };
    const overview = measureOverview(part, Math.ceil((last - first) / framesPerColumn));
    const made = { first, overview };
    this.details.set(key, made);
    for (const oldest of [...this.details.keys()].slice(0, -mostDetails)) this.details.delete(oldest);
    return made;
  }

  facts(hash: string): RecordingFacts | undefined {
    return this.described().get(hash);
  }

  /** Takes in the waveform of what was just stored; its facts are measured in the background. */
  add({ audio, name }: NamedRecording, overview: Overview): void {
    this.missing.update((map) => (map.has(audio) ? new Map([...map].filter(([hash]) => hash !== audio)) : map));
    this.overviews.update((map) => new Map(map).set(audio, overview));
    if (!this.described().has(audio)) void this.describe(audio, name, overview);
  }

  /** Loads what is needed of a recording unless that is done already. Rejects when the database does not have it. */
  load(source: Recorded, need: Need = 'all'): Promise<SharedAudio> {
    const wanted = isLong(source) ? need : 'all';
    const hash = source.audio;
    const known = this.loaded.get(hash);
    if (known?.has(wanted)) {
      this.loaded.delete(hash);
      this.loaded.set(hash, known);
      return Promise.resolve(known.audio);
    }
    // One after the other: most of what is asked for meanwhile is there then.
    const before = this.loading.get(hash) ?? Promise.resolve();
    const promise = before.catch(() => undefined).then(() => this.read(source, wanted));
    this.loading.set(hash, promise);
    const forget = (): void => {
      if (this.loading.get(hash) === promise) this.loading.delete(hash);
    };
    promise.then(forget, forget);
    return promise;
  }

  /**
   * Brings in what a project shows: stored waveforms and facts of all sources, the samples that its sounds use, and in the background the
   * facts that are not stored yet.
   */
  async open(project: Project): Promise<void> {
    this.loadUsed(project);
    const unknown = project.sources.filter((source) => !this.overviews().has(source.audio) || !this.described().has(source.audio));
    if (unknown.length === 0) return;
    const stored = await this.repository.loadDerived(unknown.map((source) => source.audio));
    this.overviews.update((map) => new Map([...map, ...stored.map(({ hash, overview }) => [hash, overview] as const)]));
    this.described.update((map) => new Map([...map, ...stored.map(({ hash, facts }) => [hash, facts] as const)]));
    for (const source of unknown)
      if (!this.overviews().has(source.audio) && !this.missing().has(source.audio) && !this.describing.has(source.audio))
        void this.draw(source.audio, source.name);
  }

  /** The recordings of which all is loaded that a sound needs, by hash, for renders. */
  ready(sound: Sound, hashes: ReadonlyMap<string, string>): Map<string, SharedAudio> {
    this.changes();
    const result = new Map<string, SharedAudio>();
    for (const [source, need] of listeningNeeds(sound)) {
      const hash = hashes.get(source) ?? '';
      const parts = this.loaded.get(hash);
      if (parts?.has(need)) result.set(hash, parts.audio);
    }
    return result;
  }

  /** True once all that a sound needs is there, or known to be missing. */
  settled({ sources }: Pick<Project, 'sources'>, sound: Sound): boolean {
    this.changes();
    const byId = new Map(sources.map((source) => [source.id, source.audio]));
    return [...listeningNeeds(sound)].every(([id, need]) => {
      const hash = byId.get(id);
      return hash === undefined || this.loaded.get(hash)?.has(need) || this.missing().has(hash);
    });
  }

  /** Loads everything that sounds need. Rejects when some of it is missing: in what leaves the house or is printed, it would be silence. */
  async loadAll({ sources }: Pick<Project, 'sources'>, sounds: readonly Sound[]): Promise<void> {
    const byId = new Map(sources.map((source) => [source.id, source]));
    const needs = sounds.flatMap((sound) => [...sourceNeeds(sound)]);
    await Promise.all(
      needs.map(([id, need]) => {
        const source = byId.get(id);
        if (source) this.used.add(source.audio);
        return source && this.load(source, need);
      }),
    );
  }

  /** How a recording, or a part of it, sounds over time and frequency. Rejects when the database does not have it. */
  async spectrogram({ audio: hash, name }: NamedRecording, shape: SpectrogramShape, cancel?: AbortSignal): Promise<Spectrogram> {
    const input = { ...(await this.stored({ audio: hash, name })), shape };
    return this.jobs.run('spectrogram', input, `Spectrogram of ${name}`, { quiet: true, ...(cancel && { signal: cancel }) });
  }

  /** A recording as the database has it, for jobs that read it themselves. Rejects when the database does not have it. */
  async stored({ audio, name }: NamedRecording): Promise<StoredRecording> {
    const wav = await this.repository.loadAudio(audio);
    if (!wav) throw new Error(`The audio of “${name}” is not in this browser's storage.`);
    return { name: `“${name}”`, wav };
  }

  private loadUsed(project: Project): void {
    const byId = new Map(project.sources.map((source) => [source.id, source]));
    const used = new Set<string>();
    for (const sound of project.sounds)
      for (const [id, need] of listeningNeeds(sound)) {
        const source = byId.get(id);
        if (!source) continue;
        used.add(source.audio);
        // What is missing once is not asked for again at every edit.
        if (!this.missing().has(source.audio)) this.load(source, need).catch(() => undefined);
      }
    this.used = used;
    this.makeRoom();
  }

  /** Lets go of recordings that no sound uses, the longest unused first, as soon as they take too much room. */
  private makeRoom(): void {
    const spare = [...this.loaded].filter(([hash]) => !this.used.has(hash));
    let bytes = spare.reduce((sum, [, parts]) => sum + parts.bytes, 0);
    for (const [hash, parts] of spare.slice(0, -1)) {
      if (bytes <= spareBytes) return;
      this.loaded.delete(hash);
      bytes -= parts.bytes;
    }
  }

  private async read({ audio: hash, name }: Recorded, need: Need): Promise<SharedAudio> {
    const known = this.loaded.get(hash);
    const ranges = known ? known.missing(need) : need;
    if (known && ranges.length === 0) return known.audio;
    try {
      const kept = await this.stored({ audio: hash, name });
      let parts = known;
      if (!parts) {
        // A first look gives memory of the right size; what of it is needed can be told by that.
        const audio = await this.jobs.run(
          'readRanges',
          { ...kept, into: undefined, ranges: need === 'all' ? 'all' : [] },
          `Reading ${name}`,
          { quiet: true },
        );
        parts = new RecordingParts(audio);
        if (need === 'all') parts.add([{ from: 0, to: audio.channels[0]?.length ?? 0 }]);
      }
      const wanted = parts.missing(need);
      if (wanted.length > 0) {
        await this.jobs.run('readRanges', { ...kept, into: parts.audio, ranges: wanted }, `Reading ${name}`, { quiet: true });
        parts.add(wanted);
      }
      this.loaded.delete(hash);
      this.loaded.set(hash, parts);
      this.makeRoom();
      this.changes.update((count) => count + 1);
      return parts.audio;
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error);
      this.missing.update((map) => new Map(map).set(hash, message));
      throw error;
    }
  }

  /** Makes the waveform of a recording that is stored without one, then measures its facts. */
  private async draw(hash: string, name: string): Promise<void> {
    this.describing.add(hash);
    try {
      const stored = await this.stored({ audio: hash, name });
      const overview = await this.jobs.run('overview', stored, `Reading ${name}`, { quiet: true });
      this.describing.delete(hash);
      this.add({ audio: hash, name }, overview);
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error);
      this.missing.update((map) => new Map(map).set(hash, message));
    } finally {
      this.describing.delete(hash);
    }
  }

  private async describe(hash: string, name: string, overview: Overview): Promise<void> {
    if (this.describing.has(hash)) return;
    this.describing.add(hash);
    try {
      const stored = await this.stored({ audio: hash, name });
      const facts = await this.jobs.run('describe', stored, `Measuring ${name}`, { background: true });
      this.described.update((map) => new Map(map).set(hash, facts));
      await this.repository.saveDerived({ hash, overview, facts });
    } catch {
      // Facts can be measured anew at any time; a cancelled or failed measurement leaves them out.
    } finally {
      this.describing.delete(hash);
    }
  }
}
