import { dirname, resolve } from 'node:path';
import type { Branch, EffectStep } from '@tangled-choir/core';
import { chainSchema, DataError, describeIssues, effectCatalogue, faultsOf, parseJson } from '@tangled-choir/core';

const deepest = 8;

/** A chain as the document has it, from one that leaves out what goes without saying; what does not fit is left for the schema to judge. */
function completed(chain: unknown, depth = 0): unknown {
  if (!Array.isArray(chain) || depth > deepest) return chain;
  return chain.map((step: unknown) => {
    if (!isObject(step)) return step;
    const { branches } = step;
    const within = Array.isArray(branches) && { branches: branches.map((branch: unknown) => completedBranch(branch, depth)) };
    return { id: 'step', enabled: true, mix: 1, parameters: {}, ...step, ...within };
  });
}

function completedBranch(branch: unknown, depth: number): unknown {
  if (!isObject(branch)) return branch;
  const plain = { id: 'branch', name: '', gain: 0, pan: 0, delay: 0, muted: false, soloed: false };
  return { ...plain, ...branch, chain: completed(branch['chain'] ?? [], depth + 1) };
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** A chain from a file, with the files of the recordings that its steps use, by the ids that the chain knows them by. */
export interface ChainFile {
  readonly chain: EffectStep[];
  readonly sources: ReadonlyMap<string, string>;
}

/**
 * Reads a chain file. A parameter that refers to a source names a WAV file, seen from the chain file. Throws DataError that names the step
 * and the parameter.
 */
export function readChain(text: string, what: string): ChainFile {
  const parsed = chainSchema.safeParse(completed(parseJson(text, what)));
  if (!parsed.success) throw new DataError(describeIssues(parsed.error, what));
  const sources = new Map<string, string>();
  let count = 0;
  const stepOf = (given: EffectStep, place: string, depth: number): EffectStep => {
    const effect = effectCatalogue.get(given.effect);
    if (!effect) throw new DataError(`${what}: ${place}: there is no effect “${given.effect}”.`);
    if (depth > deepest) throw new DataError(`${what}: ${place}: hosts lie more than ${deepest} deep within each other.`);
    const [fault] = faultsOf(effect.parameters, given.parameters);
    if (fault) throw new DataError(`${what}: ${place} (${given.effect}): ${fault}.`);
    const parameters = { ...given.parameters };
    for (const [key, parameter] of Object.entries(effect.parameters)) {
      const value = parameters[key];
      if (parameter.kind !== 'reference' || value === undefined || value === '') continue;
      if (parameter.to === 'layer')
        throw new DataError(`${what}: ${place} (${given.effect}): “${key}” needs another layer; files have none.`);
      const id = `file-${sources.size + 1}`;
      sources.set(id, resolve(dirname(what), String(value)));
      parameters[key] = `source/${id}`;
    }
    const branches = branchesOf(given, place, depth);
    return {
      id: `step-${++count}`,
      effect: given.effect,
      enabled: given.enabled,
      mix: given.mix,
      parameters,
      ...(branches && { branches }),
    };
  };
  const branchesOf = ({ effect, branches }: EffectStep, place: string, depth: number): Branch[] | undefined => {
    const host = effectCatalogue.get(effect)?.host;
    if (!host) {
      if (branches) throw new DataError(`${what}: ${place} (${effect}): it holds no branches.`);
      return undefined;
    }
    const given = branches ?? Array.from({ length: host.first }, () => ({ gain: host.gain, pan: 0, delay: 0, chain: [] }));
    if (given.length < host.least || given.length > host.most)
      throw new DataError(`${what}: ${place} (${effect}): it has ${given.length} ${host.branch}s, not ${host.least} to ${host.most}.`);
    return given.map((each, b) => ({
      id: `branch-${++count}`,
      name: '',
      gain: each.gain,
      pan: each.pan,
      delay: each.delay,
      muted: false,
      soloed: false,
      chain: each.chain.map((inner, s) => stepOf(inner, `${place}, ${host.branch} ${b + 1}, step ${s + 1}`, depth + 1)),
    }));
  };
  return { chain: parsed.data.map((each, index) => stepOf(each, `step ${index + 1}`, 0)), sources };
}
