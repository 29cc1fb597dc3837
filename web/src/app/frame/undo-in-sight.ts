import { inject, Injectable } from '@angular/core';
import { NavigationEnd, Router } from '@angular/router';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { History } from '@tangled-choir/core';
import { changedSounds, redo, undo } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Notices } from '../state/notices';
import { WorkbenchStore } from '../state/workbench.store';

const viewNames: Readonly<Record<string, string>> = {
  gather: 'Gather',
  loft: 'the Loft',
  kin: 'Kin',
  conduct: 'Conduct',
  'hand-off': 'Hand-off',
};
/** Views that show one sound. */
const showSound: ReadonlySet<string> = new Set(['loft', 'kin', 'hand-off']);

/** Undo and redo that go to the view and the sound where an edit was made before they change it, and say so: nothing changes out of sight. */
@Injectable()
export class UndoInSight {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  /** One step at a time: quick fingers would undo what lies in a third place while the way to a second is still being gone. */
  private working: Promise<void> = Promise.resolve();

  constructor() {
    this.document.standIn(this.view());
    this.router.events.pipe(takeUntilDestroyed()).subscribe((event) => {
      if (event instanceof NavigationEnd) this.document.standIn(this.view());
    });
  }

  undo(): Promise<void> {
    return (this.working = this.working.then(() => this.undoOne()));
  }

  redo(): Promise<void> {
    return (this.working = this.working.then(() => this.redoOne()));
  }

  private async undoOne(): Promise<void> {
    const history = this.document.history();
    const step = history?.past.at(-1);
    if (!history || !step) return;
    const gone = await this.goTo(step.where, history, undo(history));
    if (this.document.undo() && gone) this.notices.info(`Undone ${gone}: ${step.label}.`);
  }

  private async redoOne(): Promise<void> {
    const history = this.document.history();
    const step = history?.future[0];
    if (!history || !step) return;
    const gone = await this.goTo(step.where, history, redo(history));
    if (this.document.redo() && gone) this.notices.info(`Done again ${gone}: ${step.label}.`);
  }

  /** Goes to where a step was made; says where that is, or nothing where one is there already. */
  private async goTo(where: string | undefined, { project }: History, { project: after }: History): Promise<string> {
    const view = where ?? this.view();
    const moves = view !== this.view();
    if (moves) await this.router.navigate(['/project', project.id, view]);
    const sounds = changedSounds(project, after);
    const shown = this.workbench.sound()?.id;
    const other = showSound.has(view) && sounds.length > 0 && (shown === undefined || !sounds.includes(shown)) ? sounds[0] : undefined;
    if (other !== undefined) this.workbench.selectSound(other);
    const name = project.sounds.find(({ id }) => id === other)?.name;
    return [moves ? `in ${viewNames[view] ?? view}` : '', name === undefined ? '' : `in “${name}”`].filter(Boolean).join(', ');
  }

  private view(): string {
    return this.router.url.split(/[?#]/)[0]!.split('/')[3] ?? 'loft';
  }
}
