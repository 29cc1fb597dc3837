import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import { Router, RouterLink } from '@angular/router';
import { OwnCopy } from '../own-copy';
import { BrandMark } from '../ui/brand-mark';
import { ClosingProjects } from '../state/project/closing-projects';
import { UnstoredProjects } from '../state/project/unstored-projects';
import { Notices } from '../state/notices';
import { ProjectShelf } from '../state/project/project-shelf';
import type { ProjectSummary } from '../storage/project-repository';
import { ProjectRepository } from '../storage/project-repository';
import type { StorageUse } from '../storage/storage-use';
import { storageUse } from '../storage/storage-use';
import { formatBytes } from '../ui/quantity';

/** The list of projects in this browser: open, make, take in, remove. */
@Component({
  selector: 'tc-projects-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BrandMark, DatePipe, MatButtonModule, MatIconModule, MatTooltipModule, RouterLink],
  templateUrl: './projects-page.html',
  styleUrl: './projects-page.scss',
  host: { '(dragover)': '$event.preventDefault()', '(drop)': 'drop($event)' },
})
export class ProjectsPage {
  private readonly repository = inject(ProjectRepository);
  private readonly closing = inject(ClosingProjects);
  private readonly shelf = inject(ProjectShelf);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly unstored = inject(UnstoredProjects);
  /** Projects whose last edits had no room. */
  protected readonly notStored = computed(() => new Set(this.unstored.projects().map(({ id }) => id)));
  protected readonly ownCopy = inject(OwnCopy);
  protected readonly projects = signal<readonly ProjectSummary[] | undefined>(undefined);
  protected readonly storage = signal<StorageUse | undefined>(undefined);
  protected readonly bytes = formatBytes;
  protected readonly opening = signal(false);
  /** The project that is asked about before it is removed. */
  protected readonly removing = signal<string | undefined>(undefined);

  constructor() {
    void this.refresh();
  }

  protected async create(): Promise<void> {
    const id = await this.shelf.create('New project');
    await this.router.navigate(['/project', id, 'gather']);
  }

  protected async openFiles(files: FileList | null): Promise<void> {
    const file = files?.[0];
    if (!file) return;
    this.opening.set(true);
    try {
      const id = await this.shelf.openArchive(file.name, file);
      await this.router.navigate(['/project', id, 'loft']);
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    } finally {
      this.opening.set(false);
    }
  }

  protected drop(event: DragEvent): void {
    event.preventDefault();
    void this.openFiles(event.dataTransfer?.files ?? null);
  }

  /** Hands a project to the person as a `.choir` file and takes it out of this browser. */
  protected async archive(project: ProjectSummary): Promise<void> {
    try {
      const history = this.unstored.latest(project.id) ?? (await this.repository.load(project.id));
      if (!history) throw new Error('There is no such project any more.');
      await this.shelf.exportArchive(history.project);
    } catch (error) {
      this.notices.error(
        `Nothing was removed, because the file could not be made: ${error instanceof Error ? error.message : String(error)}`,
      );
      return;
    }
    await this.remove(project);
  }

  protected async remove(project: ProjectSummary): Promise<void> {
    this.removing.set(undefined);
    await this.shelf.remove(project).catch((error: unknown) => this.notices.error(error instanceof Error ? error.message : String(error)));
    await this.refresh();
  }

  private async refresh(): Promise<void> {
    try {
      await this.closing.finished();
      this.projects.set(await this.repository.list());
      this.storage.set(await storageUse().catch(() => undefined));
    } catch (error) {
      this.projects.set([]);
      this.notices.error(`The projects in this browser could not be listed: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
}
