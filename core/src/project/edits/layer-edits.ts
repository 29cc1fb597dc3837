import type { OverlapMode, Project, Role, Sound } from '../schema';
import type { Seconds } from '../../units';
import type { SourcePart } from './clip-edits';
import { cloneClip, newClip } from './clip-edits';
import { cleanName, defineEdit, EditError, layerOf, soundOf, sourceOf, takeId } from './edit';

const mostLayers = 1_000;

/** A new layer with one clip of a source, at `start`; its role is the source's or, without one, Body. */
export const addLayer = defineEdit<{ sound: string; source: string; start: Seconds; index?: number; part?: SourcePart; name?: string }>({
  label: ({ source }, project) => `Layer “${sourceOf(project, source).name}”`,
  apply: (draft, { sound, source, start, index, part, name }) => {
    const target = soundOf(draft, sound);
    if (target.layers.length >= mostLayers) throw new EditError(`“${target.name}” has ${mostLayers} layers already.`);
    const found = sourceOf(draft, source);
    const layer = {
      id: takeId(draft, 'layer'),
      name: name ?? found.name,
      role: found.role ?? ('Body' as const),
      gain: 0,
      pan: 0,
      muted: false,
      soloed: false,
      overlaps: 'crossfade' as const,
      clips: [newClip(draft, found, start, part)],
      chain: [],
    };
    target.layers.splice(index ?? target.layers.length, 0, layer);
  },
});

interface LayerArguments {
  readonly sound: string;
  readonly layer: string;
}

function nameOf(project: Project, { sound, layer }: LayerArguments): string {
  return layerOf(soundOf(project, sound), layer).name;
}

export const renameLayer = defineEdit<LayerArguments & { name: string }>({
  label: ({ name }) => `Rename layer to “${name}”`,
  apply: (draft, { sound, layer, name }) => {
    layerOf(soundOf(draft, sound), layer).name = cleanName(name);
  },
});

export const setLayerRole = defineEdit<LayerArguments & { role: Role }>({
  label: (args, project) => `Role of “${nameOf(project, args)}”`,
  apply: (draft, { sound, layer, role }) => {
    layerOf(soundOf(draft, sound), layer).role = role;
  },
});

export const muteLayer = defineEdit<LayerArguments & { muted: boolean }>({
  label: (args, project) => `${args.muted ? 'Mute' : 'Unmute'} “${nameOf(project, args)}”`,
  apply: (draft, { sound, layer, muted }) => {
    layerOf(soundOf(draft, sound), layer).muted = muted;
  },
});

export const soloLayer = defineEdit<LayerArguments & { soloed: boolean }>({
  label: (args, project) => `${args.soloed ? 'Solo' : 'End solo of'} “${nameOf(project, args)}”`,
  apply: (draft, { sound, layer, soloed }) => {
    layerOf(soundOf(draft, sound), layer).soloed = soloed;
  },
});

/** Whether clips of a layer that overlap crossfade or add up. */
export const setOverlaps = defineEdit<LayerArguments & { overlaps: OverlapMode }>({
  label: (args, project) => `Overlaps of “${nameOf(project, args)}”`,
  apply: (draft, { sound, layer, overlaps }) => {
    layerOf(soundOf(draft, sound), layer).overlaps = overlaps;
  },
});

/** Moves a layer to another place in the order; `index` counts without the layer itself. */
export const reorderLayer = defineEdit<LayerArguments & { index: number }>({
  label: (args, project) => `Reorder “${nameOf(project, args)}”`,
  apply: (draft, { sound, layer, index }) => {
    const { layers } = soundOf(draft, sound);
    const from = layers.findIndex((candidate) => candidate.id === layer);
    const [moved] = layers.splice(from, 1);
    if (from < 0 || !moved) throw new EditError(`There is no layer “${layer}”.`);
    layers.splice(Math.max(0, Math.min(index, layers.length)), 0, moved);
  },
});

/** A copy of a layer with its clips and chain, below it. */
export const duplicateLayer = defineEdit<LayerArguments>({
  label: (args, project) => `Duplicate “${nameOf(project, args)}”`,
  apply: (draft, { sound, layer }) => {
    const target = soundOf(draft, sound);
    if (target.layers.length >= mostLayers) throw new EditError(`“${target.name}” has ${mostLayers} layers already.`);
    const original = layerOf(target, layer);
    const copy = {
      ...original,
      id: takeId(draft, 'layer'),
      name: `${original.name} copy`.slice(0, 300),
      clips: original.clips.map((clip) => cloneClip(clip, takeId(draft, 'clip'))),
      chain: original.chain.map((step) => ({ ...step, parameters: { ...step.parameters }, id: takeId(draft, 'step') })),
    };
    target.layers.splice(target.layers.indexOf(original) + 1, 0, copy);
  },
});

export const removeLayer = defineEdit<LayerArguments>({
  label: (args, project) => `Remove layer “${nameOf(project, args)}”`,
  apply: (draft, { sound, layer }) => {
    const target = soundOf(draft, sound);
    target.layers.splice(target.layers.indexOf(layerOf(target, layer)), 1);
    removeSwaysBelow(target, `layer/${layer}/`);
  },
});

/** Takes away the sways of everything whose address begins with `prefix`. */
export function removeSwaysBelow(sound: Sound, prefix: string): void {
  sound.family.sways = sound.family.sways.filter((sway) => !sway.address.startsWith(prefix));
}
