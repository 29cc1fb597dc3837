import { inject, Injectable, signal } from '@angular/core';
import type { ChannelChoice, CutPart, NewSource, Project, Source } from '@tangled-choir/core';
import { projectSampleRate, safeFileName } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { decodeByBrowser } from '../engine/browser-decoder';
import { FormatUnknown, JobCancelled, JobPool } from '../engine/job-pool';
import type { ImportedFile, ImportPreview, SharedAudio, StoredSource } from '../engine/protocol';
import { neededAudio, neededPictures, ProjectRepository } from '../storage/project-repository';
import { saveFile } from '../storage/save-file';
import { DocumentStore } from './document.store';

export interface ImportFailure {
  readonly file: string;
  readonly reason: string;
}

export interface ImportResult {
  readonly imported: number;
  readonly failures: ImportFailure[];
  readonly notes: string[];
}

/** A file with the folders it lay in, which become its tags. */
export interface FileToImport {
  readonly path: string;
  readonly file: File;
}

/** A file on its way into the project: its waveform is there before it is converted and stored. */
export interface ArrivingFile {
  readonly origin: FileToImport;
  readonly preview?: ImportPreview;
}

const filesAtOnce = 3;
/** An hour of eight channels has four gigabytes. */
const largestFile = 6 * 2 ** 30;
/** What can be held in memory together with what comes out of it, where only the browser can decode it. */
const largestHeld = 1.2 * 2 ** 30;

/** Brings audio and projects in and out: sound files into the open project, `.choir` archives as whole projects. */
@Injectable({ providedIn: 'root' })
export class ProjectTransfer {
  private readonly document = inject(DocumentStore);
  private readonly repository = inject(ProjectRepository);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(JobPool);
  private readonly onTheirWay = signal<readonly ArrivingFile[]>([]);
  /** Files that are being imported or wait for that, in their order. */
  readonly arriving = this.onTheirWay.asReadonly();

  /**
   * Imports sound files, and the sound files in zips, into the open project as one undo step. Files that cannot be read are returned with
   * their reasons; the others are imported all the same.
   */
  async importFiles(files: readonly FileToImport[]): Promise<ImportResult> {
    const failures: ImportFailure[] = [];
    const notes: string[] = [];
    const fail = (file: string, error: unknown): undefined => {
      if (!(error instanceof JobCancelled)) failures.push({ file, reason: error instanceof Error ? error.message : String(error) });
      return undefined;
    };
    const unpacked = await Promise.all(
      files.map((file) => (/\.zip$/i.test(file.path) ? this.unzip(file).catch((error: unknown) => fail(file.path, error) ?? []) : [file])),
    );
    const sources: (NewSource | undefined)[] = [];
    // A few at a time: each takes a core.
    const waiting = unpacked.flat().map((file, index) => ({ file, index }));
    this.onTheirWay.update((list) => [...list, ...waiting.map(({ file }) => ({ origin: file }))]);
    const takeNext = async (): Promise<void> => {
      for (let next = waiting.shift(); next; next = waiting.shift()) {
        const { file, index } = next;
        sources[index] = await this.importFile(file, notes).catch((error: unknown) => fail(file.path, error));
        this.onTheirWay.update((list) => list.filter((entry) => entry.origin !== file));
      }
    };
    await Promise.all(Array.from({ length: filesAtOnce }, takeNext));
    const imported = sources.filter((source) => source !== undefined);
    const taken = imported.length > 0 && this.document.edit('addSources', { sources: imported });
    return { imported: taken ? imported.length : 0, failures, notes };
  }

  /** Gives a source of the project the audio of a file; rejects with the reason when that cannot be read. */
  async relink(source: string, file: File): Promise<void> {
    const found = await this.importFile({ path: file.name, file }, []);
    this.document.edit('relinkSource', {
      source,
      audio: found.audio,
      frames: found.frames,
      channels: found.channels,
      origin: found.origin,
    });
  }

  /** Makes a source of what was recorded; returns its id. */
  async storeTake(audio: SharedAudio, name: string, droppedFrames: number): Promise<string | undefined> {
    const date = new Date().toISOString().slice(0, 19).replace('T', ' ');
    const result = await this.jobs.run(
      { kind: 'take', audio, name, date, droppedFrames, sampleRate: projectSampleRate },
      `Keeping ${name}`,
    );
    return (await this.storeSources([result])) ? this.document.project()?.sources.at(-1)?.id : undefined;
  }

  /** Cuts parts out of a source, or makes one or all of its channels a mono source; they become sources of their own. */
  async cutParts(source: Source, parts: readonly CutPart[], channel: ChannelChoice): Promise<number> {
    const stored = await this.library.stored(source);
    const cut = await this.jobs.run({ kind: 'cut', ...stored, source, parts, channel }, `Cutting ${source.name}`);
    return (await this.storeSources(cut)) ? cut.length : 0;
  }

  /** Takes sources that were made here, such as a loop, into the project, as one undo step; false when it cannot be changed now. */
  async storeSources(stored: readonly StoredSource[]): Promise<boolean> {
    await this.storeAudio(stored);
    return this.document.edit('addSources', { sources: stored.map(({ source }) => source), made: true });
  }

  /** Keeps the audio of sources that an edit is about to add. */
  async storeAudio(stored: readonly StoredSource[]): Promise<void> {
    for (const { source, wav, overview } of stored) {
      await this.repository.saveAudio(source.audio, wav);
      this.library.add(source, overview);
    }
  }

  private show(file: FileToImport, preview: ImportPreview): void {
    this.onTheirWay.update((list) => list.map((entry) => (entry.origin === file ? { ...entry, preview } : entry)));
  }

  private async importFile(origin: FileToImport, notes: string[]): Promise<NewSource> {
    const { path, file } = origin;
    if (file.size > largestFile)
      throw new Error(
        `“${path}” has ${gigabytes(file.size)}; files up to ${gigabytes(largestFile)} can be imported. Cut it into parts first.`,
      );
    const request = { kind: 'import' as const, fileName: path, file, sampleRate: projectSampleRate };
    const result = await this.jobs
      .run(request, `Importing ${path}`, { onPreview: (preview) => this.show(origin, preview) })
      .catch((refusal: unknown) => this.importByBrowser({ path, file }, refusal));
    await this.storeAudio([result]);
    for (const note of result.notes) notes.push(`${path}: ${note}`);
    return result.source;
  }

  /** Lets the browser try a format that our own readers do not know; if it cannot read it either, they had the better words. */
  private async importByBrowser({ path, file }: FileToImport, refusal: unknown): Promise<ImportedFile> {
    const triable = refusal instanceof FormatUnknown && file.size <= largestHeld;
    const audio = triable ? await decodeByBrowser(await file.arrayBuffer(), projectSampleRate) : undefined;
    if (!audio) throw refusal;
    return this.jobs.run({ kind: 'import decoded', fileName: path, audio }, `Importing ${path}`);
  }

  private async unzip({ path, file }: FileToImport): Promise<FileToImport[]> {
    const found = await this.jobs.run({ kind: 'unzip', name: path, file }, `Unpacking ${path}`);
    if (found.size === 0) throw new Error(`“${path}” holds no sound files.`);
    return [...found].map(([inner, content]) => ({ path: inner, file: new File([content], inner) }));
  }

  /** Opens a `.choir` archive as a project. Rejects with a sentence about what is wrong with it; nothing is changed then. */
  async openArchive(name: string, file: Blob): Promise<string> {
    const { project, audio, pictures } = await this.jobs.run({ kind: 'unpack', name, file }, `Opening ${name}`);
    for (const [hash, wav] of audio) await this.repository.saveAudio(hash, wav);
    for (const [hash, video] of pictures) await this.repository.savePicture(hash, new Blob([video], { type: typeOf(project, hash) }));
    return this.document.adopt(project);
  }

  /** Packs the open project, or another one, and hands it to the person as a file. */
  async exportArchive(project = this.document.project()): Promise<void> {
    if (!project) return;
    const audio = new Map<string, Blob>();
    for (const hash of neededAudio(project)) {
      const wav = await this.repository.loadAudio(hash);
      if (wav) audio.set(hash, wav);
    }
    const pictures = new Map<string, Blob>();
    for (const hash of neededPictures(project)) {
      const video = await this.repository.loadPicture(hash);
      if (video) pictures.set(hash, video);
    }
    const archive = await this.jobs.run({ kind: 'pack', project, audio, pictures }, `Packing ${project.name}`);
    saveFile(archive, `${safeFileName(project.name)}.choir`, 'application/zip');
  }
}

function gigabytes(bytes: number): string {
  return `${(bytes / 2 ** 30).toFixed(1)} GB`;
}

function typeOf(project: Project, video: string): string {
  return project.sounds.find((sound) => sound.picture?.video === video)?.picture?.type ?? '';
}
