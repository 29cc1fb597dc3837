import { effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { MotionTrack, Picture, PictureMoment } from '@tangled-choir/core';
import { findMoments, nearestFrameRate } from '@tangled-choir/core';
import { JobPool } from '../engine/job-pool';
import type { PictureReader } from '../engine/picture-reader';
import { ProjectRepository } from '../storage/project-repository';
import { DocumentStore } from './document.store';
import { Notices } from './notices';
import { WorkbenchStore } from './workbench.store';

const largestVideo = 2 * 2 ** 30;

/** The picture of the sound that is worked on: its decoder, how it moves, and what happens in it. */
@Injectable({ providedIn: 'root' })
export class PictureStore {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly repository = inject(ProjectRepository);
  private readonly jobs = inject(JobPool);
  private readonly notices = inject(Notices);
  readonly reader = signal<PictureReader | undefined>(undefined);
  readonly problem = signal<string | undefined>(undefined);
  readonly loading = signal(false);
  readonly motion = signal<MotionTrack | undefined>(undefined);
  /** Cuts, flashes and movements that were found, in the picture's own time. */
  readonly moments = signal<readonly PictureMoment[]>([]);
  private openVideo: string | undefined;

  constructor() {
    effect(() => {
      const picture = this.workbench.sound()?.picture;
      untracked(() => void this.follow(picture));
    });
  }

  /** Takes a video file as the picture of the sound; its frame rate becomes the sound's. */
  async load(file: File): Promise<void> {
    const sound = this.workbench.sound();
    if (!sound) return;
    const what = `“${file.name}”`;
    this.loading.set(true);
    try {
      if (file.size > largestVideo)
        throw new Error(`${what} has ${(file.size / 2 ** 30).toFixed(1)} GB; pictures up to 2 GB can be loaded.`);
      const { PictureReader } = await import('../engine/picture-reader');
      const reader = await PictureReader.open(file, what);
      const { info } = reader;
      reader.close();
      const bytes = new Uint8Array(await file.arrayBuffer());
      const { hash } = await this.jobs.run({ kind: 'hash', bytes }, `Reading ${file.name}`, { quiet: true });
      await this.repository.savePicture(hash, file.slice(0, file.size, file.type));
      const picture = {
        video: hash,
        file: file.name,
        type: file.type.slice(0, 100),
        seconds: info.seconds,
        width: info.width,
        height: info.height,
        offset: 0,
      };
      this.document.edit('setPicture', { sound: sound.id, picture, frameRate: nearestFrameRate(info.framesPerSecond) });
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    } finally {
      this.loading.set(false);
    }
  }

  private async follow(picture: Picture | undefined): Promise<void> {
    if (picture?.video === this.openVideo) return;
    this.openVideo = picture?.video;
    this.reader()?.close();
    this.reader.set(undefined);
    this.problem.set(undefined);
    this.motion.set(undefined);
    this.moments.set([]);
    if (!picture) return;
    try {
      const video = await this.repository.loadPicture(picture.video);
      if (!video) throw new Error(`The picture “${picture.file}” is not in this browser’s storage; load it again.`);
      const { PictureReader } = await import('../engine/picture-reader');
      const reader = await PictureReader.open(video, `“${picture.file}”`);
      if (this.openVideo !== picture.video) {
        reader.close();
        return;
      }
      this.reader.set(reader);
      const motion = await this.jobs.run({ kind: 'motion', video, name: picture.file }, `Watching ${picture.file}`, { background: true });
      if (this.openVideo !== picture.video) return;
      this.motion.set(motion);
      this.moments.set(findMoments(motion));
    } catch (error) {
      if (this.openVideo === picture.video) this.problem.set(error instanceof Error ? error.message : String(error));
    }
  }
}
