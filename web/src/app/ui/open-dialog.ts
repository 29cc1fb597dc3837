import type { ComponentType } from '@angular/cdk/portal';
import type { MatDialog, MatDialogConfig, MatDialogRef } from '@angular/material/dialog';

/** Longest time between the presses of a double click, in milliseconds; systems allow half a second. */
const doubleClickTime = 600;

/**
 * Opens a dialog that a click beside it closes, like every other, but not the second click of whoever opened it by a double click: that lands beside it as
 * soon as it is there.
 */
export function openDialog<C, D, R>(dialog: MatDialog, component: ComponentType<C>, config: MatDialogConfig<D>): MatDialogRef<C, R> {
  const opened = dialog.open<C, D, R>(component, { ...config, disableClose: true });
  const since = performance.now();
  opened.backdropClick().subscribe(({ timeStamp }) => {
    if (timeStamp - since > doubleClickTime) opened.close();
  });
  opened.keydownEvents().subscribe((event) => {
    if (event.key !== 'Escape' || event.defaultPrevented) return;
    event.preventDefault();
    opened.close();
  });
  return opened;
}
