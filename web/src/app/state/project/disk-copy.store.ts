import { effect, inject, InjectionToken, untracked } from '@angular/core';
import { patchState, signalStore, withHooks, withMethods, withState } from '@ngrx/signals';
import type { Project } from '@tangled-choir/core';
import { safeFileName } from '@tangled-choir/core';
import { CopyRecords } from '../../storage/copy-records';
import { copyPaths, writeCopy } from '../../storage/disk-versions';
import { chooseHandle, folderOf, mayWrite } from '../../storage/folder';
import { ProjectRepository } from '../../storage/project-repository';
import { Notices } from '../notices';
import { DocumentStore } from './document.store';
import { ProjectShelf } from './project-shelf';

/** Milliseconds without an edit after which the copy on disk is written, and after which it is written in any case. */
export const COPY_TIMES = new InjectionToken<{ readonly quiet: number; readonly longest: number }>('COPY_TIMES', {
  providedIn: 'root',
  factory: () => ({ quiet: 5_000, longest: 60_000 }),
});
/** A day's work without a copy anywhere else, in milliseconds. */
const dayOfWork = 8 * 60 * 60_000;
/** How often it is looked at, while edits are made. */
const betweenLooks = 60_000;

interface DiskCopyState {
  /** Name of the folder that the project is tied to. */
  readonly folder: string | undefined;
  /** “asks”: the browser wants to be asked again before it lets the folder be written to. */
  readonly state: 'none' | 'asks' | 'behind' | 'writing' | 'written' | 'failed';
}

/**
 * The open project in a folder of the disk: written there too, soon after every edit, with versions of the last hours. Without one, somebody who has
 * worked for a day is reminded to take the project out of the browser.
 */
export const DiskCopy = signalStore(
  withState<DiskCopyState>({ folder: undefined, state: 'none' }),
  withMethods(
    (
      store,
      document = inject(DocumentStore),
      shelf = inject(ProjectShelf),
      repository = inject(ProjectRepository),
      records = inject(CopyRecords),
      notices = inject(Notices),
      times = inject(COPY_TIMES),
    ) => {
      let handle: FileSystemDirectoryHandle | undefined;
      let timer: ReturnType<typeof setTimeout> | undefined;
      let changedAt: number | undefined;
      let writing: Promise<void> = Promise.resolve();
      let told = false;
      let looked = 0;
      let reminded = false;

      const writeNow = async (project: Project, into: FileSystemDirectoryHandle): Promise<void> => {
        patchState(store, { state: 'writing' });
        const begun = Date.now();
        try {
          const archive = await shelf.packArchive(project, { quiet: true });
          await writeCopy(folderOf(into), safeFileName(project.name), archive, new Date());
          await records.markKept(project.id, begun);
          told = false;
          if (store.state() === 'writing') patchState(store, { state: 'written' });
        } catch (error) {
          patchState(store, { state: 'failed' });
          if (told) return;
          told = true;
          notices.error(
            `The copy in “${into.name}” could not be written: ${error instanceof Error ? error.message : String(error)} It is tried again with the next edit.`,
          );
        }
      };

      /** Writes what is open now, one copy at a time. */
      const write = (): Promise<void> => {
        clearTimeout(timer);
        timer = changedAt = undefined;
        const project = document.project();
        const into = handle;
        if (project && into) writing = writing.then(() => writeNow(project, into));
        return writing;
      };

      /** Refuses a folder that has another project under the same name. */
      const refusal = async (project: Project, into: FileSystemDirectoryHandle): Promise<string | undefined> => {
        const { file } = copyPaths(safeFileName(project.name));
        const there = await folderOf(into).read(file);
        const id = there && (await shelf.idOf(file, new Blob([there])).catch(() => undefined));
        if (!there || id === project.id) return undefined;
        return `“${into.name}” has another “${file}” already. Choose another folder, or give this project another name.`;
      };

      const remind = async (project: Project): Promise<void> => {
        const now = Date.now();
        if (now - looked < betweenLooks) return;
        looked = now;
        const since = await records.markChanged(project.id, now);
        if (reminded || now - since < dayOfWork) return;
        reminded = true;
        notices.offer(`“${project.name}” is in this browser alone. Take a copy of your day’s work.`, 'Export as .choir', () => {
          const open = document.project();
          if (open) void shelf.exportArchive(open).catch((error: unknown) => notices.error(String(error)));
        });
      };

      /** Something has changed. */
      const note = (): void => {
        const project = document.project();
        if (!handle) {
          if (project && store.state() === 'none') void remind(project).catch(() => undefined);
          return;
        }
        if (store.state() === 'written') patchState(store, { state: 'behind' });
        const now = Date.now();
        changedAt ??= now;
        clearTimeout(timer);
        timer = setTimeout(() => void write(), Math.max(0, Math.min(times.quiet, changedAt + times.longest - now)));
      };

      return {
        /** Finds out whether a project that was opened is tied to a folder. */
        async open(id: string): Promise<void> {
          const opened = document.project();
          const { folder, written = 0 } = await records.load(id);
          if (!folder || document.project()?.id !== id) return;
          const permission = await mayWrite(folder, false).catch(() => 'prompt' as const);
          const changed = (await repository.list()).find((stored) => stored.id === id)?.changed ?? 0;
          if (permission === 'granted') handle = folder;
          patchState(store, { folder: folder.name, state: permission === 'granted' ? 'written' : 'asks' });
          // The browser may have been closed before the copy was written, and somebody may have been quick.
          if (changed > written || document.project() !== opened) note();
        },
        note,
        /** Asks for a folder and ties the project to it. */
        async choose(): Promise<void> {
          const project = document.project();
          const chosen = project && (await chooseHandle('projects'));
          if (!project || !chosen) return;
          const problem = await refusal(project, chosen);
          if (problem !== undefined) {
            notices.error(problem);
            return;
          }
          await records.tie(project.id, chosen);
          handle = chosen;
          patchState(store, { folder: chosen.name, state: 'behind' });
          await write();
        },
        /** Asks the browser to let the folder be written to again. */
        async resume(): Promise<void> {
          const project = document.project();
          const { folder } = project ? await records.load(project.id) : {};
          if (!folder || (await mayWrite(folder, true)) !== 'granted') return;
          handle = folder;
          await write();
        },
        /** Writes no more copies; those that there are stay. */
        async untie(): Promise<void> {
          const project = document.project();
          clearTimeout(timer);
          handle = undefined;
          patchState(store, { folder: undefined, state: 'none' });
          if (project) await records.untie(project.id);
        },
        /** Writes what is not written yet. */
        flush: (): Promise<void> => (timer === undefined ? writing : write()),
      };
    },
  ),
  withHooks((store, document = inject(DocumentStore)) => {
    let last: Project | undefined;
    return {
      onInit(): void {
        effect(() => {
          const project = document.project();
          untracked(() => {
            if (project && last?.id !== project.id) void store.open(project.id).catch(() => undefined);
            else if (project && project !== last) store.note();
            last = project;
          });
        });
      },
      onDestroy(): void {
        void store.flush();
      },
    };
  }),
);

export type DiskCopy = InstanceType<typeof DiskCopy>;
