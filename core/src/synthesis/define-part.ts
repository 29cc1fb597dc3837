import type { ParameterSet } from '../project/parameters';
import { commonParameters } from './common-parameters';
import type { PartDefinition, PartKind } from './part';

/** Makes a kind of part from what is its own: the parameters of all parts come behind, unless it says otherwise of one of them. */
export function definePart<const S extends ParameterSet>(definition: PartDefinition<S>): PartKind {
  const { own, first = {}, modulated = false, ...rest } = definition;
  return { ...rest, parameters: { ...own, ...commonParameters, ...own }, first, modulated };
}
