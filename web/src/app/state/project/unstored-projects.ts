import { computed, inject, Injectable, InjectionToken, signal } from '@angular/core';
import type { History } from '@tangled-choir/core';
import { ProjectRepository } from '../../storage/project-repository';
import { StorageLost } from '../../storage/storage-lost';
import { Notices } from '../notices';

/** Milliseconds between attempts to store what could not be stored. */
export const STORE_AGAIN_AFTER = new InjectionToken<number>('STORE_AGAIN_AFTER', { providedIn: 'root', factory: () => 4_000 });

interface Unstored {
  readonly history: History;
  /** Gives away the right to write it. */
  readonly letGo: () => void;
}

/**
 * Projects that were closed with edits for which there was no room. They are kept here and stored as soon as there is room; opened again, they go
 * on with these edits. While there are any, leaving the page asks first.
 */
@Injectable({ providedIn: 'root' })
export class UnstoredProjects {
  private readonly repository = inject(ProjectRepository);
  private readonly notices = inject(Notices);
  private readonly pause = inject(STORE_AGAIN_AFTER);
  private readonly kept = signal<ReadonlyMap<string, Unstored>>(new Map());
  /** Their ids and names. */
  readonly projects = computed(() => [...this.kept().values()].map(({ history: { project } }) => ({ id: project.id, name: project.name })));
  private readonly askFirst = (event: BeforeUnloadEvent): void => event.preventDefault();

  keep(history: History, letGo: () => void): void {
    this.set(history.project.id, { history, letGo });
    setTimeout(() => void this.store(history), this.pause);
  }

  /** What a project was when it was closed, if that is not stored. */
  latest(id: string): History | undefined {
    return this.kept().get(id)?.history;
  }

  /** Hands out what a project was when it was closed, if that is not stored; nothing stores it from here any more. */
  async take(id: string): Promise<History | undefined> {
    const unstored = this.kept().get(id);
    if (!unstored) return undefined;
    this.forget(id);
    // The right to write comes back a task later.
    await new Promise((resolve) => setTimeout(resolve));
    return unstored.history;
  }

  private forget(id: string): void {
    this.kept().get(id)?.letGo();
    this.set(id, undefined);
  }

  private async store(history: History): Promise<void> {
    const { id, name } = history.project;
    if (this.kept().get(id)?.history !== history) return;
    try {
      await this.repository.save(history);
    } catch (error) {
      if (error instanceof StorageLost) this.forget(id);
      else setTimeout(() => void this.store(history), this.pause);
      return;
    }
    if (this.kept().get(id)?.history !== history) return;
    this.forget(id);
    this.notices.info(`“${name}” is stored now, with its last edits.`);
  }

  private set(id: string, unstored: Unstored | undefined): void {
    const kept = new Map(this.kept());
    if (unstored) kept.set(id, unstored);
    else kept.delete(id);
    this.kept.set(kept);
    if (kept.size > 0) addEventListener('beforeunload', this.askFirst);
    else removeEventListener('beforeunload', this.askFirst);
  }
}
