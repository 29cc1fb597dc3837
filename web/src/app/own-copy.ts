import { inject, Injectable, signal } from '@angular/core';
import { SwUpdate } from '@angular/service-worker';
import { Notices } from './state/notices';

/** Milliseconds between looks for a newer version, and for whether the copy is complete. */
const betweenLooks = 1_800_000;
const betweenChecks = 1_000;

/**
 * The copy of the application that the service worker keeps in the browser, so that it works away from its server: says when it is complete, and
 * offers a newer one when there is one. Which files belong to it stands in the list that the build makes.
 */
@Injectable({ providedIn: 'root' })
export class OwnCopy {
  private readonly updates = inject(SwUpdate);
  private readonly notices = inject(Notices);
  private readonly complete = signal(false);
  /** True when everything is kept, the demo included. */
  readonly isComplete = this.complete.asReadonly();

  /** Begins to keep a copy, where the browser lets it. */
  watch(): void {
    if (!this.updates.isEnabled) return;
    this.updates.versionUpdates.subscribe((event) => {
      if (event.type !== 'VERSION_READY') return;
      this.notices.offer('A newer Tangled Choir is here. It comes with the next start.', 'Start it now', () => location.reload());
    });
    this.updates.unrecoverable.subscribe(() =>
      this.notices.offer('Parts of Tangled Choir that this browser kept are gone.', 'Load it again', () => location.reload()),
    );
    setInterval(() => void this.updates.checkForUpdate().catch(() => false), betweenLooks);
    void navigator.serviceWorker.ready.then(() => this.waitUntilComplete());
  }

  private async waitUntilComplete(): Promise<void> {
    const files = await listedFiles();
    if (files.length === 0) return;
    while (!(await areKept(files))) await new Promise((resolve) => setTimeout(resolve, betweenChecks));
    this.complete.set(true);
  }
}

/** The files that belong to the copy. Away from the server the list cannot be had, but then the page itself came from the copy. */
async function listedFiles(): Promise<string[]> {
  const answer = await fetch('/ngsw.json').catch(() => undefined);
  if (!answer?.ok) return ['/index.html'];
  const list: unknown = await answer.json();
  const table = typeof list === 'object' && list !== null && 'hashTable' in list ? list.hashTable : undefined;
  return typeof table === 'object' && table !== null ? Object.keys(table) : [];
}

async function areKept(files: readonly string[]): Promise<boolean> {
  for (const file of files) if (!(await caches.match(file, { ignoreVary: true }))) return false;
  return true;
}
