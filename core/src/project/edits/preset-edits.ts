import { mixParameter } from '../address';
import { stepsOf } from '../chain/chain-tree';
import type { ParameterValue } from '../parameters';
import { fitValue, resolveValues } from '../parameters';
import { dropStrangeReferences } from '../chain/references';
import type { EffectStep } from '../chain/chain-schema';
import type { Preset } from '../schema';
import { checkRoom } from './chain-edits';
import { copyChain, FreshNames } from './copies';
import type { ChainPlace } from './edit';
import { chainOf, cleanName, defineEdit, EditError, ownerOf, soundOf, stepOf, takeId, takeOut } from './edit';

const mostPresets = 2_000;

/** A step of a chain before it belongs to one: without an id. */
export type NewStep = Omit<EffectStep, 'id'>;

/**
 * Gives a step all values of a preset; what the preset leaves out gets its default. What it takes from elsewhere stays, and its
 * automation goes on. Its mix stays unless there is one.
 */
export const setPreset = defineEdit<
  ChainPlace & { step: string; name: string; values: Readonly<Record<string, ParameterValue>>; mix?: number }
>({
  label: ({ name }) => `Preset “${name}”`,
  apply: (draft, { sound, owner, step, values, mix }, catalogue) => {
    const found = stepOf(soundOf(draft, sound), owner, step).step;
    const effect = catalogue.get(found.effect);
    if (!effect) throw new EditError(`There is no effect “${found.effect}”.`);
    const kept = Object.entries(found.parameters).filter(([key]) => effect.parameters[key]?.kind === 'reference');
    found.parameters = { ...resolveValues(effect.parameters, values), ...Object.fromEntries(kept) };
    if (mix !== undefined) found.mix = Number(fitValue(mixParameter, mix));
  },
});

/** Replaces a chain, or adds to its end with `add`. */
export const setChain = defineEdit<ChainPlace & { branch?: string; name: string; steps: readonly NewStep[]; add?: boolean }>({
  label: ({ name, owner, sound }, project) => `“${name}” on “${ownerOf(soundOf(project, sound), owner).name}”`,
  apply: (draft, { sound, owner, branch, steps, add }, catalogue) => {
    const target = soundOf(draft, sound);
    const chain = chainOf(target, owner, branch);
    const fresh = copyChain(
      steps.map((step, index) => ({ ...step, id: `new-${index}` })),
      new FreshNames((kind) => takeId(draft, kind)),
    );
    const unknown = stepsOf(fresh).find((step) => !catalogue.get(step.effect));
    if (unknown) throw new EditError(`There is no effect “${unknown.effect}”.`);
    if (!add) takeOut(target, owner, chain, [...chain]);
    dropStrangeReferences(fresh, target, draft.sources);
    chain.push(...fresh);
    checkRoom(draft, { sound, owner }, chain);
  },
});

/** Keeps a chain, or some of its steps, under a name; one of the same name is replaced. */
export const savePreset = defineEdit<ChainPlace & { branch?: string; steps?: readonly string[]; name: string; tags: readonly string[] }>({
  label: ({ name }) => `Save preset “${name}”`,
  apply: (draft, { sound, owner, branch, steps, name, tags }) => {
    const chain = chainOf(soundOf(draft, sound), owner, branch);
    const kept = chain.filter((step) => !steps || steps.includes(step.id));
    if (kept.length === 0) throw new EditError('There is nothing in this chain to save.');
    const names = new FreshNames((kind) => takeId(draft, kind));
    keep(draft.presets, { id: takeId(draft, 'preset'), name: cleanName(name), tags: [...tags], chain: copyChain(kept, names) });
  },
});

/** Takes over presets from elsewhere; those of the same name are replaced. */
export const importPresets = defineEdit<{ presets: readonly Omit<Preset, 'id'>[] }>({
  label: ({ presets }) => (presets.length === 1 ? `Import preset “${presets[0]!.name}”` : `Import ${presets.length} presets`),
  apply: (draft, { presets }) => {
    for (const preset of presets) {
      const names = new FreshNames((kind) => takeId(draft, kind));
      keep(draft.presets, {
        id: takeId(draft, 'preset'),
        name: cleanName(preset.name),
        tags: [...preset.tags],
        chain: copyChain(preset.chain, names),
      });
    }
  },
});

export const removePreset = defineEdit<{ preset: string }>({
  label: ({ preset }, project) => `Remove preset “${project.presets.find(({ id }) => id === preset)?.name ?? preset}”`,
  apply: (draft, { preset }) => {
    draft.presets = draft.presets.filter((candidate) => candidate.id !== preset);
  },
});

function keep(presets: Preset[], preset: Preset): void {
  const same = presets.findIndex(({ name }) => name === preset.name);
  if (same >= 0) presets.splice(same, 1, preset);
  else if (presets.length >= mostPresets) throw new EditError(`The project has ${mostPresets} presets already.`);
  else presets.push(preset);
}
