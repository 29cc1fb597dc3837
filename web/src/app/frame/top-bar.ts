import { ChangeDetectionStrategy, Component, computed, inject, output, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { DiskCopy } from '../state/project/disk-copy.store';
import { DocumentStore } from '../state/project/document.store';
import { Notices } from '../state/notices';
import { ProjectShelf } from '../state/project/project-shelf';
import { canWriteFolders } from '../storage/folder';
import { NameField } from '../ui/name-field';
import { BrandMark } from '../ui/brand-mark';
import { UndoInSight } from './undo-in-sight';

/** Project, views, undo and redo by name, and whether everything is saved. */
@Component({
  selector: 'tc-top-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BrandMark, MatButtonModule, MatIconModule, MatMenuModule, MatTooltipModule, NameField, RouterLink, RouterLinkActive],
  templateUrl: './top-bar.html',
  styleUrl: './top-bar.scss',
})
export class TopBar {
  readonly help = output();
  protected readonly document = inject(DocumentStore);
  protected readonly history = inject(UndoInSight);
  protected readonly disk = inject(DiskCopy);
  protected readonly canTie = canWriteFolders();
  private readonly shelf = inject(ProjectShelf);
  private readonly notices = inject(Notices);
  protected readonly exporting = signal(false);
  protected readonly views = [
    { path: 'gather', label: 'Gather' },
    { path: 'loft', label: 'Loft' },
    { path: 'kin', label: 'Kin' },
    { path: 'conduct', label: 'Conduct' },
    { path: 'hand-off', label: 'Hand-off' },
  ] as const;
  protected readonly saveText = computed(() => ({ saved: 'saved', saving: 'saving…', failed: 'not saved' })[this.document.save()]);
  /** What is said of the copy on disk. */
  protected readonly copyText = computed(() => {
    const texts = { none: '', asks: '', behind: 'copy follows', writing: 'copying…', written: 'copied', failed: 'no copy' };
    return texts[this.disk.state()];
  });
  private readonly projectName = viewChild.required<NameField>('projectName');

  protected rename(name: string): void {
    this.document.edit('renameProject', { name });
  }

  protected startRenaming(): void {
    this.projectName().start();
  }

  protected tie(): void {
    void this.disk.choose().catch((error: unknown) => this.notices.error(error instanceof Error ? error.message : String(error)));
  }

  protected async exportProject(): Promise<void> {
    const project = this.document.project();
    if (!project) return;
    this.exporting.set(true);
    try {
      await this.shelf.exportArchive(project);
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    } finally {
      this.exporting.set(false);
    }
  }
}
