import { createRandom } from '../dsp/random';
import type { ParameterValue } from '../project/parameters';
import { fitValue, placeOfValue, resolveValues, valueAtPlace } from '../project/parameters';
import type { Unit } from '../units';
import type { Effect } from './effect';

/**
 * New values for an effect, drawn within musical limits: no further than its default and its presets reach, with a little room beyond.
 * @param strength 0 leaves everything as it is, 1 forgets what it was
 * @param locked keys that stay
 */
export function surprise(
  effect: Effect,
  values: Readonly<Record<string, ParameterValue>>,
  { seed, strength, locked = new Set() }: { readonly seed: number; readonly strength: Unit; readonly locked?: ReadonlySet<string> },
): Record<string, ParameterValue> {
  const random = createRandom(seed);
  const known = [resolveValues(effect.parameters, {}), ...effect.presets.map((preset) => resolveValues(effect.parameters, preset.values))];
  const now = resolveValues(effect.parameters, values);
  for (const [key, parameter] of Object.entries(effect.parameters)) {
    // Drawn even when it is not used, so that a lock does not change what the others become.
    const draw = random.next();
    const moved = random.next();
    if (locked.has(key) || parameter.kind === 'reference' || parameter.kind === 'curve') continue;
    if (parameter.kind === 'number') {
      const places = known.map((each) => placeOfValue(parameter, Number(each[key])));
      const room = (Math.max(...places) - Math.min(...places)) * 0.1;
      const low = Math.max(0, Math.min(...places) - room);
      const high = Math.min(1, Math.max(...places) + room);
      const target = low + (high - low) * draw;
      const before = placeOfValue(parameter, Number(now[key]));
      // What nobody ever moves stays exactly where it is.
      if (strength === 0 || high === low) continue;
      now[key] = fitValue(parameter, valueAtPlace(parameter, before + (target - before) * strength));
    } else if (moved < strength) {
      const options = known.map((each) => each[key]!);
      now[key] = options[Math.floor(draw * options.length)]!;
    }
  }
  return now;
}
