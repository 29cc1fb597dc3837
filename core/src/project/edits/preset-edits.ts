import type { ParameterValue } from '../parameters';
import { resolveValues } from '../parameters';
import type { EffectStep, Preset } from '../schema';
import { copyChain, FreshNames } from './copies';
import type { ChainOwner } from './edit';
import { cleanName, defineEdit, EditError, forgetBelow, ownerAddress, ownerOf, soundOf, takeId } from './edit';

const mostPresets = 2_000;
const mostSteps = 64;

interface ChainArguments {
  readonly sound: string;
  readonly owner: ChainOwner;
}

/** A step of a chain before it belongs to one: without an id. */
export type NewStep = Omit<EffectStep, 'id'>;

/** Gives a step all values of a preset; what the preset leaves out gets its default. Automation of the step goes on. */
export const setPreset = defineEdit<ChainArguments & { step: string; name: string; values: Readonly<Record<string, ParameterValue>> }>({
  label: ({ name }) => `Preset “${name}”`,
  apply: (draft, { sound, owner, step, values }, catalogue) => {
    const found = ownerOf(soundOf(draft, sound), owner).chain.find((candidate) => candidate.id === step);
    const effect = found && catalogue.get(found.effect);
    if (!found || !effect) throw new EditError(`There is no step “${step}” in this chain.`);
    found.parameters = resolveValues(effect.parameters, values);
  },
});

/** Replaces a chain, or adds to its end with `add`. What moved or swayed the steps that go is taken away with them. */
export const setChain = defineEdit<ChainArguments & { name: string; steps: readonly NewStep[]; add?: boolean }>({
  label: ({ name, owner, sound }, project) => `“${name}” on “${ownerOf(soundOf(project, sound), owner).name}”`,
  apply: (draft, { sound, owner, steps, add }, catalogue) => {
    const target = soundOf(draft, sound);
    const { chain } = ownerOf(target, owner);
    const unknown = steps.find((step) => !catalogue.has(step.effect));
    if (unknown) throw new EditError(`There is no effect “${unknown.effect}”.`);
    if ((add ? chain.length : 0) + steps.length > mostSteps) throw new EditError(`A chain has ${mostSteps} steps at most.`);
    if (!add) {
      forgetBelow(target, `${ownerAddress(owner)}/chain/`);
      chain.splice(0);
    }
    for (const step of steps) chain.push({ ...step, parameters: { ...step.parameters }, id: takeId(draft, 'step') });
  },
});

/** Keeps a chain, or some of its steps, under a name; one of the same name is replaced. */
export const savePreset = defineEdit<ChainArguments & { steps?: readonly string[]; name: string; tags: readonly string[] }>({
  label: ({ name }) => `Save preset “${name}”`,
  apply: (draft, { sound, owner, steps, name, tags }) => {
    const { chain } = ownerOf(soundOf(draft, sound), owner);
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
