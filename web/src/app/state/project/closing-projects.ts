import { Injectable } from '@angular/core';

/** Projects that were closed and are still being written: who opens one again has to wait for that. */
@Injectable({ providedIn: 'root' })
export class ClosingProjects {
  private readonly closing = new Map<string, Promise<void>>();

  add(project: string, written: Promise<void>): void {
    const all = Promise.all([this.closing.get(project), written]).then(() => undefined);
    this.closing.set(project, all);
    void all.finally(() => {
      if (this.closing.get(project) === all) this.closing.delete(project);
    });
  }

  /** Resolves once nothing of this project, or of any, is being written. */
  async finished(project?: string): Promise<void> {
    if (project === undefined) await Promise.all(this.closing.values());
    else await this.closing.get(project);
  }
}
