import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import type { ChannelChoice, CutPart, Source } from '@tangled-choir/core';
import { projectSampleRate } from '@tangled-choir/core';
import type { ImportedFile, ImportPreview, SharedAudio, StoredSource } from '@tangled-choir/jobs';
import { FormatUnknown, JobCancelled } from '@tangled-choir/jobs';
import { AudioLibrary } from '../../engine/audio-library';
import { decodeByBrowser } from '../../engine/browser-decoder';
import { ProjectJobs } from '../../engine/project-jobs';
import { ProjectRepository } from '../../storage/project-repository';
import { ClosingProjects } from './closing-projects';
import { DocumentStore } from './document.store';
import { Notices } from '../notices';

export interface ImportFailure {
  readonly file: string;
  readonly reason: string;
}

export interface ImportResult {
  /** Ids of the new sources. */
  readonly sources: readonly string[];
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

/** Brings audio into the open project: files, takes, and what is made here out of sources. What is not done when it is closed leaves nothing behind. */
export const ProjectTransfer = signalStore(
  withState({
    /** Files that are being imported or wait for that, in their order. */
    arriving: [] as readonly ArrivingFile[],
  }),
  withMethods(
    (
      store,
      document = inject(DocumentStore),
      repository = inject(ProjectRepository),
      library = inject(AudioLibrary),
      jobs = inject(ProjectJobs),
      notices = inject(Notices),
      closing = inject(ClosingProjects),
    ) => {
      const update = (change: (list: readonly ArrivingFile[]) => readonly ArrivingFile[]): void =>
        patchState(store, ({ arriving }) => ({ arriving: change(arriving) }));

      const storeAudio = async (stored: readonly StoredSource[]): Promise<void> => {
        for (const { source, wav, overview } of stored) {
          if (jobs.signal.aborted) throw new JobCancelled('Cancelled.');
          await repository.saveAudio(source.audio, wav);
          library.add(source, overview);
        }
      };

      /** Takes back what was stored for sources that did not come to be. The project may just be written for the last time: that counts. */
      const forget = async (stored: readonly StoredSource[]): Promise<void> => {
        await closing.finished();
        await repository.removeAudio(stored.map(({ source }) => source.audio));
      };

      /** Keeps the audio of sources if the edit that takes them in can be made; otherwise none of it stays. Returns whether it could. */
      const keep = async (stored: readonly StoredSource[], edit: () => boolean | Promise<boolean>): Promise<boolean> => {
        try {
          await storeAudio(stored);
          if (await edit()) return true;
        } catch (error) {
          if (!(error instanceof JobCancelled)) throw error;
        }
        await forget(stored);
        return false;
      };

      /** Takes sources that were made here, such as a loop, into the project, as one undo step; false when it cannot be changed now. */
      const storeSources = (stored: readonly StoredSource[], gesture?: string): Promise<boolean> =>
        keep(stored, () => document.edit('addSources', { sources: stored.map(({ source }) => source), made: true }, gesture));

      const unzip = async ({ path, file }: FileToImport): Promise<FileToImport[]> => {
        const found = await jobs.run('unzip', { name: path, file }, `Unpacking ${path}`);
        if (found.size === 0) throw new Error(`“${path}” holds no sound files.`);
        return [...found].map(([inner, content]) => ({ path: inner, file: new File([content], inner) }));
      };

      /** Lets the browser try a format that our own readers do not know; if it cannot read it either, they had the better words. */
      const importByBrowser = async ({ path, file }: FileToImport, refusal: unknown): Promise<ImportedFile> => {
        const triable = refusal instanceof FormatUnknown && file.size <= largestHeld;
        const audio = triable ? await decodeByBrowser(await file.arrayBuffer(), projectSampleRate) : undefined;
        if (!audio) throw refusal;
        return jobs.run('importDecoded', { fileName: path, audio }, `Importing ${path}`);
      };

      const importFile = async (origin: FileToImport, notes: string[]): Promise<ImportedFile> => {
        const { path, file } = origin;
        if (file.size > largestFile)
          throw new Error(
            `“${path}” has ${gigabytes(file.size)}; files up to ${gigabytes(largestFile)} can be imported. Cut it into parts first.`,
          );
        const show = (preview: ImportPreview): void =>
          update((list) => list.map((entry) => (entry.origin === origin ? { ...entry, preview } : entry)));
        const input = { fileName: path, file, sampleRate: projectSampleRate };
        const result = await jobs
          .run('importFile', input, `Importing ${path}`, { onNews: show })
          .catch((refusal: unknown) => importByBrowser(origin, refusal));
        await storeAudio([result]);
        for (const note of result.notes) notes.push(`${path}: ${note}`);
        return result;
      };

      return {
        keep,
        storeSources,
        /**
         * Imports sound files, and the sound files in zips, into the open project as one undo step, to which a `gesture` can join more. Files that
         * cannot be read are returned with their reasons; the others are imported all the same.
         */
        async importFiles(files: readonly FileToImport[], gesture?: string): Promise<ImportResult> {
          const failures: ImportFailure[] = [];
          const notes: string[] = [];
          const fail = (file: string, error: unknown): undefined => {
            if (!(error instanceof JobCancelled)) failures.push({ file, reason: error instanceof Error ? error.message : String(error) });
            return undefined;
          };
          const unpacked = await Promise.all(
            files.map((file) => (/\.zip$/i.test(file.path) ? unzip(file).catch((error: unknown) => fail(file.path, error) ?? []) : [file])),
          );
          const results: (ImportedFile | undefined)[] = [];
          // A few at a time: each takes a core.
          const waiting = unpacked.flat().map((file, index) => ({ file, index }));
          update((list) => [...list, ...waiting.map(({ file }) => ({ origin: file }))]);
          const takeNext = async (): Promise<void> => {
            for (let next = waiting.shift(); next; next = waiting.shift()) {
              const { file, index } = next;
              results[index] = await importFile(file, notes).catch((error: unknown) => fail(file.path, error));
              update((list) => list.filter((entry) => entry.origin !== file));
            }
          };
          await Promise.all(Array.from({ length: filesAtOnce }, takeNext));
          const imported = results.filter((result) => result !== undefined);
          const sources = imported.map(({ source }) => source);
          const taken = sources.length > 0 && document.edit('addSources', { sources }, gesture);
          const added = taken
            ? (document
                .project()
                ?.sources.slice(-sources.length)
                .map(({ id }) => id) ?? [])
            : [];
          if (!taken) await forget(imported);
          if (jobs.signal.aborted)
            notices.info(
              `Importing ${files.length === 1 ? `“${files[0]!.path}”` : `${files.length} files`} was stopped, because the project was closed.`,
            );
          return { sources: added, failures, notes };
        },
        /** Gives a source of the project the audio of a file; rejects with the reason when that cannot be read. */
        async relink(source: string, file: File): Promise<void> {
          const found = await importFile({ path: file.name, file }, []);
          const { audio, frames, channels, origin } = found.source;
          if (!document.edit('relinkSource', { source, audio, frames, channels, origin })) await forget([found]);
        },
        /** Makes a source of what was recorded; returns its id. A `gesture` joins more to the undo step. */
        async storeTake(audio: SharedAudio, name: string, droppedFrames: number, gesture?: string): Promise<string | undefined> {
          const date = new Date().toISOString().slice(0, 19).replace('T', ' ');
          const input = { audio, name, date, droppedFrames, sampleRate: projectSampleRate };
          const result = await jobs.run('importTake', input, `Keeping ${name}`);
          return (await storeSources([result], gesture)) ? document.project()?.sources.at(-1)?.id : undefined;
        },
        /** Cuts parts out of a source, or makes one or all of its channels a mono source; they become sources of their own. */
        async cutParts(source: Source, parts: readonly CutPart[], channel: ChannelChoice): Promise<number> {
          const input = { ...(await library.stored(source)), source, parts, channel };
          const cut = await jobs.run('cut', input, `Cutting ${source.name}`);
          return (await storeSources(cut)) ? cut.length : 0;
        },
      };
    },
  ),
);

export type ProjectTransfer = InstanceType<typeof ProjectTransfer>;

function gigabytes(bytes: number): string {
  return `${(bytes / 2 ** 30).toFixed(1)} GB`;
}
