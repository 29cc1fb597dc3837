import { Injectable, signal } from '@angular/core';

const mostKept = 5;

/** The effects that were added last, the latest first, as long as the page is open. */
@Injectable({ providedIn: 'root' })
export class LastEffects {
  private readonly ids = signal<readonly string[]>([]);
  readonly latest = this.ids.asReadonly();

  use(id: string): void {
    this.ids.update((ids) => [id, ...ids.filter((other) => other !== id)].slice(0, mostKept));
  }
}
