import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withState } from '@ngrx/signals';
import type { EditArguments, EditName, History, Project } from '@tangled-choir/core';
import { applyEdit, EditError, editNamed, effectCatalogue, redo, undo } from '@tangled-choir/core';
import { ProjectRepository } from '../../storage/project-repository';
import { ClosingProjects } from './closing-projects';
import { Notices } from '../notices';
import { ProjectLock } from './project-lock';
import { StorageLost } from '../../storage/storage-lost';
import { STORE_AGAIN_AFTER, UnstoredProjects } from './unstored-projects';

export type SaveState = 'saved' | 'saving' | 'failed';

interface DocumentState {
  readonly history: History | undefined;
  readonly save: SaveState;
}

/** Edits that follow each other faster than this, as in a drag, are written together; a single edit is written at once. */
const writeInterval = 150;
/** Large projects take long to write: writing has this share of the time at most, and happens every three seconds at least. */
const writeShare = 1 / 8;
const longestInterval = 3_000;

/**
 * The open project with its history. Every change goes through `edit`, is saved soon after, and can be undone. It belongs to one open
 * project: when that is closed, it is written a last time, and whoever still holds it can change nothing any more.
 */
export const DocumentStore = signalStore(
  withState<DocumentState>({ history: undefined, save: 'saved' }),
  withComputed(({ history }) => ({
    project: computed((): Project | undefined => history()?.project),
    undoLabel: computed(() => history()?.past.at(-1)?.label),
    /** The gesture of the newest step: what follows from it can join it. */
    lastGesture: computed(() => history()?.past.at(-1)?.gesture),
    redoLabel: computed(() => history()?.future[0]?.label),
  })),
  withMethods(
    (
      store,
      repository = inject(ProjectRepository),
      notices = inject(Notices),
      lock = inject(ProjectLock),
      closing = inject(ClosingProjects),
      unstored = inject(UnstoredProjects),
      pause = inject(STORE_AGAIN_AFTER),
    ) => {
      let timer: ReturnType<typeof setTimeout> | undefined;
      /** Set after a write that failed: it is tried again. */
      let again: ReturnType<typeof setTimeout> | undefined;
      let failing = false;
      let lastWrite = 0;
      let interval = writeInterval;
      let writing: Promise<void> = Promise.resolve();
      /** The project was closed. */
      let ended = false;
      /** Something has changed since the last write; without it nothing is written over what another tab may have. */
      let changed = false;

      /** Keeps what could not be written, and tries again soon: there may be room by then. */
      const failed = (error: unknown): void => {
        changed = true;
        patchState(store, { save: 'failed' });
        const lost = error instanceof StorageLost;
        if (!failing) {
          const reason = error instanceof Error ? error.message : String(error);
          const next = lost ? '' : ' It is tried again every few seconds.';
          notices.error(`The project could not be saved: ${reason}.${next} It is still open here; export it before you close this page.`);
        }
        failing = true;
        if (!lost && !ended) again ??= setTimeout(() => void write(), pause);
        keepable = !lost;
      };
      /** What is not written when the project is closed can still be written later. */
      let keepable = true;

      /** Writes the newest state; one write at a time, so that an older one never lands last. */
      const write = (): Promise<void> => {
        clearTimeout(timer);
        clearTimeout(again);
        timer = again = undefined;
        lastWrite = Date.now();
        // Taken now: by the time earlier writes are done, the project may have been closed.
        const history = store.history();
        const needed = changed;
        changed = false;
        writing = writing.then(async () => {
          if (!history || !needed) return;
          if (!lock.mayWrite) {
            patchState(store, { save: 'failed' });
            notices.error('Another tab took this project over before the last changes here were written.');
            return;
          }
          try {
            const begun = Date.now();
            await repository.save(history);
            interval = Math.min(longestInterval, Math.max(writeInterval, (Date.now() - begun) / writeShare));
            if (store.history() === history) patchState(store, { save: 'saved' });
            if (failing) notices.info('The project is stored again, with everything that was done meanwhile.');
            failing = false;
          } catch (error) {
            failed(error);
          }
        });
        return writing;
      };

      const take = (history: History): void => {
        patchState(store, { history, save: 'saving' });
        changed = true;
        timer ??= setTimeout(() => void write(), Math.max(0, lastWrite + interval - Date.now()));
      };

      /** The view that is open: undo leads back to where an edit was made. */
      let where: string | undefined;

      /** Tells why nothing can be changed, if so; nobody is left to be told that a project is closed. */
      const refused = (): boolean => {
        if (ended) return true;
        if (lock.readOnly())
          notices.error('Another tab writes this project; here it can be looked at and heard. Take it over to change it.');
        return lock.readOnly();
      };

      const hold = (id: string): Promise<void> =>
        lock.hold(id, {
          beforeYielding: write,
          afterWaiting: async () => patchState(store, { history: (await repository.load(id)) ?? store.history(), save: 'saved' }),
        });

      return {
        /** Says that what is open is kept nowhere else any more. */
        lose: (): void => patchState(store, { save: 'failed' }),
        /** Says which view edits are made in from now on. */
        standIn: (view: string): void => void (where = view),
        /** Makes an edit. Edits with the same `gesture` become one undo step. Returns whether it could be made. */
        edit<N extends EditName>(name: N, args: EditArguments<N>, gesture?: string): boolean {
          const history = store.history();
          if (!history || refused()) return false;
          const edit = editNamed(name);
          try {
            const next = applyEdit(history, edit, args, effectCatalogue, gesture, where);
            if (next !== history) take(next);
            return true;
          } catch (error) {
            if (!(error instanceof EditError)) throw error;
            notices.error(error.message);
            return false;
          }
        },
        /** Takes the last edit back; false when there is none, or nothing may be changed. */
        undo(): boolean {
          const history = store.history();
          if (!history?.past.length || refused()) return false;
          take(undo(history));
          return true;
        },
        /** Takes back what a gesture has changed since `before`, as if it had never begun: also what could be redone then can be redone again. */
        giveUp(before: History | undefined): void {
          const history = store.history();
          const steps = history?.past.filter((step) => !before?.past.includes(step)) ?? [];
          // What was done besides, from elsewhere, stays.
          if (!before || !history || refused() || steps.length !== 1 || steps[0]!.gesture === undefined) return;
          take(before);
        },
        redo(): boolean {
          const history = store.history();
          if (!history?.future.length || refused()) return false;
          take(redo(history));
          return true;
        },
        /** Opens a stored project; false when there is none. Throws when it is damaged. */
        async open(id: string): Promise<boolean> {
          // Closed a moment ago, it may still be written.
          await closing.finished(id);
          if (ended) return false;
          const kept = await unstored.take(id);
          await hold(id);
          const history = kept ?? (await repository.load(id));
          if (ended) {
            // Closed before it was open: the right to write it must not stay with nobody.
            lock.letGo();
            return false;
          }
          patchState(store, { history, save: 'saved' });
          if (kept) take(kept);
          return history !== undefined;
        },
        /** Ends everything: what is not written yet is written, and the right to write is given away. */
        end(): void {
          const id = store.project()?.id;
          ended = true;
          const written = write().then(() => {
            const history = store.history();
            const keeps = changed && keepable && lock.mayWrite;
            changed = false;
            if (keeps && history) unstored.keep(history, () => lock.letGo());
            else lock.letGo();
          });
          if (id !== undefined) closing.add(id, written);
        },
        /** Writes what is not written yet, for instance before the page goes away. */
        flush: (): Promise<void> => (changed ? write() : writing),
      };
    },
  ),
  withHooks((store) => {
    // The last moments before the page goes away must not be lost.
    const flush = (): void => void store.flush();
    // A write that begins as the page goes may not come to its end: the browser asks first, and meanwhile it does.
    const askFirst = (event: BeforeUnloadEvent): void => {
      if (store.save() === 'saved') return;
      flush();
      event.preventDefault();
    };
    return {
      onInit(): void {
        addEventListener('beforeunload', askFirst);
        addEventListener('pagehide', flush);
        addEventListener('visibilitychange', flush);
      },
      onDestroy(): void {
        removeEventListener('beforeunload', askFirst);
        removeEventListener('pagehide', flush);
        removeEventListener('visibilitychange', flush);
        store.end();
      },
    };
  }),
);

export type DocumentStore = InstanceType<typeof DocumentStore>;
