import type { Address } from '../project/address';
import { findProperty, listAddresses, presenceAddress } from '../project/address';
import { stepsOf } from '../project/chain/chain-tree';
import type { NewSway } from '../project/edits';
import { offsetReach } from '../project/offset';
import type { EffectCatalogue, NumberParameter } from '../project/parameters';
import type { Sound } from '../project/schema';

/** Everything that may vary between the siblings of a sound: numeric properties and the presence of layers. */
export function swayableAddresses(sound: Sound, catalogue: EffectCatalogue): Address[] {
  const numeric = listAddresses(sound, catalogue).filter((address) => findProperty(sound, address, catalogue)?.parameter.kind === 'number');
  return [...sound.layers.map((layer) => presenceAddress(layer.id)), ...numeric];
}

/** A sway for a property that is newly let vary: an eighth of what is useful to either side. */
export function firstSway(address: Address, parameter: NumberParameter): NewSway {
  const reach = offsetReach(parameter) / 8;
  return { kind: 'range', address, low: -reach, high: reach, locked: false };
}

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
  const both = (address: Address, reach: number): NewSway => ({
    kind: 'range',
    address,
    low: -reach * factor,
    high: reach * factor,
    locked: false,
  });
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
