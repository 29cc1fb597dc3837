import type { Address } from '../project/address';
import { stepsOf } from '../project/chain/chain-tree';
import type { NewSway } from '../project/edits';
import type { EffectCatalogue } from '../project/parameters';
import type { Sound } from '../project/schema';

export const strengths = ['Slight', 'Clear', 'Bold'] as const;
export type Strength = (typeof strengths)[number];

const strengthFactors: Readonly<Record<Strength, number>> = { Slight: 0.5, Clear: 1, Bold: 2 };
/** Offsets to either side at strength “Clear”. */
const clearSpeed = 1.2;
const clearGain = 1.5;
const clearStart = 0.012;
const clearEffectGain = 2;
const clearFrequency = 2;

/**
 * Sways of a ready strength: speed, gain and start of every clip, and gain and frequency of the EQ bands that are on. The first clip
 * of a sound keeps its start, so that siblings line up on the moment.
 */
export function readySways(sound: Sound, strength: Strength, catalogue: EffectCatalogue): NewSway[] {
  const factor = strengthFactors[strength];
  const known = new Map(sound.family.sways.flatMap((sway) => (sway.kind === 'range' ? [[sway.address, sway] as const] : [])));
  const both = (address: Address, reach: number): NewSway => {
    const own = known.get(address);
    // A strength says how far, not how: what a sway has of its own stays.
    return {
      kind: 'range',
      address,
      low: -reach * factor,
      high: reach * factor,
      locked: false,
      ...(own?.like !== undefined && { like: own.like }),
      ...(own?.shape && { shape: own.shape }),
      ...(own?.steps !== undefined && { steps: own.steps }),
      ...(own?.follows && { follows: own.follows }),
    };
  };
  const earliest = Math.min(...sound.layers.flatMap((layer) => layer.clips.map((clip) => clip.start)));
  const sways: NewSway[] = [];
  for (const layer of sound.layers) {
    for (const clip of layer.clips) {
      const prefix = `layer/${layer.id}/clip/${clip.id}`;
      sways.push(both(`${prefix}/speed`, clearSpeed), both(`${prefix}/gain`, clearGain));
      if (clip.start > earliest) sways.push(both(`${prefix}/start`, Math.min(clearStart, (clip.start - earliest) / 2)));
    }
    for (const step of stepsOf(layer.chain)) {
      const effect = catalogue.get(step.effect);
      for (const key of Object.keys(step.parameters)) {
        const band = /^(band\d)(Gain|Frequency)$/.exec(key);
        if (!band || !effect || step.parameters[`${band[1]}On`] !== true) continue;
        sways.push(both(`layer/${layer.id}/chain/${step.id}/${key}`, band[2] === 'Gain' ? clearEffectGain : clearFrequency));
      }
    }
  }
  return sways;
}
