import { dirname, resolve } from 'node:path';
import type { Audio, Branch, EffectStep } from '@tangled-choir/core';
import { DataError, describeIssues, effectCatalogue, faultsOf, parseJson } from '@tangled-choir/core';
import * as z from 'zod';

const mostSteps = 64;
const deepest = 8;

const step = z.strictObject({
  effect: z.string(),
  mix: z.number().min(0).max(1).default(1),
  parameters: z.record(z.string(), z.union([z.number(), z.string(), z.boolean()])).default({}),
  get branches() {
    return z.array(branch).optional();
  },
});
const branch = z.strictObject({
  gain: z.number().min(-96).max(36).default(0),
  pan: z.number().min(-1).max(1).default(0),
  delay: z.number().min(0).max(1).default(0),
  get chain() {
    return z.array(step).max(mostSteps).default([]);
  },
});
const chainSchema = z.array(step).max(mostSteps);

/** A chain from a file, with the recordings that its steps use, by the ids that the chain knows them by. */
export interface ChainFile {
  readonly chain: EffectStep[];
  readonly sources: ReadonlyMap<string, Audio>;
}

/**
 * Reads a chain file. A parameter that refers to a source names a WAV file, seen from the chain file. Throws DataError that names the step
 * and the parameter.
 */
export function readChain(text: string, what: string, read: (file: string) => Audio): ChainFile {
  const parsed = chainSchema.safeParse(parseJson(text, what));
  if (!parsed.success) throw new DataError(describeIssues(parsed.error, what));
  const sources = new Map<string, Audio>();
  let count = 0;
  const stepOf = (given: z.infer<typeof step>, place: string, depth: number): EffectStep => {
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
      sources.set(id, read(resolve(dirname(what), String(value))));
      parameters[key] = `source/${id}`;
    }
    const branches = branchesOf(given, place, depth);
    return { id: `step-${++count}`, effect: given.effect, enabled: true, mix: given.mix, parameters, ...(branches && { branches }) };
  };
  const branchesOf = ({ effect, branches }: z.infer<typeof step>, place: string, depth: number): Branch[] | undefined => {
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
