import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { Source, Stretch } from '@tangled-choir/core';
import { soundEnd } from '@tangled-choir/core';
import { AudioLibrary, isLong } from '../engine/audio-library';
import { LiveEngine } from '../engine/live/live-engine';
import type { SharedAudio } from '../engine/protocol';
import { DocumentStore } from './document.store';
import { Freezing } from './freezing';
import { Notices } from './notices';
import { renderable } from './renderable';
import { WorkbenchStore } from './workbench.store';

/** Seconds of a long recording that are loaded before they are heard. */
const loadedAhead = 40;

/** Speeds at which the picture can be watched. */
export const playSpeeds = [1, 0.5, 0.25] as const;
export type PlaySpeed = (typeof playSpeeds)[number];

/** Playing and what it plays: keeps the engine up to date with the document, so that every edit is heard. */
@Injectable({ providedIn: 'root' })
export class Playback {
  private readonly engine = inject(LiveEngine);
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly library = inject(AudioLibrary);
  private readonly notices = inject(Notices);
  private readonly freezing = inject(Freezing);
  /** Name of the recording that is auditioned. */
  readonly auditioned = signal<string | undefined>(undefined);
  /** Where playing starts and returns to. */
  readonly startPosition = signal(0);
  /** The stretch that loops when looping is on; the whole sound unless somebody chose a part. */
  readonly loopRange = signal<{ from: number; to: number } | undefined>(undefined);
  readonly speed = signal<PlaySpeed>(1);
  /** Whether the sound follows a slow picture, at its own pitch, or is silent. */
  readonly slowSound = signal(true);
  readonly playing = computed(() => this.engine.playing() !== undefined);
  /** Where on the time axis the sound is heard, or would begin; a recording that is listened to meanwhile does not move it. */
  readonly playhead = computed(() => {
    const playing = this.engine.playing();
    return playing === 'sound' || playing === 'silent' ? this.engine.position() : this.startPosition();
  });

  constructor() {
    effect(() => {
      const project = this.document.project();
      const sound = this.workbench.sound();
      const frozen = this.freezing.playable();
      if (!project || !sound) return;
      const hash = project.sources.find(({ id }) => id === sound.reference)?.audio;
      const ready = renderable(project, sound, this.library);
      const audio = hash === undefined ? undefined : this.library.ready(sound, new Map([[sound.reference ?? '', hash]])).get(hash);
      const reference = hash !== undefined && audio ? { reference: { hash, audio } } : {};
      this.engine.setSound({ ...ready, frozen, ...reference });
    });
    effect(() => {
      const sound = this.workbench.sound();
      const looping = this.workbench.looping();
      const range = this.loopRange() ?? { from: 0, to: sound ? soundEnd(sound) : 0 };
      this.engine.setLoop(looping && range.to > range.from + 0.01 ? range : undefined);
    });
    // Another sound starts at its beginning.
    effect(() => {
      this.workbench.soundId();
      untracked(() => {
        if (this.engine.playing() !== 'audition') this.engine.stop();
        this.startPosition.set(0);
        this.engine.position.set(0);
        this.loopRange.set(undefined);
      });
    });
  }

  /** Plays the sound from the start position, or stops whatever plays and returns there. */
  toggle(): void {
    if (this.engine.playing() !== undefined) this.stop();
    else this.play();
  }

  play(): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    const end = soundEnd(sound);
    const last = this.speed() === 1 ? end : Infinity;
    const from = this.startPosition() >= last ? 0 : this.startPosition();
    this.auditioned.set(undefined);
    if (this.speed() !== 1) {
      const until = Math.max(end, (sound.picture?.seconds ?? 0) + (sound.picture?.offset ?? 0));
      if (this.slowSound()) this.start(this.engine.playSound(from, this.speed(), until));
      else this.engine.playSilently(from, until, this.speed());
      return;
    }
    this.start(this.engine.playSound(from));
  }

  private start(starting: Promise<void>): void {
    void starting.catch(() => this.notices.error(this.engine.problem() ?? 'Sound could not be started.'));
  }

  setSpeed(speed: PlaySpeed): void {
    this.speed.set(speed);
    this.goOn();
  }

  setSlowSound(heard: boolean): void {
    this.slowSound.set(heard);
    if (this.speed() !== 1) this.goOn();
  }

  /** Plays on from where it is, in the way that is wanted now. */
  private goOn(): void {
    const playing = this.engine.playing();
    if (playing !== 'sound' && playing !== 'silent') return;
    const start = this.startPosition();
    this.startPosition.set(this.engine.position());
    this.engine.stop();
    this.play();
    this.startPosition.set(start);
  }

  stop(): void {
    const wasSound = this.engine.playing() !== 'audition';
    this.engine.stop();
    this.auditioned.set(undefined);
    if (wasSound) this.engine.position.set(this.startPosition());
  }

  /** Moves the playhead; playing goes on from there. */
  seek(position: number): void {
    this.startPosition.set(Math.max(0, position));
    this.engine.seek(position);
  }

  /** Plays a source of the project, or a part of it in seconds; stops it when it plays already. Of a long one, the beginning is loaded first. */
  auditionSource(source: Source, part?: Stretch & { readonly name: string }): void {
    const name = part ? `${source.name}: ${part.name}` : source.name;
    if (this.auditioned() === name) {
      this.stop();
      return;
    }
    const whole = part ?? { from: 0, to: source.frames / (this.document.project()?.sampleRate ?? 48_000) };
    this.library.load(source, [{ from: whole.from, to: Math.min(whole.to, whole.from + loadedAhead) }]).then(
      (audio) => {
        this.audition(name, audio, { ...(part && { part }) });
        if (isLong(source)) void this.loadAhead(source, whole, name);
      },
      (error: unknown) => this.notices.error(error instanceof Error ? error.message : String(error)),
    );
  }

  /** Keeps a long recording loaded ahead of where it is heard, as long as it is. */
  private async loadAhead(source: Source, { from, to }: Stretch, name: string): Promise<void> {
    for (let at = from; at < to && this.auditioned() === name;) {
      const heard = from + this.engine.position();
      if (at < heard + loadedAhead / 2) {
        await this.library.load(source, [{ from: at, to: Math.min(to, heard + loadedAhead) }]).catch(() => undefined);
        at = heard + loadedAhead;
      } else await new Promise((resolve) => setTimeout(resolve, 1_000));
    }
  }

  /** Plays a recording, or a part of it. */
  audition(name: string, audio: SharedAudio, { part }: { readonly part?: Stretch } = {}): void {
    this.auditioned.set(name);
    void this.engine
      .audition(audio, part, () => this.auditioned.set(undefined))
      .catch(() => this.notices.error(this.engine.problem() ?? 'Sound could not be started.'));
  }
}
