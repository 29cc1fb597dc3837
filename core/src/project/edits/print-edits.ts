import type { Seconds } from '../../units';
import { redirectReferences } from '../chain/references';
import type { Layer, Project, Sound, Source } from '../schema';
import { dropBus, dropEmptyGroups } from './bus-edits';
import { newClip } from './clip-edits';
import { copySound, FreshNames } from './copies';
import { busOf, defineEdit, EditError, forgetBelow, layerOf, soundOf, sourceOf, takeId } from './edit';
import type { NewSource } from './source-edits';
import { checkLayers } from './layer-edits';
import { addSources } from './source-edits';

/**
 * What of a sound is printed: some of its layers, without what comes behind their faders; a group with its chain and its fader; or
 * everything as it is heard.
 */
export type PrintedPart = { readonly layers: readonly string[] } | { readonly group: string } | 'whole sound';

export interface PrintArguments {
  readonly sound: string;
  readonly part: PrintedPart;
  readonly source: NewSource;
  readonly start: Seconds;
}

/** Why a part of a sound cannot be replaced by a print of it, in a sentence; undefined when it can. */
export function whyNotPrinted(sound: Sound, part: PrintedPart): string | undefined {
  const replaced = printedLayers(sound, part);
  const [first] = replaced;
  if (!first)
    return sound.layers.length > 0
      ? 'All of its layers are muted: there is nothing to print.'
      : `There is no layer to print in “${sound.name}”.`;
  if (part === 'whole sound') return undefined;
  if ('group' in part)
    return replaced.some((layer) => layer.sends.length > 0)
      ? `Layers of “${busOf(sound, part.group).name}” are sent to buses of their own; print them one by one, or the whole sound.`
      : undefined;
  const route = (layer: Layer): string => JSON.stringify([layer.group ?? '', layer.sends.map((send) => [send.bus, send.gain])]);
  return replaced.some((layer) => route(layer) !== route(first))
    ? 'These layers go through different groups or sends; print them one by one, or the whole sound.'
    : undefined;
}

/**
 * Replaces layers by one that plays what was rendered of them. Layers that are muted were not rendered, and stay. Undo brings the live layers back; the
 * source keeps the recipe.
 */
export const printLayers = defineEdit<PrintArguments>({
  label: ({ source }) => `Print “${source.name}”`,
  apply: (draft, { sound, part, source, start }, catalogue) => {
    const target = soundOf(draft, sound);
    const whole = part === 'whole sound';
    const group = !whole && 'group' in part ? busOf(target, part.group) : undefined;
    const replaced = printedLayers(target, part);
    const [first] = replaced;
    const obstacle = whyNotPrinted(target, part);
    if (!first || obstacle) throw new EditError(obstacle ?? 'There is nothing to print.');
    addSources.apply(draft, { sources: [source], made: true }, catalogue);
    const added = draft.sources.at(-1)!;
    const printed: Layer = {
      ...printedLayer(draft, added, start, first.role),
      // What is heard stays as it was: the whole sound was rendered as it is heard, layers were rendered without their switches.
      muted: group ? group.muted : !whole && replaced.every((layer) => layer.muted),
      soloed: group ? group.soloed : !whole && replaced.some((layer) => layer.soloed),
      ...(!whole && !group && first.group !== undefined && { group: first.group }),
      // What is sent is taken behind the fader, so a print sends the same.
      sends: whole ? [] : (group ?? first).sends.map((send) => ({ ...send })),
    };
    target.layers.splice(target.layers.indexOf(first), 0, printed);
    target.layers = target.layers.filter((layer) => !replaced.includes(layer));
    const sender = group ? `bus/${group.id}/send/` : `layer/${first.id}/send/`;
    for (const moved of [...target.automation, ...target.pulls]) moved.address = moved.address.replace(sender, `layer/${printed.id}/send/`);
    for (const { id } of replaced) {
      forgetBelow(target, `layer/${id}/`);
      // Whoever listened to the layer listens to its print.
      redirectReferences(target, { kind: 'layer', id }, `layer/${printed.id}`);
    }
    dropEmptyGroups(target);
    if (whole) forgetWhole(target);
  },
});

/** Adds a layer that plays a print of the sound. It is muted, because what was printed still plays. */
export const addPrint = defineEdit<Omit<PrintArguments, 'part'>>({
  label: ({ source }) => `Print “${source.name}” as a layer`,
  apply: (draft, { sound, source, start }, catalogue) => {
    const target = soundOf(draft, sound);
    checkLayers(target);
    addSources.apply(draft, { sources: [source], made: true }, catalogue);
    const role = target.layers[0]?.role ?? 'Body';
    target.layers.push({ ...printedLayer(draft, draft.sources.at(-1)!, start, role), muted: true });
  },
});

/** A layer that plays a print as it was rendered. */
function printedLayer(draft: Project, print: Source, start: Seconds, role: Layer['role']): Layer {
  return {
    id: takeId(draft, 'layer'),
    name: print.name,
    role,
    gain: 0,
    pan: 0,
    muted: false,
    soloed: false,
    sends: [],
    overlaps: 'sum',
    // What was rendered begins and ends where it is silent; a fade would only take from it.
    clips: [{ ...newClip(draft, print, start), fadeIn: { length: 0, shape: 's-curve' }, fadeOut: { length: 0, shape: 's-curve' } }],
    chain: [],
  };
}

/** Takes away what the print of a whole sound holds already: the sound's chain and fader, and buses that no layer goes through any more. */
function forgetWhole(target: Sound): void {
  target.chain = [];
  target.gain = 0;
  forgetBelow(target, 'sound/');
  const senders = [...target.layers, ...target.buses.filter(({ kind }) => kind === 'group')];
  const unused = target.buses.filter(
    ({ kind, id }) => kind === 'shared' && !senders.some(({ sends }) => sends.some((send) => send.bus === id)),
  );
  for (const { id } of unused) dropBus(target, id);
}

/** The layers that a print takes the place of: muted ones are not in it, unless they were chosen one by one. */
function printedLayers(sound: Sound, part: PrintedPart): Layer[] {
  if (typeof part === 'object' && 'layers' in part) return part.layers.map((id) => layerOf(sound, id));
  if (part !== 'whole sound') return sound.layers.filter(({ group, muted }) => group === part.group && !muted);
  const mutedGroups = new Set(sound.buses.filter(({ muted }) => muted).map(({ id }) => id));
  return sound.layers.filter(({ group, muted }) => !muted && !(group !== undefined && mutedGroups.has(group)));
}

/** Opens the recipe of a printed source as a sound of its own. Throws EditError when a source that it needs is gone. */
export const openRecipe = defineEdit<{ source: string }>({
  label: ({ source }, project) => `Open the recipe of “${sourceOf(project, source).name}”`,
  apply: (draft, { source }) => {
    const { name, origin } = sourceOf(draft, source);
    if (!origin.print) throw new EditError(`“${name}” was not printed; it has no recipe.`);
    const { recipe, sources } = origin.print;
    const gone = sources.filter(({ id }) => !draft.sources.some((candidate) => candidate.id === id));
    if (gone.length > 0)
      throw new EditError(
        `The recipe of “${name}” needs ${gone.map((each) => `“${each.name}”`).join(', ')}, which is not in this project any more.`,
      );
    draft.sounds.push(copySound(recipe, `${name} (live)`, new FreshNames((kind) => takeId(draft, kind))));
  },
});
