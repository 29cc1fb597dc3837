import { computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withProps, withState } from '@ngrx/signals';
import type { Source, Stretch } from '@tangled-choir/core';
import { guideEnd, pictureEnd, soundEnd } from '@tangled-choir/core';
import type { SharedAudio } from '@tangled-choir/jobs';
import { AudioLibrary, isLong } from '../engine/audio-library';
import { LiveEngine } from '../engine/live/live-engine';
import { DocumentStore } from './project/document.store';
import { Freezing } from './freezing.store';
import { Notices } from './notices';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

/** Seconds of a long recording that are loaded before they are heard. */
const loadedAhead = 40;

/** Seconds of the playhead's way after which it is seen to what is heard next. */
const previewStep = 2;

/** Speeds at which the picture can be watched. */
export const playSpeeds = [1, 0.5, 0.25] as const;
export type PlaySpeed = (typeof playSpeeds)[number];

interface PlaybackState {
  /** Name of the recording that is auditioned. */
  readonly auditioned: string | undefined;
  /** Where playing starts and returns to. */
  readonly startPosition: number;
  /** The stretch that loops when looping is on; the whole sound unless somebody chose a part. */
  readonly loopRange: { readonly from: number; readonly to: number } | undefined;
  readonly speed: PlaySpeed;
  /** Whether the sound follows a slow picture, at its own pitch, or is silent. */
  readonly slowSound: boolean;
}

/** Playing and what it plays: keeps the engine up to date with the document, so that every edit is heard. */
export const Playback = signalStore(
  withState<PlaybackState>({ auditioned: undefined, startPosition: 0, loopRange: undefined, speed: 1, slowSound: true }),
  withProps(() => ({
    _engine: inject(LiveEngine),
    _document: inject(DocumentStore),
    _workbench: inject(WorkbenchStore),
    _library: inject(AudioLibrary),
    _notices: inject(Notices),
  })),
  withComputed(({ startPosition, _engine: engine }) => ({
    /** Whether something plays by itself; hands do not. */
    playing: computed(() => engine.playing() !== undefined && engine.playing() !== 'hands'),
    /** Where on the time axis the sound is heard, or would begin; a recording that is listened to meanwhile does not move it. */
    playhead: computed(() => {
      const playing = engine.playing();
      return playing === 'sound' || playing === 'silent' ? engine.position() : startPosition();
    }),
  })),
  withMethods((store) => {
    const { _engine: engine, _document: document, _workbench: workbench, _library: library, _notices: notices } = store;

    const start = (starting: Promise<void>): void =>
      void starting.catch(() => notices.error(engine.problem() ?? 'Sound could not be started.'));

    /** @param beyond seconds that it goes on behind all that there is */
    const play = (beyond = 0): void => {
      const sound = workbench.sound();
      const project = document.project();
      if (!sound || !project) return;
      const speed = store.speed();
      // To the end of what there is to see and to work along with.
      const until = Math.max(soundEnd(sound), pictureEnd(sound), guideEnd(sound, project));
      const from = store.startPosition() >= until + beyond ? 0 : store.startPosition();
      patchState(store, { auditioned: undefined });
      if (speed === 1 || store.slowSound()) start(engine.playSound(from, speed, until + beyond));
      else engine.playSilently(from, until + beyond, speed);
    };

    const stop = (): void => {
      const wasSound = engine.playing() !== 'audition';
      engine.stop();
      patchState(store, { auditioned: undefined });
      if (wasSound) engine.seek(store.startPosition());
    };

    /** Plays on from where it is, in the way that is wanted now. */
    const goOn = (): void => {
      const playing = engine.playing();
      if (playing !== 'sound' && playing !== 'silent') return;
      const startPosition = store.startPosition();
      patchState(store, { startPosition: engine.position() });
      engine.stop();
      play();
      patchState(store, { startPosition });
    };

    /** Plays a recording, or a part of it. */
    const audition = (name: string, audio: SharedAudio, { part }: { readonly part?: Stretch } = {}): void => {
      patchState(store, { auditioned: name });
      start(engine.audition(audio, part, () => patchState(store, { auditioned: undefined })));
    };

    /** Keeps a long recording loaded ahead of where it is heard, as long as it is. */
    const loadAhead = async (source: Source, { from, to }: Stretch, name: string): Promise<void> => {
      for (let at = from; at < to && store.auditioned() === name;) {
        const heard = from + engine.position();
        if (at < heard + loadedAhead / 2) {
          await library.load(source, [{ from: at, to: Math.min(to, heard + loadedAhead) }]).catch(() => undefined);
          at = heard + loadedAhead;
        } else await new Promise((resolve) => setTimeout(resolve, 1_000));
      }
    };

    return {
      play,
      stop,
      audition,
      /** Plays the sound from the start position, or stops whatever plays and returns there. */
      toggle(): void {
        if (store.playing()) stop();
        else play();
      },
      setSpeed(speed: PlaySpeed): void {
        patchState(store, { speed });
        goOn();
      },
      setSlowSound(slowSound: boolean): void {
        patchState(store, { slowSound });
        if (store.speed() !== 1) goOn();
      },
      setLoopRange: (loopRange: PlaybackState['loopRange']): void => patchState(store, { loopRange }),
      /** Moves the playhead; playing goes on from there. */
      seek(position: number): void {
        patchState(store, { startPosition: Math.max(0, position) });
        engine.seek(position);
      },
      /** Plays a source of the project, or a part of it in seconds; stops it when it plays already. Of a long one, the beginning is loaded first. */
      auditionSource(source: Source, part?: Stretch & { readonly name: string }): void {
        const name = part ? `${source.name}: ${part.name}` : source.name;
        if (store.auditioned() === name) {
          stop();
          return;
        }
        const whole = part ?? { from: 0, to: source.frames / (document.project()?.sampleRate ?? 48_000) };
        library.load(source, [{ from: whole.from, to: Math.min(whole.to, whole.from + loadedAhead) }]).then(
          (audio) => {
            audition(name, audio, { ...(part && { part }) });
            if (isLong(source)) void loadAhead(source, whole, name);
          },
          (error: unknown) => notices.error(error instanceof Error ? error.message : String(error)),
        );
      },
    };
  }),
  withHooks((store, renderables = inject(Renderables), freezing = inject(Freezing)) => ({
    onInit(): void {
      const { _engine: engine, _document: document, _workbench: workbench, _library: library } = store;
      const renderable = computed(() => {
        const project = document.project();
        const sound = workbench.sound();
        return project && sound && renderables.ready(project, sound);
      });
      const passed = computed(() => Math.floor(store.playhead() / previewStep) * previewStep);
      effect(() => {
        const project = document.project();
        const ready = renderable();
        const frozen = freezing.playable();
        if (!project || !ready) return;
        const { sound } = ready;
        const source = project.sources.find(({ id }) => id === sound.guide?.source);
        const audio = source && library.ready(sound, new Map([[source.id, source.audio]])).get(source.audio);
        engine.setSound({ ...ready, frozen, ...(audio && { guide: { hash: source.audio, audio } }) });
        untracked(() => renderables.prepare('sound', ready));
      });
      effect(() => {
        const ready = renderable();
        const playhead = passed();
        if (ready) untracked(() => renderables.preview(ready, playhead));
      });
      effect(() => {
        const sound = workbench.sound();
        const looping = workbench.looping();
        const range = store.loopRange() ?? { from: 0, to: sound ? soundEnd(sound) : 0 };
        engine.setLoop(looping && range.to > range.from + 0.01 ? range : undefined);
      });
      effect(() => {
        if (engine.restarts() > 0) store._notices.info('The engine stopped, and was started again.');
      });
      // Another sound starts at its beginning.
      effect(() => {
        workbench.soundId();
        untracked(() => {
          if (engine.playing() !== 'audition') engine.stop();
          patchState(store, { startPosition: 0, loopRange: undefined });
          engine.clearMeters();
          engine.seek(0);
        });
      });
    },
  })),
);

export type Playback = InstanceType<typeof Playback>;
