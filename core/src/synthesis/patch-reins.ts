import { offsetUnit } from '../project/offset';
import type { NumberParameter } from '../project/parameters';
import { isNeeded, resolveValues } from '../project/parameters';
import type { NewRein } from '../project/edits/patch-edits';
import type { Patch } from '../project/patch/patch-schema';
import type { Semitones } from '../units';
import { partsById } from './index';
import { lightReach, modulationReach, timeKeys } from './shape-patch';

/** How far up and down a rein tunes a patch. */
const heightReach: Semitones = 12;
/** How much longer and shorter a rein makes its times, as a part of each. */
const lengthReach = 0.8;

/**
 * Three reins over a patch as it is: its height, the length of its envelopes and of what rings, and its light. In their middle they leave it alone; one that
 * would find nothing to pull is left out.
 * @param name of the layer, in front of the names of the reins
 */
export function reinsOver(patch: Patch, name: string): NewRein[] {
  const over = (
    what: string,
    keys: readonly string[],
    depthOf: (key: string, parameter: NumberParameter, value: number) => number,
  ): NewRein => ({
    name: `${name}: ${what}`,
    pulls: patch.parts.flatMap((part) => {
      const parameters = partsById.get(part.kind)?.parameters ?? {};
      const values = resolveValues(parameters, part.parameters);
      return keys.flatMap((key) => {
        const parameter = parameters[key];
        const value = values[key];
        if (parameter?.kind !== 'number' || parameter.builds || typeof value !== 'number') return [];
        if (!isNeeded(parameter, parameters, values)) return [];
        const depth = depthOf(key, parameter, value);
        return depth === 0 ? [] : [{ part: part.id, parameter: key, depth }];
      });
    }),
  });
  const reins = [
    over('height', ['tuning'], () => heightReach),
    over('length', timeKeys, (_, parameter, value) => (offsetUnit(parameter) === '%' ? 100 * lengthReach : lengthReach * value)),
    over('light', Object.keys(lightReach), (key) => lightReach[key]!),
  ];
  const modulations = patch.parts.flatMap(({ id, from }) =>
    from.map(({ part: other, amount }) => ({ part: id, parameter: `from/${other}`, depth: modulationReach * amount })),
  );
  reins[2] = { ...reins[2]!, pulls: [...reins[2]!.pulls, ...modulations] };
  return reins.filter(({ pulls }) => pulls.length > 0);
}
