import { redirectReferences } from '../chain/references';
import type { OverlapMode, Project, Role, Sound } from '../schema';
import type { Seconds } from '../../units';
import type { SourcePart } from './clip-edits';
import { dropEmptyGroups } from './bus-edits';
import { newClip } from './clip-edits';
import { copyLanes, copyPulls, copyLayer, FreshNames } from './copies';
import { checkPulls, cleanName, defineEdit, EditError, forgetBelow, layerOf, soundOf, sourceOf, takeId } from './edit';

const mostLayers = 1_000;

/** Throws EditError when there is no room for one more layer. */
export function checkLayers(target: Sound): void {
  if (target.layers.length >= mostLayers) throw new EditError(`“${target.name}” has ${mostLayers} layers already.`);
}

/** A new layer with one clip of a source, at `start`; its role is the source's or, without one, Body. */
export const addLayer = defineEdit<{ sound: string; source: string; start: Seconds; index?: number; part?: SourcePart; name?: string }>({
  label: ({ source }, project) => `Layer “${sourceOf(project, source).name}”`,
  apply: (draft, { sound, source, start, index, part, name }) => {
    const target = soundOf(draft, sound);
    checkLayers(target);
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
      sends: [],
      clips: [newClip(draft, found, start, part)],
      chain: [],
    };
    target.layers.splice(index ?? target.layers.length, 0, layer);
  },
});

export interface LayerArguments {
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

/**
 * Names every layer by its role and, where a role has several, a number, and by the source of its first clip: “Strike 2 · Ice crack”.
 * Names that somebody typed are not spared: the edit is asked for.
 */
export const nameLayers = defineEdit<{ sound: string }>({
  label: () => 'Name layers by role',
  apply: (draft, { sound }) => {
    const target = soundOf(draft, sound);
    const sources = new Map(draft.sources.map((source) => [source.id, source.name]));
    const counts = new Map<Role, number>();
    for (const layer of target.layers) {
      const number = (counts.get(layer.role) ?? 0) + 1;
      counts.set(layer.role, number);
      const several = target.layers.filter((other) => other.role === layer.role).length > 1;
      const source = sources.get(layer.clips[0]?.source ?? '');
      layer.name = `${layer.role}${several ? ` ${number}` : ''}${source ? ` · ${source}` : ''}`.slice(0, 300);
    }
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
    const place = Math.max(0, Math.min(index, layers.length));
    // Between two layers of a group it joins the group; away from its own it leaves it.
    const [above, below] = [layers[place - 1]?.group, layers[place]?.group];
    if (above !== undefined && above === below) moved.group = above;
    else if (moved.group !== undefined && moved.group !== above && moved.group !== below) delete moved.group;
    layers.splice(place, 0, moved);
    dropEmptyGroups(soundOf(draft, sound));
  },
});

/** A copy of a layer with its clips, chain and automation, below it. */
export const duplicateLayer = defineEdit<LayerArguments>({
  label: (args, project) => `Duplicate “${nameOf(project, args)}”`,
  apply: (draft, { sound, layer }) => {
    const target = soundOf(draft, sound);
    checkLayers(target);
    const original = layerOf(target, layer);
    const names = new FreshNames((kind) => takeId(draft, kind));
    const copy = { ...copyLayer(original, names), name: `${original.name} copy`.slice(0, 300) };
    target.layers.splice(target.layers.indexOf(original) + 1, 0, copy);
    target.automation.push(...copyLanes(target.automation, `layer/${layer}/`, names));
    target.pulls.push(...copyPulls(target.pulls, `layer/${layer}/`, names));
    checkPulls(target);
  },
});

export const removeLayer = defineEdit<LayerArguments>({
  label: (args, project) => `Remove layer “${nameOf(project, args)}”`,
  apply: (draft, { sound, layer }) => {
    const target = soundOf(draft, sound);
    target.layers.splice(target.layers.indexOf(layerOf(target, layer)), 1);
    forgetBelow(target, `layer/${layer}/`);
    redirectReferences(target, { kind: 'layer', id: layer }, '');
    dropEmptyGroups(target);
  },
});
