import { inject, Injectable } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';

/** Short messages to the person at the screen. Errors stay until they are dismissed. */
@Injectable({ providedIn: 'root' })
export class Notices {
  private readonly snackBar = inject(MatSnackBar);

  error(message: string): void {
    this.snackBar.open(message, 'Dismiss', { panelClass: 'notice-error', politeness: 'assertive' });
  }

  /** A message with something that can be done about it; stays until it is answered. */
  offer(message: string, action: string, act: () => void): void {
    this.snackBar
      .open(message, action, { politeness: 'assertive' })
      .onAction()
      .subscribe(() => act());
  }

  info(message: string): void {
    this.snackBar.open(message, undefined, { duration: 4_000 });
  }
}
