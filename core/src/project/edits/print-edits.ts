import type { Seconds } from '../../units';
import type { Layer, Sound } from '../schema';
import { cloneClip, newClip } from './clip-edits';
import { defineEdit, EditError, layerOf, soundOf, sourceOf, takeId } from './edit';
import { removeSwaysBelow } from './layer-edits';
import { emptyLike } from './project-edits';
import type { NewSource } from './source-edits';
import { addSources } from './source-edits';

interface PrintArguments {
  readonly sound: string;
  /** The layers that were rendered. */
  readonly layers: readonly string[];
  /** The chain and the gain of the whole sound are part of what was rendered. */
  readonly whole: boolean;
  readonly source: NewSource;
  readonly start: Seconds;
}

/** Replaces layers by one that plays what was rendered of them. Undo brings the live layers back; the source keeps the recipe. */
export const printLayers = defineEdit<PrintArguments>({
  label: ({ source }) => `Print “${source.name}”`,
  apply: (draft, { sound, layers, whole, source, start }, catalogue) => {
    const target = soundOf(draft, sound);
    const replaced = layers.map((id) => layerOf(target, id));
    const [first] = replaced;
    if (!first) throw new EditError(`There is no layer to print in “${target.name}”.`);
    addSources.apply(draft, { sources: [source], made: true }, catalogue);
    const added = draft.sources.at(-1)!;
    const printed: Layer = {
      id: takeId(draft, 'layer'),
      name: source.name,
      role: first.role,
      gain: 0,
      pan: 0,
      // What is heard stays as it was: the whole sound was rendered as it is heard, layers were rendered without their switches.
      muted: !whole && replaced.every((layer) => layer.muted),
      soloed: !whole && replaced.some((layer) => layer.soloed),
      overlaps: 'sum',
      // What was rendered begins and ends where it is silent; a fade would only take from it.
      clips: [{ ...newClip(draft, added, start), fadeIn: { length: 0, shape: 's-curve' }, fadeOut: { length: 0, shape: 's-curve' } }],
      chain: [],
    };
    target.layers.splice(target.layers.indexOf(first), 0, printed);
    target.layers = whole ? [printed] : target.layers.filter((layer) => !replaced.includes(layer));
    for (const { id } of replaced) removeSwaysBelow(target, `layer/${id}/`);
    if (!whole) return;
    target.chain = [];
    target.gain = 0;
    target.family.sways = [];
  },
});

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
    draft.sounds.push(freshCopy(recipe, `${name} (live)`, (kind) => takeId(draft, kind)));
  },
});

/** A copy of a sound with new ids throughout. */
function freshCopy(sound: Sound, name: string, id: (kind: string) => string): Sound {
  const ofChain = (chain: Sound['chain']): Sound['chain'] =>
    chain.map((step) => ({ ...step, parameters: { ...step.parameters }, id: id('step') }));
  return {
    ...emptyLike(sound),
    id: id('sound'),
    name: name.slice(0, 300),
    chain: ofChain(sound.chain),
    layers: sound.layers.map((layer) => ({
      ...layer,
      id: id('layer'),
      clips: layer.clips.map((clip) => cloneClip(clip, id('clip'))),
      chain: ofChain(layer.chain),
    })),
  };
}
