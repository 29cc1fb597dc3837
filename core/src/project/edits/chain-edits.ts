import { findProperty, writeProperty } from '../address';
import type { ParameterValue } from '../parameters';
import type { EffectStep } from '../schema';
import type { ChainOwner } from './edit';
import { defineEdit, EditError, forgetBelow, ownerAddress, ownerOf, soundOf, takeId } from './edit';
import { fitFades } from './clip-edits';

interface ChainArguments {
  readonly sound: string;
  readonly owner: ChainOwner;
}

const mostSteps = 64;

function stepOf(chain: EffectStep[], stepId: string): EffectStep {
  const step = chain.find((candidate) => candidate.id === stepId);
  if (!step) throw new EditError(`There is no step “${stepId}” in this chain.`);
  return step;
}

/** Adds an effect with its default values; at the end unless `index` says otherwise. */
export const addEffect = defineEdit<ChainArguments & { effect: string; index?: number }>({
  label: ({ effect, owner, sound }, project, catalogue) =>
    `Add ${catalogue.get(effect)?.label ?? effect} to “${ownerOf(soundOf(project, sound), owner).name}”`,
  apply: (draft, { sound, owner, effect, index }, catalogue) => {
    const chain = ownerOf(soundOf(draft, sound), owner).chain;
    if (!catalogue.has(effect)) throw new EditError(`There is no effect “${effect}”.`);
    if (chain.length >= mostSteps) throw new EditError(`The chain has ${mostSteps} steps already.`);
    chain.splice(index ?? chain.length, 0, { id: takeId(draft, 'step'), effect, enabled: true, mix: 1, parameters: {} });
  },
});

export const removeEffect = defineEdit<ChainArguments & { step: string }>({
  label: ({ owner, sound }, project) => `Remove effect from “${ownerOf(soundOf(project, sound), owner).name}”`,
  apply: (draft, { sound, owner, step }) => {
    const target = soundOf(draft, sound);
    const chain = ownerOf(target, owner).chain;
    chain.splice(chain.indexOf(stepOf(chain, step)), 1);
    forgetBelow(target, `${ownerAddress(owner)}/chain/${step}/`);
  },
});

/** Moves a step within its chain; `index` counts without the step itself. */
export const moveEffect = defineEdit<ChainArguments & { step: string; index: number }>({
  label: ({ owner, sound }, project) => `Reorder chain of “${ownerOf(soundOf(project, sound), owner).name}”`,
  apply: (draft, { sound, owner, step, index }) => {
    const chain = ownerOf(soundOf(draft, sound), owner).chain;
    const moved = stepOf(chain, step);
    chain.splice(chain.indexOf(moved), 1);
    chain.splice(Math.max(0, Math.min(index, chain.length)), 0, moved);
  },
});

export const switchEffect = defineEdit<ChainArguments & { step: string; enabled: boolean }>({
  label: ({ enabled }) => (enabled ? 'Effect on' : 'Effect off'),
  apply: (draft, { sound, owner, step, enabled }) => {
    stepOf(ownerOf(soundOf(draft, sound), owner).chain, step).enabled = enabled;
  },
});

/** Sets any properties by their addresses; values are fitted into their ranges. */
export const setValues = defineEdit<{ sound: string; values: Readonly<Record<string, ParameterValue>>; label: string }>({
  label: ({ label }) => label,
  apply: (draft, { sound, values }, catalogue) => {
    const target = soundOf(draft, sound);
    for (const [address, value] of Object.entries(values)) {
      if (!findProperty(target, address, catalogue)) throw new EditError(`“${address}” leads to no property of “${target.name}”.`);
      writeProperty(target, address, value, catalogue);
    }
    // A slower or faster clip is longer or shorter, and its fades must still fit.
    for (const layer of target.layers) for (const clip of layer.clips) fitFades(clip);
  },
});

/** Addresses of a chain's step, for edits and sways. */
export function stepAddress(owner: ChainOwner, step: string, key: string): string {
  return `${ownerAddress(owner)}/chain/${step}/${key}`;
}
