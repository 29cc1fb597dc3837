import { computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withProps, withState } from '@ngrx/signals';
import type { Comparison, Sound } from '@tangled-choir/core';
import { bypassed } from '@tangled-choir/core';
import { LiveEngine } from '../engine/live/live-engine';
import type { HeardAlone } from '../engine/protocol';
import type { RenderableSound } from '../engine/renderable-sound';
import { DocumentStore } from './project/document.store';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

export const comparisons: readonly Comparison[] = ['without this step', 'without this chain', 'without all chains'];

/** What B is: one of the bypasses, or the sound as it was when somebody asked to remember it. */
export type OtherSide = Comparison | 'as remembered';

interface JudgingState {
  /** What B is; nothing while nothing is compared. */
  readonly otherSide: OtherSide | undefined;
  readonly heard: 'A' | 'B';
  /** In a blind comparison the sides are called 1 and 2, and which is which is not told. */
  readonly blind: { readonly first: 'A' | 'B' } | undefined;
  readonly remembered: Sound | undefined;
  /** What is heard in the place of everything: the change of a step, or one band of what goes into it. */
  readonly alone: HeardAlone | undefined;
}

const nothingCompared = { otherSide: undefined, remembered: undefined, blind: undefined, heard: 'A' } as const;

/** Judging what is heard: even comparison of two versions at matched loudness, and hearing only what a step changes. */
export const Judging = signalStore(
  withState<JudgingState>({ ...nothingCompared, alone: undefined }),
  withProps(() => ({ _engine: inject(LiveEngine), _workbench: inject(WorkbenchStore) })),
  withComputed(({ alone, otherSide, _engine: engine }) => ({
    /** The step of which only the change is heard. */
    difference: computed(() => (alone()?.what === 'change' ? alone()?.step : undefined)),
    /** What B is turned up against A, in dB: below 0, B is lowered, above, A is; nothing until it is known. */
    gain: computed(() => (otherSide() === undefined ? undefined : engine.meters()?.matchedGain)),
  })),
  withMethods((store) => {
    const compareWith = (otherSide: OtherSide): void => patchState(store, { alone: undefined, blind: undefined, otherSide, heard: 'B' });
    const end = (): void => patchState(store, nothingCompared);
    /** Whoever listens to a part ends a comparison. */
    const listen = (alone: HeardAlone | undefined): void => patchState(store, { ...(alone && nothingCompared), alone });
    return {
      compareWith,
      end,
      listen,
      hear: (heard: 'A' | 'B'): void => patchState(store, { heard }),
      /** Keeps the sound as it is now, to compare what comes with it. */
      remember: (): void =>
        patchState(store, {
          alone: undefined,
          blind: undefined,
          remembered: store._workbench.sound(),
          otherSide: 'as remembered',
          heard: 'A',
        }),
      /** From one side to the other; begins a comparison without the chain where there is none. */
      toggle(): void {
        if (store.otherSide() === undefined) compareWith('without this chain');
        else patchState(store, { heard: store.heard() === 'A' ? 'B' : 'A' });
      },
      /** Hides which is which: chance decides the order, and which of the two is heard from now on, or the one heard before would tell. */
      goBlind(): void {
        const [order, heard] = crypto.getRandomValues(new Uint8Array(2));
        patchState(store, { blind: { first: order! % 2 ? 'A' : 'B' }, heard: heard! % 2 ? 'A' : 'B' });
      },
      /** Tells which is which again. */
      reveal: (): void => patchState(store, { blind: undefined }),
      hearChange(step: string): void {
        if (store.difference() === step) patchState(store, { alone: undefined });
        else listen({ step, what: 'change' });
      },
    };
  }),
  withHooks((store, document = inject(DocumentStore), renderables = inject(Renderables)) => ({
    onInit(): void {
      const { _engine: engine, _workbench: workbench } = store;
      const otherVersion = computed((): Sound | undefined => {
        const sound = workbench.sound();
        const side = store.otherSide();
        if (!sound || side === undefined) return undefined;
        if (side === 'as remembered') return store.remembered();
        return bypassed(sound, side, workbench.owner(), workbench.step()?.id);
      });
      /** The other version, with all that is needed to render it: it may use sources that this one no longer does. */
      const other = computed((): RenderableSound | undefined => {
        const project = document.project();
        const version = otherVersion();
        return project && version && renderables.ready(project, version);
      });
      effect(() => {
        const version = other();
        engine.compare(version);
        if (version) untracked(() => renderables.prepare('other version', version));
      });
      effect(() => engine.hear(store.heard()));
      effect(() => engine.tap({ chain: workbench.chain(), open: workbench.step()?.id, alone: store.alone() }));
      // Another sound has nothing to do with what was remembered; a step that is gone cannot be listened to.
      effect(() => {
        const id = workbench.sound()?.id;
        untracked(() => {
          if (store.remembered() && store.remembered()?.id !== id) store.end();
        });
      });
      effect(() => {
        const ids = workbench.chain().map((step) => step.id);
        untracked(() => {
          const alone = store.alone();
          if (alone && !ids.includes(alone.step)) store.listen(undefined);
        });
      });
    },
  })),
);

export type Judging = InstanceType<typeof Judging>;
