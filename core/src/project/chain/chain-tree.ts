import type { Branch, EffectStep } from './chain-schema';

/**
 * A chain is a list of steps; a step that is a host holds branches, each with a chain of its own, and so on. Ids are unique throughout,
 * so that a step is found, and addressed, without the way to it: it keeps its address when it is moved into another branch.
 */
type Chain = readonly EffectStep[];

/** How many steps a chain can have. */
export const mostSteps = 64;

/** How deep hosts may lie within hosts. */
export const deepestHost = 8;

/** All steps of a chain, every host before what lies within it. */
export function stepsOf(chain: Chain): EffectStep[] {
  return chain.flatMap((step) => [step, ...(step.branches ?? []).flatMap((branch) => stepsOf(branch.chain))]);
}

/** All branches of all hosts of a chain. */
export function branchesOf(chain: Chain): Branch[] {
  return stepsOf(chain).flatMap((step) => step.branches ?? []);
}

/** A copy of a chain with every step changed, wherever it lies. What `change` returns keeps its branches if it has any. */
export function mapSteps(chain: Chain, change: (step: EffectStep) => EffectStep): EffectStep[] {
  return chain.map((step) => {
    const changed = change(step);
    if (!changed.branches) return changed;
    return { ...changed, branches: changed.branches.map((branch) => ({ ...branch, chain: mapSteps(branch.chain, change) })) };
  });
}

/** The way from the outermost chain to a branch: the hosts that it lies in, each with the branch that leads on. */
export function pathToBranch(chain: Chain, branchId: string): { readonly host: EffectStep; readonly branch: Branch }[] | undefined {
  for (const host of chain) {
    for (const branch of host.branches ?? []) {
      if (branch.id === branchId) return [{ host, branch }];
      const deeper = pathToBranch(branch.chain, branchId);
      if (deeper) return [{ host, branch }, ...deeper];
    }
  }
  return undefined;
}
