import { effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withHooks, withMethods, withProps, withState } from '@ngrx/signals';
import type { MotionTrack, Picture, PictureMoment } from '@tangled-choir/core';
import { findMoments, nearestFrameRate } from '@tangled-choir/core';
import type { PictureReader } from '../engine/picture-reader';
import { ProjectJobs } from '../engine/project-jobs';
import { ProjectRepository } from '../storage/project-repository';
import { DocumentStore } from './project/document.store';
import { Notices } from './notices';
import { WorkbenchStore } from './workbench.store';

const largestVideo = 2 * 2 ** 30;

interface PictureState {
  readonly reader: PictureReader | undefined;
  readonly problem: string | undefined;
  readonly loading: boolean;
  readonly motion: MotionTrack | undefined;
  /** Cuts, flashes and movements that were found, in the picture's own time. */
  readonly moments: readonly PictureMoment[];
}

const nothing = { reader: undefined, problem: undefined, motion: undefined, moments: [] };

/** The picture of the sound that is worked on: its decoder, how it moves, and what happens in it. */
export const PictureStore = signalStore(
  withState<PictureState>({ ...nothing, loading: false }),
  withProps(() => ({ _workbench: inject(WorkbenchStore), _repository: inject(ProjectRepository), _jobs: inject(ProjectJobs) })),
  withMethods((store, document = inject(DocumentStore), notices = inject(Notices)) => ({
    /** Takes a video file as the picture of the sound; its frame rate becomes the sound's. */
    async load(file: File): Promise<void> {
      const sound = store._workbench.sound();
      if (!sound) return;
      const what = `“${file.name}”`;
      patchState(store, { loading: true });
      try {
        if (file.size > largestVideo)
          throw new Error(`${what} has ${(file.size / 2 ** 30).toFixed(1)} GB; pictures up to 2 GB can be loaded.`);
        const { PictureReader } = await import('../engine/picture-reader');
        const reader = await PictureReader.open(file, what);
        const { info } = reader;
        reader.close();
        const bytes = new Uint8Array(await file.arrayBuffer());
        const { hash } = await store._jobs.run('hash', { bytes }, `Reading ${file.name}`, { quiet: true });
        await store._repository.savePicture(hash, file.slice(0, file.size, file.type));
        const picture = {
          video: hash,
          file: file.name,
          type: file.type.slice(0, 100),
          seconds: info.seconds,
          width: info.width,
          height: info.height,
          offset: 0,
        };
        document.edit('setPicture', { sound: sound.id, picture, frameRate: nearestFrameRate(info.framesPerSecond) });
      } catch (error) {
        if (!store._jobs.signal.aborted) notices.error(error instanceof Error ? error.message : String(error));
      } finally {
        patchState(store, { loading: false });
      }
    },
  })),
  withHooks((store) => {
    let openVideo: string | undefined;

    /** Watches a picture to its end, once for all. */
    const watch = async (picture: Picture, video: Blob): Promise<MotionTrack> => {
      const input = { video, name: picture.file };
      const motion = await store._jobs.run('motion', input, `Watching ${picture.file}`, { background: true });
      // Without room it is watched again the next time.
      await store._repository.saveMotion(picture.video, motion).catch(() => undefined);
      return motion;
    };

    const follow = async (picture: Picture | undefined): Promise<void> => {
      if (picture?.video === openVideo) return;
      openVideo = picture?.video;
      store.reader()?.close();
      patchState(store, nothing);
      if (!picture) return;
      const isOpen = (): boolean => openVideo === picture.video;
      try {
        const video = await store._repository.loadPicture(picture.video);
        if (!video) throw new Error(`The picture “${picture.file}” is not in this browser’s storage; load it again.`);
        const { PictureReader } = await import('../engine/picture-reader');
        const reader = await PictureReader.open(video, `“${picture.file}”`);
        if (!isOpen()) {
          reader.close();
          return;
        }
        patchState(store, { reader });
        const motion = (await store._repository.loadMotion(picture.video)) ?? (await watch(picture, video));
        if (isOpen()) patchState(store, { motion, moments: findMoments(motion) });
      } catch (error) {
        if (isOpen()) patchState(store, { problem: error instanceof Error ? error.message : String(error) });
      }
    };

    return {
      onInit(): void {
        effect(() => {
          const picture = store._workbench.sound()?.picture;
          untracked(() => void follow(picture));
        });
      },
      onDestroy(): void {
        openVideo = undefined;
        store.reader()?.close();
      },
    };
  }),
);

export type PictureStore = InstanceType<typeof PictureStore>;
