import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { Router, RouterLink } from '@angular/router';
import { ProjectShelf } from '../state/project/project-shelf';
import { ProjectRepository } from '../storage/project-repository';

const demoId = 'halda-station';
const demoAddress = '/demo/halda-station.choir';

/** Brings the demo project into this browser, unless it is here already, and opens it. */
@Component({
  selector: 'tc-demo-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatProgressBarModule, RouterLink],
  template: `<main>
    @if (problem(); as text) {
      <h1>The demo could not be opened</h1>
      <p>{{ text }}</p>
      <a mat-button routerLink="/">To the projects</a>
    } @else {
      <h1>Opening Halda Station</h1>
      <mat-progress-bar mode="indeterminate" />
    }
  </main>`,
  styles: `
    main {
      max-width: 480px;
      margin: 30vh auto 0;
    }
    h1 {
      margin-bottom: 16px;
      font-size: 18px;
    }
  `,
})
export class DemoPage {
  private readonly repository = inject(ProjectRepository);
  private readonly shelf = inject(ProjectShelf);
  private readonly router = inject(Router);
  protected readonly problem = signal<string | undefined>(undefined);

  constructor() {
    this.open().catch((error: unknown) => this.problem.set(error instanceof Error ? error.message : String(error)));
  }

  private async open(): Promise<void> {
    const here = (await this.repository.list()).some((project) => project.id === demoId);
    if (!here) {
      const answer = await fetch(demoAddress);
      if (!answer.ok) throw new Error(`This server has no demo project (${answer.status}). Run “npm run build” and start it again.`);
      await this.shelf.openArchive('halda-station.choir', await answer.blob());
    }
    await this.router.navigate(['/project', demoId, 'loft'], { replaceUrl: true });
  }
}
