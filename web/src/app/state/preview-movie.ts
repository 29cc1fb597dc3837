import { inject, Injectable } from '@angular/core';
import { safeFileName } from '@tangled-choir/core';
import { JobCancelled } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import { ProjectRepository } from '../storage/project-repository';
import { saveFile } from '../storage/save-file';
import { DocumentStore } from './project/document.store';
import { Notices } from './notices';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

/** Exports the picture with the sound as it is now, for somebody to look at. */
@Injectable()
export class PreviewMovie {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly repository = inject(ProjectRepository);
  private readonly renderables = inject(Renderables);
  private readonly jobs = inject(ProjectJobs);
  private readonly notices = inject(Notices);

  async save(): Promise<void> {
    const project = this.document.project();
    const sound = this.workbench.sound();
    const picture = sound?.picture;
    if (!project || !sound || !picture) return;
    try {
      const video = await this.repository.loadPicture(picture.video);
      if (!video) throw new Error(`The picture “${picture.file}” is not in this browser’s storage; load it again.`);
      const input = { sound, video, picture, ...(await this.renderables.load(project, [sound])) };
      const movie = await this.jobs.run('movie', input, `Making a movie of ${sound.name}`);
      saveFile(movie.bytes, safeFileName(`${project.name}_${sound.name}`) + movie.ending, movie.type);
    } catch (error) {
      if (!(error instanceof JobCancelled)) this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }
}
