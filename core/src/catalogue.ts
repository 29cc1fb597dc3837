import { effectsById } from './effects';
import type { EffectCatalogue } from './project/parameters';
import { partsById } from './synthesis';

/** The registries as the document sees them. */
export const effectCatalogue: EffectCatalogue = {
  get: (effect) => effectsById.get(effect),
  part: (kind) => partsById.get(kind),
};
