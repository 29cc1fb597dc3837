import type { EffectCatalogue } from '../parameters';
import { faultsOf } from '../parameters';
import { patchParameters } from './patch-parameters';
import type { Patch } from './patch-schema';

/** What is wrong with a patch beyond its shape: unknown kinds of parts, values that do not fit, ids used twice, modulation and curves that lead nowhere. */
export function findPatchFault({ parameters, parts, curves }: Patch, place: string, catalogue: EffectCatalogue): string | undefined {
  const [shared] = faultsOf(patchParameters, parameters);
  if (shared) return `${place}: ${shared}`;
  const ids = new Set(parts.map(({ id }) => id));
  if (ids.size < parts.length) return `${place}.parts: two parts have the same id`;
  for (const [p, part] of parts.entries()) {
    const own = `${place}.parts[${p}]`;
    const kind = catalogue.part(part.kind);
    if (!kind) return `${own}: there is no kind of part “${part.kind}”`;
    const [fault] = faultsOf(kind.parameters, part.parameters);
    if (fault) return `${own} (${kind.label}): ${fault}`;
    if (new Set(part.from.map(({ part: from }) => from)).size < part.from.length) return `${own}.from: a part moves its phase twice`;
    const stranger = part.from.find(({ part: from }) => !ids.has(from));
    if (stranger) return `${own}.from: there is no part “${stranger.part}”`;
  }
  if (new Set(curves.map(({ id }) => id)).size < curves.length) return `${place}.curves: two curves have the same id`;
  for (const [c, { pulls }] of curves.entries()) {
    for (const [u, pull] of pulls.entries()) {
      const part = parts.find(({ id }) => id === pull.part);
      const parameter = part && catalogue.part(part.kind)?.parameters[pull.parameter];
      if (parameter?.kind !== 'number') return `${place}.curves[${c}].pulls[${u}]: it leads to no number of a part`;
    }
  }
  return undefined;
}
