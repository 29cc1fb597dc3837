import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import type { ChainOwner, Clip, Layer } from '@tangled-choir/core';
import { DocumentStore } from './document.store';

interface WorkbenchState {
  readonly soundId: string | undefined;
  readonly layerId: string | undefined;
  readonly clipId: string | undefined;
  /** Whose chain the lectern shows when no layer is selected. */
  readonly whole: boolean;
  readonly stepId: string | undefined;
  readonly sourceId: string | undefined;
  readonly looping: boolean;
}

/** What is being worked on: the sound, its selected layer, clip and step, and the selected source. Not part of the document. */
export const WorkbenchStore = signalStore(
  { providedIn: 'root' },
  withState<WorkbenchState>({
    soundId: undefined,
    layerId: undefined,
    clipId: undefined,
    whole: false,
    stepId: undefined,
    sourceId: undefined,
    looping: false,
  }),
  withComputed((state, document = inject(DocumentStore)) => {
    const sound = computed(() => {
      const sounds = document.project()?.sounds ?? [];
      return sounds.find((candidate) => candidate.id === state.soundId()) ?? sounds[0];
    });
    const selectedClip = computed((): { clip: Clip; layer: Layer } | undefined => {
      for (const layer of sound()?.layers ?? []) for (const clip of layer.clips) if (clip.id === state.clipId()) return { clip, layer };
      return undefined;
    });
    const layer = computed((): Layer | undefined => {
      if (state.whole()) return undefined;
      const layers = sound()?.layers ?? [];
      return layers.find((candidate) => candidate.id === state.layerId()) ?? layers[0];
    });
    const owner = computed((): ChainOwner => {
      const selected = layer();
      return selected ? { layer: selected.id } : 'sound';
    });
    const chain = computed(() => layer()?.chain ?? sound()?.chain ?? []);
    const step = computed(() => chain().find((candidate) => candidate.id === state.stepId()) ?? chain()[0]);
    const source = computed(() => document.project()?.sources.find((candidate) => candidate.id === state.sourceId()));
    return { sound, selectedClip, layer, owner, chain, step, source };
  }),
  withMethods((store) => ({
    selectSound: (soundId: string): void =>
      patchState(store, { soundId, layerId: undefined, clipId: undefined, stepId: undefined, whole: false }),
    selectLayer: (layerId: string): void =>
      patchState(store, { layerId, whole: false, ...(store.layerId() !== layerId && { stepId: undefined, clipId: undefined }) }),
    selectClip: (layerId: string, clipId: string): void =>
      patchState(store, { layerId, clipId, whole: false, ...(store.layerId() !== layerId && { stepId: undefined }) }),
    selectWhole: (): void => patchState(store, { whole: true, stepId: undefined, clipId: undefined }),
    selectStep: (stepId: string | undefined): void => patchState(store, { stepId }),
    selectSource: (sourceId: string | undefined): void => patchState(store, { sourceId }),
    setLooping: (looping: boolean): void => patchState(store, { looping }),
  })),
);

export type WorkbenchStore = InstanceType<typeof WorkbenchStore>;
