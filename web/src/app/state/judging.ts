import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { Comparison, Sound } from '@tangled-choir/core';
import { bypassed } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { LiveEngine } from '../engine/live/live-engine';
import type { HeardAlone, RenderableSound } from '../engine/protocol';
import { DocumentStore } from './document.store';
import { renderable } from './renderable';
import { WorkbenchStore } from './workbench.store';

export const comparisons: readonly Comparison[] = ['without this step', 'without this chain', 'without all chains'];

/** What B is: one of the bypasses, or the sound as it was when somebody asked to remember it. */
export type OtherSide = Comparison | 'as remembered';

/** Judging what is heard: even comparison of two versions at matched loudness, and hearing only what a step changes. */
@Injectable({ providedIn: 'root' })
export class Judging {
  private readonly engine = inject(LiveEngine);
  private readonly workbench = inject(WorkbenchStore);
  private readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  /** What B is; nothing while nothing is compared. */
  readonly otherSide = signal<OtherSide | undefined>(undefined);
  readonly heard = signal<'A' | 'B'>('A');
  /** In a blind comparison the sides are called 1 and 2, and which is which is not told. */
  readonly blind = signal<{ readonly first: 'A' | 'B' } | undefined>(undefined);
  readonly remembered = signal<Sound | undefined>(undefined);
  /** What is heard in the place of everything: the change of a step, or one band of what goes into it. */
  readonly alone = signal<HeardAlone | undefined>(undefined);
  /** The step of which only the change is heard. */
  readonly difference = computed(() => (this.alone()?.what === 'change' ? this.alone()?.step : undefined));

  /** The other version, with all that is needed to render it: it may use sources that this one no longer does. */
  private readonly other = computed((): RenderableSound | undefined => {
    const project = this.document.project();
    const version = this.otherVersion();
    return project && version && renderable(project, version, this.library);
  });
  private readonly otherVersion = computed((): Sound | undefined => {
    const sound = this.workbench.sound();
    const side = this.otherSide();
    if (!sound || side === undefined) return undefined;
    if (side === 'as remembered') return this.remembered();
    return bypassed(sound, side, this.workbench.owner(), this.workbench.step()?.id);
  });
  /** What B is turned up or down by, in dB; nothing until it is known. */
  readonly gain = computed(() => (this.otherSide() === undefined ? undefined : this.engine.meters()?.matchedGain));

  constructor() {
    effect(() => this.engine.compare(this.other()));
    effect(() => this.engine.hear(this.heard()));
    effect(() => {
      const alone = this.alone();
      const chain = this.workbench.chain();
      this.engine.tap({ chain, open: this.workbench.step()?.id, alone });
    });
    // Another sound has nothing to do with what was remembered; a step that is gone cannot be listened to.
    effect(() => {
      const id = this.workbench.sound()?.id;
      untracked(() => {
        if (this.remembered() && this.remembered()?.id !== id) this.end();
      });
    });
    effect(() => {
      const ids = this.workbench.chain().map((step) => step.id);
      untracked(() => {
        const alone = this.alone();
        if (alone && !ids.includes(alone.step)) this.alone.set(undefined);
      });
    });
  }

  compareWith(side: OtherSide): void {
    this.alone.set(undefined);
    this.blind.set(undefined);
    this.otherSide.set(side);
    this.heard.set('B');
  }

  /** Keeps the sound as it is now, to compare what comes with it. */
  remember(): void {
    this.alone.set(undefined);
    this.blind.set(undefined);
    this.remembered.set(this.workbench.sound());
    this.otherSide.set('as remembered');
    this.heard.set('A');
  }

  /** From one side to the other; begins a comparison without the chain where there is none. */
  toggle(): void {
    if (this.otherSide() === undefined) this.compareWith('without this chain');
    else this.heard.update((heard) => (heard === 'A' ? 'B' : 'A'));
  }

  /** Hides which is which: chance decides the order, and which of the two is heard from now on, or the one heard before would tell. */
  goBlind(): void {
    const [order, heard] = crypto.getRandomValues(new Uint8Array(2));
    this.blind.set({ first: order! % 2 ? 'A' : 'B' });
    this.heard.set(heard! % 2 ? 'A' : 'B');
  }

  end(): void {
    this.otherSide.set(undefined);
    this.remembered.set(undefined);
    this.blind.set(undefined);
    this.heard.set('A');
  }

  hearChange(step: string): void {
    if (this.difference() === step) this.alone.set(undefined);
    else this.listen({ step, what: 'change' });
  }

  /** Whoever listens to a part ends a comparison. */
  listen(alone: HeardAlone | undefined): void {
    if (alone) this.end();
    this.alone.set(alone);
  }
}
