import type { EffectCatalogue, ParameterValue } from '../parameters';
import { findProperty, isAutomatable, partName } from '../address';
import { dropStrangeSources } from '../chain/references';
import { plainStretch } from '../create';
import type { Patch, PatchCurve, PatchPart, PlayedNote } from '../patch/patch-schema';
import { copyPatch } from '../patch/copy-patch';
import { mostCurves, mostModulation, mostParts } from '../patch/patch-schema';
import type { Clip, Layer, Project, Role } from '../schema';
import type { Seconds } from '../../units';
import { cleanName, defineEdit, EditError, forgetBelow, forgetProperty, layerOf, soundOf, takeId } from './edit';
import type { LayerArguments } from './layer-edits';
import { checkLayers } from './layer-edits';
import { checkMovers } from './mover-edits';

/** A note as somebody asks for one; it gets its id here. */
export type NewNote = Omit<PlayedNote, 'id'>;

/** A clip of notes. */
export function newNoteClip(draft: Project, start: Seconds, length: Seconds, notes: readonly NewNote[]): Clip {
  return {
    id: takeId(draft, 'clip'),
    notes: notes.map((note) => ({ ...note, id: takeId(draft, 'note') })),
    start: Math.max(0, start),
    offset: 0,
    length,
    gain: 0,
    speed: 0,
    ...plainStretch,
    reversed: false,
    fadeIn: { length: 0, shape: 's-curve' },
    fadeOut: { length: 0, shape: 's-curve' },
    locked: false,
  };
}

/** A patch as somebody asks for one: of a preset, or of another layer. */
export interface NewPatch {
  readonly name: string;
  readonly role: Role;
  readonly patch: Patch;
}

/** A rein as somebody asks for one over a new patch: it stands in its middle, where it does nothing, and pulls both ways. */
export interface NewRein {
  readonly name: string;
  readonly pulls: readonly { readonly part: string; readonly parameter: string; readonly depth: number }[];
}

/** A new made layer with one clip of notes, and reins over its patch. */
export const addMadeLayer = defineEdit<
  {
    sound: string;
    start: Seconds;
    length: Seconds;
    notes: readonly NewNote[];
    index?: number;
    reins?: readonly NewRein[];
  } & NewPatch
>({
  label: ({ name }) => `Made layer “${name}”`,
  apply: (draft, { sound, name, role, patch, start, length, notes, index, reins = [] }, catalogue) => {
    const target = soundOf(draft, sound);
    checkLayers(target);
    checkMovers(target, reins.length);
    const layer: Layer = {
      id: takeId(draft, 'layer'),
      name: cleanName(name),
      role,
      gain: 0,
      pan: 0,
      muted: false,
      soloed: false,
      overlaps: 'sum',
      sends: [],
      clips: [newNoteClip(draft, start, length, notes)],
      chain: [],
      patch: copyPatch(patch),
    };
    dropStrangeSources(layer.patch!, target, draft.sources);
    target.layers.splice(index ?? target.layers.length, 0, layer);
    for (const { name: reinName, pulls } of reins) {
      const mover = takeId(draft, 'rein');
      target.movers.push({ id: mover, kind: 'rein', name: cleanName(reinName), value: 0.5, bothWays: true });
      for (const { part, parameter, depth } of pulls) {
        const address = `layer/${layer.id}/part/${part}/${parameter}`;
        const property = findProperty(target, address, catalogue);
        if (property && isAutomatable(property)) target.pulls.push({ id: takeId(draft, 'pull'), mover, address, depth });
      }
    }
  },
});

/** A made layer and its patch, for changing it. */
export function madeLayerOf(project: Project, { sound, layer: id }: LayerArguments): { layer: Layer; patch: Patch } {
  const layer = layerOf(soundOf(project, sound), id);
  if (!layer.patch) throw new EditError(`“${layer.name}” shows recordings; it has no patch.`);
  return { layer, patch: layer.patch };
}

/** Puts another patch in the place of a layer's; what moved the old one is forgotten, its notes stay. */
export const setPatch = defineEdit<LayerArguments & Pick<NewPatch, 'name' | 'patch'>>({
  label: ({ name }) => `Patch “${name}”`,
  apply: (draft, { sound, layer: id, patch }) => {
    const { layer } = madeLayerOf(draft, { sound, layer: id });
    for (const room of ['patch', 'part', 'curve']) forgetBelow(soundOf(draft, sound), `layer/${id}/${room}/`);
    layer.patch = copyPatch(patch);
    dropStrangeSources(layer.patch, soundOf(draft, sound), draft.sources);
  },
});

type PartArguments = LayerArguments & { readonly part: string };

function partOf({ parts }: Patch, id: string): PatchPart {
  const part = parts.find((candidate) => candidate.id === id);
  if (!part) throw new EditError(`There is no part “${id}” in this patch.`);
  return part;
}

function nameOf(project: Project, args: PartArguments, catalogue: EffectCatalogue): string {
  const { patch } = madeLayerOf(project, args);
  return partName(patch, partOf(patch, args.part), catalogue);
}

export const addPart = defineEdit<LayerArguments & { kind: string; values?: Readonly<Record<string, ParameterValue>> }>({
  label: ({ kind }, _, catalogue) => `Add ${catalogue.part(kind)?.label ?? kind}`,
  apply: (draft, { sound, layer, kind, values = {} }, catalogue) => {
    const { patch } = madeLayerOf(draft, { sound, layer });
    if (!catalogue.part(kind)) throw new EditError(`There is no kind of part “${kind}”.`);
    if (patch.parts.length >= mostParts) throw new EditError(`A patch has ${mostParts} parts at most.`);
    patch.parts.push({ id: takeId(draft, 'part'), kind, name: '', enabled: true, parameters: { ...values }, from: [] });
  },
});

/** Takes a part away, with what it moved and what moved it. */
export const removePart = defineEdit<PartArguments>({
  label: (args, project, catalogue) => `Remove ${nameOf(project, args, catalogue)}`,
  apply: (draft, { sound, layer, part: id }) => {
    const { patch } = madeLayerOf(draft, { sound, layer });
    patch.parts.splice(patch.parts.indexOf(partOf(patch, id)), 1);
    for (const other of patch.parts) {
      other.from = other.from.filter(({ part }) => part !== id);
      forgetProperty(soundOf(draft, sound), `layer/${layer}/part/${other.id}/from/${id}`);
    }
    for (const curve of patch.curves) curve.pulls = curve.pulls.filter(({ part }) => part !== id);
    forgetBelow(soundOf(draft, sound), `layer/${layer}/part/${id}/`);
  },
});

/** Moves a part to another place in the row; what is heard stays the same. */
export const movePart = defineEdit<PartArguments & { index: number }>({
  label: (args, project, catalogue) => `Move ${nameOf(project, args, catalogue)}`,
  apply: (draft, { sound, layer, part: id, index }) => {
    const { parts } = madeLayerOf(draft, { sound, layer }).patch;
    const [part] = parts.splice(parts.indexOf(partOf({ parameters: {}, parts, curves: [] }, id)), 1);
    parts.splice(Math.max(0, Math.min(index, parts.length)), 0, part!);
  },
});

export const setPart = defineEdit<PartArguments & { changes: Partial<Pick<PatchPart, 'name' | 'enabled'>> }>({
  label: (args, project, catalogue) => {
    const { name, enabled } = args.changes;
    if (name !== undefined) return `Name part “${name}”`;
    return `${nameOf(project, args, catalogue)} ${enabled ? 'on' : 'off'}`;
  },
  apply: (draft, { sound, layer, part, changes }) => {
    const found = partOf(madeLayerOf(draft, { sound, layer }).patch, part);
    Object.assign(found, changes, changes.name !== undefined && { name: changes.name.trim().slice(0, 60) });
  },
});

/** Lets a part move the phase of another one, or of itself; by nothing, and it no longer does. */
export const setModulation = defineEdit<PartArguments & { from: string; amount: number }>({
  label: (args, project, catalogue) => `Modulation of ${nameOf(project, args, catalogue)}`,
  apply: (draft, { sound, layer, part, from, amount }) => {
    const { patch } = madeLayerOf(draft, { sound, layer });
    const found = partOf(patch, part);
    partOf(patch, from);
    if (!Number.isFinite(amount)) throw new EditError('A modulation is a number of radians.');
    const known = found.from.find((each) => each.part === from);
    if (amount <= 0) {
      found.from = found.from.filter((each) => each !== known);
      forgetProperty(soundOf(draft, sound), `layer/${layer}/part/${part}/from/${from}`);
    } else if (known) known.amount = Math.min(mostModulation, amount);
    else found.from.push({ part: from, amount: Math.min(mostModulation, amount) });
  },
});

type CurveArguments = LayerArguments & { readonly curve: string };

function curveOf({ curves }: Patch, id: string): PatchCurve {
  const curve = curves.find((candidate) => candidate.id === id);
  if (!curve) throw new EditError(`There is no curve “${id}” in this patch.`);
  return curve;
}

/** A new curve, which falls along the note until somebody draws it. */
export const addCurve = defineEdit<LayerArguments>({
  label: () => 'Add a curve',
  apply: (draft, { sound, layer }) => {
    const { curves } = madeLayerOf(draft, { sound, layer }).patch;
    if (curves.length >= mostCurves) throw new EditError(`A patch has ${mostCurves} curves at most.`);
    const points = [
      { at: 0, value: 1, bend: 0 },
      { at: 1, value: 0, bend: 0 },
    ];
    curves.push({
      id: takeId(draft, 'curve'),
      name: `Curve ${curves.length + 1}`,
      length: 1,
      unit: 'note',
      rounds: false,
      points,
      pulls: [],
    });
  },
});

export const setCurve = defineEdit<
  CurveArguments & { changes: Partial<Pick<PatchCurve, 'name' | 'length' | 'unit' | 'rounds' | 'points'>> }
>({
  label: ({ sound, layer, curve }, project) => `Change ${curveOf(madeLayerOf(project, { sound, layer }).patch, curve).name}`,
  apply: (draft, { sound, layer, curve, changes }) => {
    const found = curveOf(madeLayerOf(draft, { sound, layer }).patch, curve);
    if (changes.points?.length === 0) throw new EditError('A curve needs a point.');
    const points = changes.points?.map((point) => ({ ...point })).sort((a, b) => a.at - b.at);
    Object.assign(found, changes, points && { points }, changes.name !== undefined && { name: cleanName(changes.name) });
    found.length = Math.max(0.001, Math.min(3_600, found.length));
  },
});

export const removeCurve = defineEdit<CurveArguments>({
  label: ({ sound, layer, curve }, project) => `Remove ${curveOf(madeLayerOf(project, { sound, layer }).patch, curve).name}`,
  apply: (draft, { sound, layer, curve }) => {
    const { curves } = madeLayerOf(draft, { sound, layer }).patch;
    curves.splice(curves.indexOf(curveOf({ parameters: {}, parts: [], curves }, curve)), 1);
    forgetBelow(soundOf(draft, sound), `layer/${layer}/curve/${curve}/`);
  },
});

/** By how much a curve moves a number of a part, in its offset unit; by nothing, and it no longer does. */
export const setCurvePull = defineEdit<CurveArguments & { part: string; parameter: string; depth: number }>({
  label: ({ sound, layer, curve, parameter, part }, project, catalogue) => {
    const { patch } = madeLayerOf(project, { sound, layer });
    const what = catalogue.part(partOf(patch, part).kind)?.parameters[parameter]?.label ?? parameter;
    return `${what} along ${curveOf(patch, curve).name}`;
  },
  apply: (draft, { sound, layer, curve, part, parameter, depth }, catalogue) => {
    const { patch } = madeLayerOf(draft, { sound, layer });
    const found = curveOf(patch, curve);
    const definition = catalogue.part(partOf(patch, part).kind)?.parameters[parameter];
    if (definition?.kind !== 'number' || definition.builds) throw new EditError(`A curve cannot move “${definition?.label ?? parameter}”.`);
    const known = found.pulls.find((pull) => pull.part === part && pull.parameter === parameter);
    const reach = Math.max(-1_000, Math.min(1_000, depth));
    if (reach === 0) found.pulls = found.pulls.filter((pull) => pull !== known);
    else if (known) known.depth = reach;
    else found.pulls.push({ id: takeId(draft, 'pull'), part, parameter, depth: reach });
  },
});
