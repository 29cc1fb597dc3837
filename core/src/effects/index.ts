import type { EffectCatalogue } from '../project/parameters';
import { compressor } from './compressor';
import type { Effect } from './effect';
import { eq } from './eq';

/** Every effect of the application, in the order in which the interface offers them. */
export const effects: readonly Effect[] = [eq, compressor];

export const effectsById: ReadonlyMap<string, Effect> = new Map(effects.map((effect) => [effect.id, effect]));

/** The registry as the document sees it. */
export const effectCatalogue: EffectCatalogue = effectsById;

export { automaticMakeUp, compressorCurve } from './compressor';
export type { Effect, Processor } from './effect';
export { maxBlock } from './effect';
export type { EqBand, EqBandKind } from './eq';
export { eqBandCount, eqBandKinds, eqResponse, eqSlopes, readEqBand } from './eq';
