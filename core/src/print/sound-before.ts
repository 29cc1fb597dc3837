import { stepsOf } from '../project/chain/chain-tree';
import type { ChainOwner } from '../project/edits';
import type { EffectStep } from '../project/chain/chain-schema';
import type { Sound } from '../project/schema';
import { printRecipe } from './print-sound';

/** The sound that goes into a step, or into the outermost host that it lies in, as a sound of its own: what a measurement of it renders. */
export function soundBefore(sound: Sound, owner: ChainOwner, step: string): Sound {
  const upTo = (chain: readonly EffectStep[]): EffectStep[] => {
    const index = chain.findIndex((each) => stepsOf([each]).some(({ id }) => id === step));
    return chain.slice(0, index < 0 ? chain.length : index);
  };
  if (owner === 'sound') return { ...printRecipe(sound, 'whole sound'), gain: 0, chain: upTo(sound.chain) };
  if ('layer' in owner) {
    const recipe = printRecipe(sound, { layers: [owner.layer] });
    return {
      ...recipe,
      layers: recipe.layers.map((layer) => (layer.id === owner.layer ? { ...layer, gain: 0, pan: 0, chain: upTo(layer.chain) } : layer)),
    };
  }
  const bus = sound.buses.find(({ id }) => id === owner.bus);
  // What a shared bus gets comes from everywhere; the whole sound stands in for it.
  if (bus?.kind !== 'group') return { ...printRecipe(sound, 'whole sound'), gain: 0, chain: [] };
  const recipe = printRecipe(sound, { group: owner.bus });
  return { ...recipe, buses: recipe.buses.map((each) => ({ ...each, gain: 0, pan: 0, chain: upTo(each.chain) })) };
}
