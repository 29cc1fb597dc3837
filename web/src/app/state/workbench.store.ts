import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import type { ChainOwner, Clip, CopiedClip, CopiedLayers, CopiedSteps, Layer, PatchPart } from '@tangled-choir/core';
import { clipsOf, pathToBranch, projectSampleRate, pulledClips } from '@tangled-choir/core';
import { DocumentStore } from './project/document.store';

/** What was copied last: clips, layers or steps of a chain. */
export type Clipboard =
  | { readonly kind: 'clips'; readonly clips: readonly CopiedClip[] }
  | { readonly kind: 'layers'; readonly layers: CopiedLayers }
  | { readonly kind: 'steps'; readonly steps: CopiedSteps };

interface WorkbenchState {
  readonly soundId: string | undefined;
  readonly layerId: string | undefined;
  /** A group or a shared bus, selected in the place of a layer. */
  readonly busId: string | undefined;
  /** The chosen clips; the last one is shown in the inspector. */
  readonly clipIds: readonly string[];
  /** Whose chain the lectern shows when no layer is selected. */
  readonly whole: boolean;
  /** The branch of a host whose chain the lectern shows, in the place of the owner's own chain. */
  readonly branchId: string | undefined;
  readonly stepId: string | undefined;
  /** The part of a made layer's patch that the lectern shows, or what all parts share (`shared`). */
  readonly partId: string | undefined;
  /** The layer whose notes are open below its lane. */
  readonly noted: string | undefined;
  readonly sourceId: string | undefined;
  /** Gather shows the source close up, in the place of the map. */
  readonly closeUp: boolean;
  readonly looping: boolean;
  /** Whose automation lanes are open, by address. */
  readonly automated: readonly string[];
  /** The property whose lane was opened last: it must be seen. */
  readonly openedLane: { readonly address: string } | undefined;
  /** Groups whose layers are folded away. */
  readonly folded: readonly string[];
  readonly clipboard: Clipboard | undefined;
}

/** What is being worked on: the sound, its selected layer, clip and step, and the selected source. Not part of the document. */
export const WorkbenchStore = signalStore(
  withState<WorkbenchState>({
    soundId: undefined,
    layerId: undefined,
    busId: undefined,
    clipIds: [],
    whole: false,
    branchId: undefined,
    stepId: undefined,
    partId: undefined,
    noted: undefined,
    sourceId: undefined,
    closeUp: false,
    looping: false,
    automated: [],
    openedLane: undefined,
    folded: [],
    clipboard: undefined,
  }),
  withComputed((state, document = inject(DocumentStore)) => {
    const sound = computed(() => {
      const sounds = document.project()?.sounds ?? [];
      return sounds.find((candidate) => candidate.id === state.soundId()) ?? sounds[0];
    });
    const selectedClips = computed((): { clip: Clip; layer: Layer }[] => {
      const found = sound();
      return found && state.clipIds().length > 0 ? clipsOf(found, new Set(state.clipIds())) : [];
    });
    const selectedClip = computed((): { clip: Clip; layer: Layer } | undefined => {
      const last = state.clipIds().at(-1);
      return selectedClips().find(({ clip }) => clip.id === last);
    });
    /** The clips that movers pull, as they are heard, by their ids. */
    const pulled = computed((): ReadonlyMap<string, Clip> => {
      const plain = sound();
      const heard = plain && pulledClips(plain, projectSampleRate);
      return new Map(heard === plain ? [] : heard?.layers.flatMap(({ clips }) => clips).map((clip) => [clip.id, clip]));
    });
    const isChosen = computed(() => new Set(state.clipIds()));
    const bus = computed(() => sound()?.buses.find((candidate) => candidate.id === state.busId()));
    const layer = computed((): Layer | undefined => {
      if (state.whole() || bus()) return undefined;
      const layers = sound()?.layers ?? [];
      return layers.find((candidate) => candidate.id === state.layerId()) ?? layers[0];
    });
    const owner = computed((): ChainOwner => {
      const selected = layer();
      const selectedBus = bus();
      if (selectedBus) return { bus: selectedBus.id };
      return selected ? { layer: selected.id } : 'sound';
    });
    const outerChain = computed(() => bus()?.chain ?? layer()?.chain ?? sound()?.chain ?? []);
    /** The hosts that the open chain lies in, from the outermost on; empty for the owner's own chain. */
    const path = computed(() => {
      const branchId = state.branchId();
      return (branchId !== undefined && pathToBranch(outerChain(), branchId)) || [];
    });
    const chain = computed(() => path().at(-1)?.branch.chain ?? outerChain());
    /** Where edits of the open chain happen. */
    const branch = computed(() => path().at(-1)?.branch.id);
    const step = computed(() => chain().find((candidate) => candidate.id === state.stepId()) ?? chain()[0]);
    const source = computed(() => document.project()?.sources.find((candidate) => candidate.id === state.sourceId()));
    const patch = computed(() => layer()?.patch);
    /** What of a patch is open: until a step is chosen, its first part. */
    const part = computed((): PatchPart | 'shared' | undefined => {
      const parts = patch()?.parts;
      if (!parts || path().length > 0) return undefined;
      if (state.partId() === 'shared') return 'shared';
      const chosen = parts.find((candidate) => candidate.id === state.partId());
      return chosen ?? (state.stepId() === undefined ? (parts[0] ?? 'shared') : undefined);
    });
    return {
      sound,
      pulled,
      selectedClips,
      selectedClip,
      isChosen,
      layer,
      bus,
      owner,
      path,
      outerChain,
      chain,
      branch,
      step,
      source,
      patch,
      part,
    };
  }),
  withMethods((store) => ({
    /** A clip of the sound as movers pull it. */
    asHeard: (clip: Clip): Clip => store.pulled().get(clip.id) ?? clip,
  })),
  withMethods((store) => {
    /** Clips with everything that is grouped with them, in the given order. */
    const withGroups = (ids: readonly string[]): string[] => {
      const all = store.sound()?.layers.flatMap((layer) => layer.clips) ?? [];
      const groups = new Set(all.filter((clip) => ids.includes(clip.id) && clip.group !== undefined).map((clip) => clip.group));
      const others = all.filter((clip) => clip.group !== undefined && groups.has(clip.group) && !ids.includes(clip.id));
      return [...others.map((clip) => clip.id), ...ids];
    };
    const layerOf = (clipId: string | undefined): string | undefined =>
      store.sound()?.layers.find((layer) => layer.clips.some((clip) => clip.id === clipId))?.id;
    const selectClips = (ids: readonly string[]): void => {
      const layerId = layerOf(ids.at(-1)) ?? store.layerId();
      patchState(store, {
        clipIds: withGroups(ids),
        layerId,
        busId: undefined,
        whole: false,
        ...(store.layerId() !== layerId && { stepId: undefined, partId: undefined, branchId: undefined }),
      });
    };
    return {
      selectSound: (soundId: string): void =>
        patchState(store, {
          soundId,
          layerId: undefined,
          busId: undefined,
          clipIds: [],
          stepId: undefined,
          partId: undefined,
          branchId: undefined,
          whole: false,
        }),
      selectLayer: (layerId: string): void =>
        patchState(store, {
          layerId,
          busId: undefined,
          whole: false,
          ...(store.layerId() !== layerId && { stepId: undefined, partId: undefined, branchId: undefined, clipIds: [] }),
        }),
      selectClips,
      selectClip: (clipId: string): void => selectClips([clipId]),
      /** Adds a clip and its group to the choice, or takes them out of it. */
      toggleClip: (clipId: string): void => {
        const group = withGroups([clipId]);
        const chosen = store.clipIds();
        if (chosen.includes(clipId)) patchState(store, { clipIds: chosen.filter((id) => !group.includes(id)) });
        else selectClips([...chosen, clipId]);
      },
      selectBus: (busId: string): void =>
        patchState(store, { busId, whole: false, stepId: undefined, partId: undefined, branchId: undefined, clipIds: [] }),
      /** Opens or closes the automation lanes of an owner. */
      showAutomation: (owner: string, open: boolean): void =>
        patchState(store, { automated: [...store.automated().filter((other) => other !== owner), ...(open ? [owner] : [])] }),
      /** Opens the lanes of an owner, and brings one of them into view. */
      openLane: (owner: string, address: string): void =>
        patchState(store, {
          automated: [...store.automated().filter((other) => other !== owner), owner],
          openedLane: { address },
        }),
      /** Says that the lane was brought into view: who comes back later wants to be where they were. */
      laneShown: (): void => patchState(store, { openedLane: undefined }),
      fold: (group: string, folded: boolean): void =>
        patchState(store, { folded: [...store.folded().filter((other) => other !== group), ...(folded ? [group] : [])] }),
      selectWhole: (): void =>
        patchState(store, { whole: true, busId: undefined, stepId: undefined, partId: undefined, branchId: undefined, clipIds: [] }),
      /** Opens the chain of a branch, or the owner's own; a step in it can be chosen at once. */
      openBranch: (branchId: string | undefined, stepId?: string): void => patchState(store, { branchId, stepId, partId: undefined }),
      selectStep: (stepId: string | undefined): void => patchState(store, { stepId, partId: undefined }),
      selectPart: (partId: string): void => patchState(store, { partId, stepId: undefined, branchId: undefined }),
      /** Opens the notes of a made layer below its lane, or closes them. */
      showNotes: (layerId: string | undefined): void => patchState(store, { noted: layerId }),
      selectSource: (sourceId: string | undefined): void => patchState(store, { sourceId }),
      setCloseUp: (closeUp: boolean): void => patchState(store, { closeUp }),
      setLooping: (looping: boolean): void => patchState(store, { looping }),
      setClipboard: (clipboard: Clipboard): void => patchState(store, { clipboard }),
    };
  }),
);

export type WorkbenchStore = InstanceType<typeof WorkbenchStore>;
