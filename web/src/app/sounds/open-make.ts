import { inject, Injectable, Injector } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { openDialog } from '../ui/open-dialog';
import { MakeDialog } from './make-dialog';

/** Opens “Make a sound”. */
@Injectable()
export class OpenMake {
  private readonly dialog = inject(MatDialog);
  /** Dialogs see what belongs to the open project. */
  private readonly injector = inject(Injector);

  open(): void {
    openDialog(this.dialog, MakeDialog, { width: '820px', maxWidth: '95vw', autoFocus: 'dialog', injector: this.injector });
  }
}
