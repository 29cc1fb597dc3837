import { inject, Injectable } from '@angular/core';
import { CHOIR_DATABASE } from './choir-database';
import type { StoredCopy } from './database';

/** Records of what is kept of projects outside this browser. */
@Injectable({ providedIn: 'root' })
export class CopyRecords {
  private readonly database = inject(CHOIR_DATABASE);

  async load(project: string): Promise<StoredCopy> {
    return (await this.database.copies.get(project)) ?? { project };
  }

  async tie(project: string, folder: FileSystemDirectoryHandle): Promise<void> {
    await this.database.copies.put({ project, folder });
  }

  async untie(project: string): Promise<void> {
    await this.forget(project);
  }

  /** A copy was made of all that was done by a moment, in milliseconds since 1970. */
  async markKept(project: string, written: number): Promise<void> {
    await this.change(project, ({ folder }) => ({ project, ...(folder && { folder, written }) }));
  }

  /** Something was changed; since when there is no copy of what is here. */
  async markChanged(project: string, now: number): Promise<number> {
    const { changedSince } = await this.change(project, (record) => ({ changedSince: now, ...record }));
    return changedSince ?? now;
  }

  private async change(project: string, change: (record: StoredCopy) => StoredCopy): Promise<StoredCopy> {
    return this.database.transaction('rw', this.database.copies, async () => {
      const changed = change(await this.load(project));
      await this.database.copies.put(changed);
      return changed;
    });
  }

  async forget(project: string): Promise<void> {
    await this.database.copies.delete(project);
  }
}
