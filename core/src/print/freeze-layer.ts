import { hashData } from '../formats/hash';
import { isMoverAddress, pullersOf } from '../project/mover-address';
import { usedSources } from '../project/chain/references';
import type { Sound } from '../project/schema';
import type { FrozenLayer, RenderContext } from '../render/library';
import type { RenderOptions } from '../render/render-sound';
import { printRecipe, renderPrint } from './print-sound';

/** A sound that gives what a layer gives behind its chain and in front of its fader: what is frozen. */
export function freezeRecipe(sound: Sound, layer: string): Sound {
  const recipe = printRecipe(sound, { layers: [layer] });
  const faders = new Set(recipe.layers.flatMap(({ id }) => [`layer/${id}/gain`, `layer/${id}/pan`]));
  const moving = pullersOf(recipe, (address) => !faders.has(address) && !isMoverAddress(address));
  const counts = (address: string): boolean => !isMoverAddress(address) || moving.has(address.split('/')[1]!);
  const pulls = recipe.pulls.filter(({ address }) => !faders.has(address) && counts(address));
  return {
    ...recipe,
    // Keys are taken before their faders, so what these do is the same to them.
    layers: recipe.layers.map((each) => ({ ...each, name: '', gain: 0, pan: 0 })),
    automation: recipe.automation.filter(({ address }) => !faders.has(address) && counts(address)),
    pulls,
    movers: recipe.movers.filter(({ id }) => moving.has(id)).map((mover) => ({ ...mover, name: '' })),
  };
}

/** Tells recipes apart that sound different; what was frozen holds as long as this stays the same. */
export function freezeIdentity(recipe: Sound, { sampleRate, identities }: Pick<RenderContext, 'sampleRate' | 'identities'>): string {
  const { layers, automation, pulls, movers, tempo } = recipe;
  const audio = [...usedSources(recipe)].map((id) => identities.get(id));
  return hashData([layers, automation, pulls, movers, tempo, audio, sampleRate]);
}

/** Renders a recipe for freezing. Throws as `renderPrint` does. */
export function freezeLayer(recipe: Sound, context: RenderContext, options: Pick<RenderOptions, 'progress'> = {}): FrozenLayer {
  const { audio, start } = renderPrint(recipe, context, options);
  return { identity: freezeIdentity(recipe, context), channels: audio.channels, start: Math.round(start * context.sampleRate) };
}
