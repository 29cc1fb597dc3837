import { findProperty, writeProperty } from '../address';
import { deepestHost, mostSteps, pathToBranch, stepsOf } from '../chain/chain-tree';
import type { EffectCatalogue, ParameterValue } from '../parameters';
import type { Decibels } from '../../units';
import type { Branch, EffectStep } from '../chain/chain-schema';
import type { Project } from '../schema';
import type { ChainOwner, ChainPlace } from './edit';
import { chainOf, defineEdit, EditError, forgetSteps, ownerAddress, ownerOf, soundOf, stepOf, takeId, takeOut } from './edit';
import { beginSolos } from './bus-edits';
import { fitFades } from './clip-edits';

function nameOf(project: Project, { sound, owner }: ChainPlace): string {
  return ownerOf(soundOf(project, sound), owner).name;
}

function newBranch(draft: Project, gain: Decibels): Branch {
  return { id: takeId(draft, 'branch'), name: '', gain, pan: 0, delay: 0, muted: false, soloed: false, chain: [] };
}

/** How deep the hosts of a chain lie within each other; 0 without hosts. */
function depthOf(chain: readonly EffectStep[]): number {
  return chain.reduce(
    (most, step) => (step.branches ?? []).reduce((deepest, branch) => Math.max(deepest, 1 + depthOf(branch.chain)), most),
    0,
  );
}

/** Throws EditError when a chain has become too long, or hosts too deep: such a project could not be opened again. */
export function checkRoom(draft: Project, { sound, owner }: ChainPlace, chain: readonly EffectStep[]): void {
  if (chain.length > mostSteps) throw new EditError(`A chain has ${mostSteps} steps at most.`);
  if (depthOf(ownerOf(soundOf(draft, sound), owner).chain) > deepestHost)
    throw new EditError(`Hosts lie ${deepestHost} deep within each other at most.`);
}

/** Adds an effect with its default values, to a branch if one is named; at the end unless `index` says otherwise. */
export const addEffect = defineEdit<ChainPlace & { branch?: string; effect: string; index?: number }>({
  label: (args, project, catalogue) => `Add ${catalogue.get(args.effect)?.label ?? args.effect} to “${nameOf(project, args)}”`,
  apply: (draft, { sound, owner, branch, effect, index }, catalogue) => {
    const chain = chainOf(soundOf(draft, sound), owner, branch);
    const description = catalogue.get(effect);
    if (!description) throw new EditError(`There is no effect “${effect}”.`);
    const step: EffectStep = { id: takeId(draft, 'step'), effect, enabled: true, mix: 1, parameters: {} };
    const { host } = description;
    if (host) step.branches = Array.from({ length: host.first }, () => newBranch(draft, host.gain));
    chain.splice(index ?? chain.length, 0, step);
    checkRoom(draft, { sound, owner }, chain);
  },
});

/** Takes a step away; states that have it on can bring it back. */
export const removeEffect = defineEdit<ChainPlace & { step: string }>({
  label: (args, project) => `Remove effect from “${nameOf(project, args)}”`,
  apply: (draft, { sound, owner, step }) => {
    const target = soundOf(draft, sound);
    const found = stepOf(target, owner, step);
    takeOut(target, owner, found.chain, [found.step]);
  },
});

/**
 * Moves a step within its chain, or with `into` to a branch (by its id) or out into the owner's own chain (`top`); `index` counts
 * without the step itself. Its automation and its sways go with it.
 */
export const moveEffect = defineEdit<ChainPlace & { step: string; index: number; into?: { readonly branch: string } | 'top' }>({
  label: (args, project) => `Reorder chain of “${nameOf(project, args)}”`,
  apply: (draft, { sound, owner, step: id, index, into }) => {
    const target = soundOf(draft, sound);
    const { step, chain } = stepOf(target, owner, id);
    if (typeof into === 'object' && pathToBranch([step], into.branch)) throw new EditError('A host cannot be moved into itself.');
    const goal = into === undefined ? chain : chainOf(target, owner, into === 'top' ? undefined : into.branch);
    chain.splice(chain.indexOf(step), 1);
    goal.splice(Math.max(0, Math.min(index, goal.length)), 0, step);
    checkRoom(draft, { sound, owner }, goal);
  },
});

export const switchEffect = defineEdit<ChainPlace & { step: string; enabled: boolean }>({
  label: ({ enabled }) => (enabled ? 'Effect on' : 'Effect off'),
  apply: (draft, { sound, owner, step, enabled }) => {
    stepOf(soundOf(draft, sound), owner, step).step.enabled = enabled;
  },
});

/** Adds a branch to a host: a band above the others, or another lane. */
export const addBranch = defineEdit<ChainPlace & { step: string }>({
  label: ({ sound, owner, step }, project, catalogue) => `Add ${hostOf(project, { sound, owner }, step, catalogue).host.branch}`,
  apply: (draft, { sound, owner, step }, catalogue) => {
    const { host, branches } = hostOf(draft, { sound, owner }, step, catalogue);
    if (branches.length >= host.most) throw new EditError(`There are ${host.most} ${host.branch}s already.`);
    branches.push(newBranch(draft, host.gain));
  },
});

/** Takes a branch away with all that lies in it. */
export const removeBranch = defineEdit<ChainPlace & { branch: string }>({
  label: ({ sound, owner, branch }, project, catalogue) => `Remove ${hostWith(project, { sound, owner }, branch, catalogue).host.branch}`,
  apply: (draft, { sound, owner, branch: id }, catalogue) => {
    const { host, branches, branch } = hostWith(draft, { sound, owner }, id, catalogue);
    if (branches.length <= host.least) throw new EditError(`There must be ${host.least} ${host.branch}s at least.`);
    const target = soundOf(draft, sound);
    forgetSteps(target, owner, [{ id: '', effect: '', enabled: true, mix: 1, parameters: {}, branches: [branch] }]);
    branches.splice(branches.indexOf(branch), 1);
  },
});

/** Names a branch, mutes it, or lets it be heard alone. */
export const setBranch = defineEdit<ChainPlace & { branch: string; changes: Partial<Pick<Branch, 'name' | 'muted' | 'soloed'>> }>({
  label: ({ sound, owner, branch, changes }, project, catalogue) => {
    const what = hostWith(project, { sound, owner }, branch, catalogue).host.branch;
    if (changes.name !== undefined) return `Name ${what} “${changes.name}”`;
    if (changes.soloed !== undefined) return changes.soloed ? `Hear one ${what} alone` : `Hear all ${what}s`;
    return changes.muted ? `Mute ${what}` : `Unmute ${what}`;
  },
  apply: (draft, { sound, owner, branch, changes }, catalogue) => {
    const found = hostWith(draft, { sound, owner }, branch, catalogue).branch;
    if (changes.soloed) beginSolos(soundOf(draft, sound));
    Object.assign(found, changes, changes.name !== undefined && { name: changes.name.trim().slice(0, 60) });
  },
});

function hostOf(project: Project, { sound, owner }: ChainPlace, stepId: string, catalogue: EffectCatalogue) {
  const { step } = stepOf(soundOf(project, sound), owner, stepId);
  const host = catalogue.get(step.effect)?.host;
  if (!host || !step.branches) throw new EditError(`“${step.effect}” has no branches.`);
  return { host, branches: step.branches };
}

function hostWith(project: Project, { sound, owner }: ChainPlace, branchId: string, catalogue: EffectCatalogue) {
  const step = stepsOf(ownerOf(soundOf(project, sound), owner).chain).find((each) => each.branches?.some(({ id }) => id === branchId));
  if (!step) throw new EditError(`There is no branch “${branchId}” in this chain.`);
  const found = hostOf(project, { sound, owner }, step.id, catalogue);
  return { ...found, branch: found.branches.find(({ id }) => id === branchId)! };
}

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

/** Addresses of a branch of a host. */
export function branchAddress(owner: ChainOwner, branch: string, key: string): string {
  return `${ownerAddress(owner)}/branch/${branch}/${key}`;
}
