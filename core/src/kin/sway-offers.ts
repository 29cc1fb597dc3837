import type { Address, Property } from '../project/address';
import {
  alternativesAddress,
  findProperty,
  listAddresses,
  orderAddress,
  presenceAddress,
  someAddress,
  swingAddress,
  swingParameter,
} from '../project/address';
import type { NewSway } from '../project/edits';
import { offsetReach, offsetUnit } from '../project/offset';
import type { EffectCatalogue, NumberParameter } from '../project/parameters';
import type { Alternative, Clip, Layer, Sound, Source } from '../project/schema';
import { scaleKinds } from '../tuning/scale';
import type { Ratio } from '../units';

/** Something of a sound that may vary between its siblings, and how it would at first. */
export interface SwayOffer {
  /** Whose it is, for a person: “Deep crack · EQ”. */
  readonly owner: string;
  readonly label: string;
  readonly sway: NewSway;
}

/**
 * Everything of a sound that may vary between its siblings and does not yet: how many of its layers are there; of each layer its presence, what its clips play, their order
 * and their swing; and all numbers, choices and switches.
 */
export function swayOffers(sound: Sound, sources: readonly Source[], catalogue: EffectCatalogue): SwayOffer[] {
  const offers = [...someOffers(sound), ...sound.layers.flatMap((layer) => layerOffers(layer, sources))];
  for (const address of listAddresses(sound, catalogue)) {
    const property = findProperty(sound, address, catalogue);
    const sway = property && firstSway(property);
    if (sway) offers.push({ owner: property.owner, label: property.parameter.label, sway });
  }
  const taken = new Set(sound.family.sways.map(({ address }) => address));
  return offers.filter(({ sway }) => !taken.has(sway.address));
}

function someOffers({ layers, family }: Sound): SwayOffer[] {
  if (layers.length < 2) return [];
  const taken = new Set(family.sways.map(({ address }) => address));
  let n = 1;
  while (taken.has(someAddress(n))) n++;
  const sway = {
    kind: 'some',
    address: someAddress(n),
    layers: layers.map(({ id }) => id),
    least: 1,
    most: layers.length,
    locked: false,
  } as const;
  return [{ owner: 'Whole sound', label: 'Number of layers', sway: { ...sway, layers: [...sway.layers] } }];
}

function layerOffers({ id, name, clips }: Layer, sources: readonly Source[]): SwayOffer[] {
  const offer = (label: string, sway: NewSway): SwayOffer => ({ owner: name, label, sway });
  const offers = [offer('Presence', { kind: 'presence', address: presenceAddress(id), chance: 0.7, locked: false })];
  for (const [c, clip] of clips.entries()) {
    if (clip.source === undefined) continue;
    const of = firstAlternatives(clip, clip.source, sources);
    const label = clips.length === 1 ? 'What it plays' : `What clip ${c + 1} plays`;
    offers.push(offer(label, { kind: 'alternatives', address: alternativesAddress(id, clip.id), of, locked: false }));
  }
  if (clips.length < 2) return offers;
  return [
    ...offers,
    offer('Order of its clips', { kind: 'order', address: orderAddress(id), locked: false }),
    offer('Swing', { kind: 'range', address: swingAddress(id), low: -firstSwing, high: firstSwing, locked: false }),
  ];
}

const firstSwing: Ratio = 0.1;

/** Good parts of one recording are takes of the same; without them it begins with what is there. */
function firstAlternatives(clip: Clip, source: string, sources: readonly Source[]): Alternative[] {
  const over = { from: clip.offset, to: clip.offset + clip.length };
  const regions = sources.find(({ id }) => id === source)?.regions ?? [];
  return (regions.length > 1 ? regions : [over]).map(({ from, to }) => ({ source, from, to, over }));
}

/** A sway for a property that is newly let vary: an eighth of what is useful to either side, or all values; undefined for what cannot vary. */
export function firstSway({ address, parameter }: Pick<Property, 'address' | 'parameter'>): NewSway | undefined {
  if (parameter.kind === 'choice') return { kind: 'choice', address, of: [...parameter.options], locked: false };
  if (parameter.kind === 'switch') return { kind: 'choice', address, of: [true, false], locked: false };
  if (parameter.kind !== 'number') return undefined;
  const reach = offsetReach(parameter) / 8;
  return { kind: 'range', address, low: -reach, high: reach, locked: false };
}

/** What a range of offsets is counted in: the property itself, or the swing of a layer; undefined where its address leads nowhere. */
export function swayedProperty(
  sound: Sound,
  address: Address,
  catalogue: EffectCatalogue,
): (Property & { parameter: NumberParameter }) | undefined {
  const layer = sound.layers.find(({ id }) => address === swingAddress(id));
  if (layer) return { address, parameter: swingParameter, value: 0, owner: layer.name, layer };
  const property = findProperty(sound, address, catalogue);
  return property?.parameter.kind === 'number' ? { ...property, parameter: property.parameter } : undefined;
}

type Steps = NonNullable<Extract<NewSway, { kind: 'range' }>['steps']>;

/** In which steps a range may be drawn, in the unit of its offsets. */
export function stepOffers(parameter: NumberParameter): { readonly label: string; readonly steps: Steps }[] {
  const sizes = (unit: string, factor: number, ...steps: number[]) =>
    steps.map((size) => ({ label: `${size * factor} ${unit}`.trim(), steps: size }));
  switch (offsetUnit(parameter)) {
    case 'st':
      return [
        { label: 'semitones', steps: 1 },
        { label: 'octaves', steps: 12 },
        ...scaleKinds.filter((kind) => kind !== 'chromatic').map((kind) => ({ label: kind, steps: kind })),
      ];
    case 'dB':
      return sizes('dB', 1, 0.5, 1, 3, 6);
    case 's':
      return sizes('ms', 1_000, 0.001, 0.005, 0.01, 0.05);
    case '%':
      return parameter.scale === 'log' ? sizes('%', 1, 5, 10, 25) : sizes('%', 100, 0.05, 0.1, 0.25);
    case '':
      return sizes('', 1, 0.1, 1, 10).filter(({ steps }) => steps < offsetReach(parameter));
  }
}
