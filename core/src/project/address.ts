import type { EffectCatalogue, NumberParameter, Parameter, ParameterValue } from './parameters';
import { decibels, fitValue, share } from './parameters';
import type { Clip, EffectStep, Layer, Sound } from './schema';

/**
 * Every property that a person can turn has an address within its sound:
 *
 *     sound/gain                                layer/<id>/gain | pan
 *     sound/chain/<step>/<parameter> | mix      layer/<id>/chain/<step>/<parameter> | mix
 *                                               layer/<id>/clip/<clip>/speed | gain | start
 *
 * Edits, sways and undo labels (later automation, tides and reins) all use them, so that what is true of one property is
 * true of all.
 */
export type Address = string;

export interface Property {
  readonly address: Address;
  readonly parameter: Parameter;
  readonly value: ParameterValue;
  /** Whose property it is, for a person: “Deep crack · EQ”. */
  readonly owner: string;
  /** The layer it belongs to, if any. */
  readonly layer?: Layer;
}

export const gainParameter = decibels({ label: 'Gain', min: -96, max: 36, default: 0 });
export const panParameter: NumberParameter = { kind: 'number', label: 'Pan', unit: '', min: -1, max: 1, default: 0, scale: 'linear' };
export const speedParameter: NumberParameter = {
  kind: 'number',
  label: 'Speed',
  unit: 'st',
  min: -36,
  max: 36,
  default: 0,
  scale: 'linear',
};
export const startParameter: NumberParameter = {
  kind: 'number',
  label: 'Start',
  unit: 's',
  min: 0,
  max: 86_400,
  default: 0,
  scale: 'linear',
};
export const mixParameter = share({ label: 'Mix', default: 1 });

const layerParameters: Readonly<Record<string, NumberParameter>> = { gain: gainParameter, pan: panParameter };
const clipParameters: Readonly<Record<string, NumberParameter>> = { speed: speedParameter, gain: gainParameter, start: startParameter };

/** Where a value is stored: the object and the key in it. */
interface Place {
  readonly holder: object;
  readonly key: string;
  readonly parameter: Parameter;
  readonly owner: string;
  readonly layer?: Layer;
}

/** Finds a property; undefined when the address leads nowhere. */
export function findProperty(sound: Sound, address: Address, catalogue: EffectCatalogue): Property | undefined {
  const place = findPlace(sound, address, catalogue);
  if (!place) return undefined;
  const stored: unknown = Reflect.get(place.holder, place.key);
  const value = fitValue(
    place.parameter,
    typeof stored === 'number' || typeof stored === 'string' || typeof stored === 'boolean' ? stored : undefined,
  );
  return { address, parameter: place.parameter, value, owner: place.owner, ...(place.layer && { layer: place.layer }) };
}

/** Writes a value, fitted into its range, into a draft of the sound; false when the address leads nowhere. */
export function writeProperty(draft: Sound, address: Address, value: ParameterValue, catalogue: EffectCatalogue): boolean {
  const place = findPlace(draft, address, catalogue);
  return place !== undefined && Reflect.set(place.holder, place.key, fitValue(place.parameter, value));
}

/** The addresses of all properties of a sound, in the order of the sound. */
export function listAddresses(sound: Sound, catalogue: EffectCatalogue): Address[] {
  const ofChain = (chain: readonly EffectStep[], prefix: string): Address[] =>
    chain.flatMap((step) => {
      const effect = catalogue.get(step.effect);
      return effect ? [...Object.keys(effect.parameters), 'mix'].map((key) => `${prefix}/chain/${step.id}/${key}`) : [];
    });
  return [
    ...sound.layers.flatMap((layer) => [
      ...Object.keys(layerParameters).map((key) => `layer/${layer.id}/${key}`),
      ...layer.clips.flatMap((clip) => Object.keys(clipParameters).map((key) => `layer/${layer.id}/clip/${clip.id}/${key}`)),
      ...ofChain(layer.chain, `layer/${layer.id}`),
    ]),
    'sound/gain',
    ...ofChain(sound.chain, 'sound'),
  ];
}

/** Address of a layer's being there at all; only a sway can use it. */
export function presenceAddress(layerId: string): Address {
  return `layer/${layerId}/presence`;
}

function findPlace(sound: Sound, address: Address, catalogue: EffectCatalogue): Place | undefined {
  const parts = address.split('/');
  if (parts[0] === 'sound') return findWithin(sound, undefined, parts.slice(1), 'Whole sound', catalogue);
  if (parts[0] !== 'layer') return undefined;
  const layer = sound.layers.find((candidate) => candidate.id === parts[1]);
  return layer && findWithin(layer, layer, parts.slice(2), layer.name, catalogue);
}

function findWithin(
  holder: Sound | Layer,
  layer: Layer | undefined,
  parts: string[],
  owner: string,
  catalogue: EffectCatalogue,
): Place | undefined {
  const [first = '', second = '', third = ''] = parts;
  const inLayer = layer && { layer };
  if (parts.length === 1) {
    const known = layer ? layerParameters : { gain: gainParameter };
    const parameter = Object.hasOwn(known, first) ? known[first] : undefined;
    return parameter && { holder, key: first, parameter, owner, ...inLayer };
  }
  if (parts.length !== 3) return undefined;
  if (first === 'clip' && layer) {
    const clip: Clip | undefined = layer.clips.find((candidate) => candidate.id === second);
    const parameter = Object.hasOwn(clipParameters, third) ? clipParameters[third] : undefined;
    const number = layer.clips.length > 1 && clip ? ` · clip ${layer.clips.indexOf(clip) + 1}` : '';
    return clip && parameter && { holder: clip, key: third, parameter, owner: owner + number, ...inLayer };
  }
  if (first === 'chain') {
    const step = holder.chain.find((candidate) => candidate.id === second);
    const effect = step && catalogue.get(step.effect);
    if (!step || !effect) return undefined;
    const stepOwner = `${owner} · ${effect.label}`;
    if (third === 'mix') return { holder: step, key: 'mix', parameter: mixParameter, owner: stepOwner, ...inLayer };
    const parameter = Object.hasOwn(effect.parameters, third) ? effect.parameters[third] : undefined;
    return parameter && { holder: step.parameters, key: third, parameter, owner: stepOwner, ...inLayer };
  }
  return undefined;
}
