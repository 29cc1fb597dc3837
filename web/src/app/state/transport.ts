import { computed, inject, Injectable, signal } from '@angular/core';
import type { LevelReading } from '../engine/live/output-levels';
import { Playback } from './playback.store';

/** What play and stop mean while a view is open that plays something else than the sound. */
export interface Played {
  readonly name: string;
  readonly playing: () => boolean;
  readonly seconds: () => number;
  /** The highest sample lately, linear. */
  readonly peak: () => number;
  /** How loud all of it was so far. */
  readonly levels: () => LevelReading | undefined;
  toggle(): void;
}

/** What the play button and the space bar play: the sound, or what the open view has in its place. */
@Injectable()
export class Transport {
  private readonly playback = inject(Playback);
  private readonly given = signal<Played | undefined>(undefined);
  /** What is played in the place of the sound. */
  readonly instead = this.given.asReadonly();
  readonly playing = computed(() => this.given()?.playing() ?? this.playback.playing());

  /** Plays something else from now on; returns what ends that. */
  play(instead: Played): () => void {
    this.given.set(instead);
    return () => {
      if (this.given() === instead) this.given.set(undefined);
    };
  }

  toggle(): void {
    const instead = this.given();
    if (instead && !this.playback.playing()) instead.toggle();
    else this.playback.toggle();
  }
}
