import { inject, Injectable, signal } from '@angular/core';
import { ProjectRepository } from '../storage/project-repository';
import { DocumentStore } from './project/document.store';
import { ProjectTransfer } from './project/project-transfer.store';
import { Notices } from './notices';
import { PictureStore } from './picture.store';
import { WorkbenchStore } from './workbench.store';

/** Brings the picture's own sound into the project, as the guide of the sound that is laid to it. */
@Injectable()
export class PictureSound {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly pictures = inject(PictureStore);
  private readonly repository = inject(ProjectRepository);
  private readonly transfer = inject(ProjectTransfer);
  private readonly notices = inject(Notices);
  /** One at a time: a second press brings in nothing twice. */
  readonly busy = signal(false);

  /** One undo step: the source, and the guide that it is. */
  async useAsGuide(): Promise<void> {
    const sound = this.workbench.sound();
    const reader = this.pictures.reader();
    if (!sound?.picture || !reader || this.busy()) return;
    const { file, video, offset } = sound.picture;
    this.busy.set(true);
    try {
      const begins = await reader.soundStart();
      if (begins === undefined) throw new Error(`“${file}” has no sound of its own.`);
      const stored = await this.repository.loadPicture(video);
      if (!stored) throw new Error(`The picture “${file}” is not in this browser’s storage; load it again.`);
      const gesture = `guide of ${sound.id} from ${video}`;
      const { sources, failures } = await this.transfer.importFiles([{ path: file, file: new File([stored], file) }], gesture);
      if (failures[0]) throw new Error(failures[0].reason);
      const [source] = sources;
      if (source !== undefined) this.document.edit('setGuide', { sound: sound.id, source, start: offset + begins }, gesture);
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    } finally {
      this.busy.set(false);
    }
  }
}
