import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router, RouterLink, RouterOutlet } from '@angular/router';
import type { History } from '@tangled-choir/core';
import { openProjectProviders } from '../open-project';
import { AudioLibrary } from '../engine/audio-library';
import { DocumentStore } from '../state/project/document.store';
import { Judging } from '../state/judging.store';
import { Notices } from '../state/notices';
import { Playback } from '../state/playback.store';
import { ProjectLock } from '../state/project/project-lock';
import { Transport } from '../state/transport';
import { WorkbenchStore } from '../state/workbench.store';
import { ProjectRepository } from '../storage/project-repository';
import { askToKeep } from '../storage/storage-use';
import { BottomBar } from './bottom-bar';
import { DialMenu } from './dial-menu';
import { ShortcutHelp } from './shortcut-help';
import { TopBar } from './top-bar';
import { UndoInSight } from './undo-in-sight';
import { watchDrags } from '../ui/follow-pointer';
import { isTyping } from '../ui/typing';

/** The frame around the views of one project: opens it, top and bottom bar, and the shortcuts that hold everywhere. */
@Component({
  selector: 'tc-project-frame',
  providers: [...openProjectProviders, UndoInSight],
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BottomBar, DialMenu, MatButtonModule, RouterLink, RouterOutlet, ShortcutHelp, TopBar],
  templateUrl: './project-frame.html',
  styleUrl: './project-frame.scss',
  host: { '(document:keydown)': 'key($event)' },
})
export class ProjectFrame {
  readonly id = input.required<string>();
  protected readonly document = inject(DocumentStore);
  protected readonly lock = inject(ProjectLock);
  private readonly playback = inject(Playback);
  private readonly transport = inject(Transport);
  private readonly library = inject(AudioLibrary);
  private readonly workbench = inject(WorkbenchStore);
  private readonly judging = inject(Judging);
  private readonly router = inject(Router);
  private readonly history = inject(UndoInSight);
  private readonly repository = inject(ProjectRepository);
  private readonly notices = inject(Notices);
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly helpOpen = signal(false);

  constructor() {
    // Escape takes back what a drag has changed so far.
    let before: History | undefined;
    inject(DestroyRef).onDestroy(
      watchDrags({ begins: () => (before = this.document.history()), givenUp: () => this.document.giveUp(before) }),
    );
    effect(() => {
      const id = this.id();
      untracked(() => void this.open(id));
    });
    const lost = computed(() => this.repository.lost() && this.document.project() !== undefined);
    effect(() => {
      if (lost()) untracked(() => this.tellOfLoss());
    });
    effect(() => {
      const project = this.document.project();
      if (project) untracked(() => void this.library.open(project));
    });
  }

  /** Where the storage was deleted, what is open here is all that is left. */
  private tellOfLoss(): void {
    this.document.lose();
    this.notices.error(
      'This browser’s storage was deleted while the project was open. It is still open here; export it before you close this page.',
    );
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event)) return;
    const command = event.ctrlKey || event.metaKey;
    const key = event.key.toLowerCase();
    if (command && key === 'z') {
      void (event.shiftKey ? this.history.redo() : this.history.undo());
    } else if (command && key === 'y') void this.history.redo();
    else if (event.key === ' ' && !command) this.transport.toggle();
    else if (event.key === 'Home' && !command) this.playback.seek(0);
    else if (key === 'r' && !command && !event.altKey) this.workbench.setLooping(!this.workbench.looping());
    else if (key === 'y' && !event.altKey && this.workbench.sound()) this.judging.toggle();
    else if (event.key === '?') this.helpOpen.set(!this.helpOpen());
    else if (event.altKey && /^[1-5]$/.test(event.key))
      void this.router.navigate(['/project', this.id(), ['gather', 'loft', 'kin', 'conduct', 'hand-off'][Number(event.key) - 1]]);
    else return;
    event.preventDefault();
  }

  private async open(id: string): Promise<void> {
    this.problem.set(undefined);
    try {
      void askToKeep().catch(() => undefined);
      if (!(await this.document.open(id)))
        this.problem.set('There is no such project in this browser. It may have been removed, or it is in another browser.');
    } catch (error) {
      this.problem.set(error instanceof Error ? error.message : String(error));
    }
  }
}
