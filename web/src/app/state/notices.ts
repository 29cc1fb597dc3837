import { inject, Injectable } from '@angular/core';
import type { MatSnackBarRef } from '@angular/material/snack-bar';
import { MatSnackBar } from '@angular/material/snack-bar';

/** Short messages to the person at the screen. Errors stay until they are dismissed. */
@Injectable({ providedIn: 'root' })
export class Notices {
  private readonly snackBar = inject(MatSnackBar);
  private latest: MatSnackBarRef<unknown> | undefined;
  /** Shows the offer that is not answered yet. */
  private offered: (() => void) | undefined;

  error(message: string): void {
    this.tell(this.snackBar.open(message, 'Dismiss', { panelClass: 'notice-error', politeness: 'assertive' }));
  }

  /** A message with something that can be done about it; stays until it is answered, and comes back behind others. */
  offer(message: string, action: string, act: () => void): void {
    const show = (): void => {
      this.latest = this.snackBar.open(message, action, { politeness: 'assertive' });
      this.latest.onAction().subscribe(() => {
        if (this.offered === show) this.offered = undefined;
        act();
      });
    };
    this.offered = show;
    show();
  }

  info(message: string): void {
    this.tell(this.snackBar.open(message, undefined, { duration: 4_000 }));
  }

  private tell(notice: MatSnackBarRef<unknown>): void {
    this.latest = notice;
    notice.afterDismissed().subscribe(() => {
      // There is room for one: what was dismissed because the next one came makes none.
      if (this.latest === notice) this.offered?.();
    });
  }
}
