import { axisOf } from './axis';
import { branchesOf, stepsOf } from './chain/chain-tree';
import { isClipAddress, isPulledOfClip } from './clip-address';
import type { EffectCatalogue, NumberParameter, Parameter, ParameterSet, ParameterValue, ParameterValues } from './parameters';
import { decibels, fitValue, isNeeded, seconds, share } from './parameters';
import type { Branch, EffectStep } from './chain/chain-schema';
import { findMover, isMoverAddress, moverAddress } from './mover-address';
import { curveLengthParameter, modulationParameter, noteParameters, patchParameters } from './patch/patch-parameters';
import type { Patch, PatchPart } from './patch/patch-schema';
import type { Bus, Clip, Layer, Sound } from './schema';

/**
 * Every property that a person can turn has an address within its sound:
 *
 *     sound/gain
 *     sound/chain/<step>/<parameter> | mix
 *     layer/<id>/gain | pan                     bus/<id>/gain | pan
 *     layer/<id>/chain/<step>/<parameter> | mix bus/<id>/chain/<step>/<parameter> | mix
 *     layer/<id>/send/<bus>                     bus/<id>/send/<bus>
 *     …/branch/<branch>/gain | pan | delay      (… is any owner of a chain)
 *     layer/<id>/clip/<clip>/speed | stretch | pitch | formant | wear | gain | start
 *     layer/<id>/clip/<clip>/note/<note>/pitch | strength
 *     layer/<id>/patch/<parameter>              layer/<id>/curve/<curve>/length
 *     layer/<id>/part/<part>/<parameter>        layer/<id>/part/<part>/from/<part that moves its phase>
 *     rein/<id>/value                           tide/<id>/length           walk/<id>/rate
 *
 * A step or a branch is found wherever in the chain it lies: within how many hosts is not part of its address.
 * Edits, sways, automation lanes, tides, reins and undo labels all use them, so that what is true of one property is
 * true of all.
 */
export type Address = string;

export interface Property {
  readonly address: Address;
  readonly parameter: Parameter;
  readonly value: ParameterValue;
  /** Whose property it is, for a person: “Deep crack · EQ”. */
  readonly owner: string;
  /** Where in its layer, bus or sound it lies: “EQ”, “Send to Cavern”; nothing for what is directly theirs. */
  readonly within?: string;
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
export const stretchParameter: NumberParameter = {
  kind: 'number',
  label: 'Stretch',
  unit: '×',
  min: 0.25,
  max: 200,
  default: 1,
  scale: 'log',
};
export const pitchParameter: NumberParameter = { ...speedParameter, label: 'Pitch' };
export const formantParameter: NumberParameter = { ...speedParameter, label: 'Formants', min: -24, max: 24 };
export const wearParameter = share({ label: 'Wear', default: 0 });
export const grainParameter = seconds({ label: 'Grain', min: 0.02, max: 2, default: 0.3 });
export const attackParameter = share({ label: 'Attack', default: 0.5 });
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

export const sendParameter = decibels({ label: 'Level', min: -96, max: 36, default: 0 });

const channelParameters: Readonly<Record<string, NumberParameter>> = { gain: gainParameter, pan: panParameter };
export const branchParameters = {
  gain: gainParameter,
  pan: panParameter,
  delay: { ...seconds({ label: 'Delay', min: 0, max: 1, default: 0 }), scale: 'linear', fixed: true },
} as const satisfies Readonly<Record<string, NumberParameter>>;
const soundParameters: Readonly<Record<string, NumberParameter>> = { gain: gainParameter };
/** The properties of a clip, by their keys. */
export const clipParameters = {
  speed: speedParameter,
  stretch: stretchParameter,
  pitch: pitchParameter,
  formant: formantParameter,
  wear: wearParameter,
  gain: { ...gainParameter, label: 'Clip level' },
  start: startParameter,
} as const satisfies Readonly<Record<string, NumberParameter>>;
/** What of it does something to notes: they have no formants and are not worn. */
const noteClipKeys = ['speed', 'stretch', 'pitch', 'gain', 'start'];
const moverNames = { rein: 'Rein', tide: 'Tide', walk: 'Walk', follower: 'Follower' } as const;
const curveParameters = { length: { ...curveLengthParameter, fixed: true } } as const;

/** Where a value is stored: the object and the key in it. */
interface Place {
  readonly holder: object;
  readonly key: string;
  readonly parameter: Parameter;
  /** Name of the layer or the bus, or “Whole sound”. */
  readonly channel: string;
  readonly within?: string;
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
  const { parameter, channel, within, layer } = place;
  const owner = within === undefined ? channel : `${channel} · ${within}`;
  return { address, parameter, value, owner, ...(within !== undefined && { within }), ...(layer && { layer }) };
}

/** Writes a value, fitted into its range, into a draft of the sound; false when the address leads nowhere. */
export function writeProperty(draft: Sound, address: Address, value: ParameterValue, catalogue: EffectCatalogue): boolean {
  const place = findPlace(draft, address, catalogue);
  return place !== undefined && Reflect.set(place.holder, place.key, fitValue(place.parameter, value));
}

/**
 * The addresses of all properties of a sound that do something, in the order of the sound: of what is switched off, such as a band of an EQ, only the
 * switch. Single notes are found by their addresses, but not listed: there may be thousands.
 */
export function listAddresses(sound: Sound, catalogue: EffectCatalogue): Address[] {
  const neededKeys = (parameters: ParameterSet, values: ParameterValues): string[] =>
    Object.entries(parameters).flatMap(([key, parameter]) => (isNeeded(parameter, parameters, values) ? [key] : []));
  const ofChain = (chain: readonly EffectStep[], prefix: string): Address[] => [
    ...stepsOf(chain).flatMap((step) => {
      const effect = catalogue.get(step.effect);
      if (!effect) return [];
      return [...neededKeys(effect.parameters, step.parameters), 'mix'].map((key) => `${prefix}/chain/${step.id}/${key}`);
    }),
    ...branchesOf(chain).flatMap(({ id }) => Object.keys(branchParameters).map((key) => `${prefix}/branch/${id}/${key}`)),
  ];
  const ofChannel = ({ sends }: Layer | Bus, prefix: string): Address[] => [
    ...Object.keys(channelParameters).map((key) => `${prefix}/${key}`),
    ...sends.map(({ bus }) => `${prefix}/send/${bus}`),
  ];
  const ofPatch = ({ id, patch }: Layer): Address[] =>
    patch
      ? [
          ...neededKeys(patchParameters, patch.parameters).map((key) => `layer/${id}/patch/${key}`),
          ...patch.parts.flatMap((part) => [
            ...neededKeys(catalogue.part(part.kind)?.parameters ?? {}, part.parameters).map((key) => `layer/${id}/part/${part.id}/${key}`),
            ...part.from.map((from) => `layer/${id}/part/${part.id}/from/${from.part}`),
          ]),
          ...patch.curves.map((curve) => `layer/${id}/curve/${curve.id}/length`),
        ]
      : [];
  return [
    ...sound.layers.flatMap((layer) => [
      ...ofChannel(layer, `layer/${layer.id}`),
      ...layer.clips.flatMap((clip) =>
        (clip.notes ? noteClipKeys : Object.keys(clipParameters)).map((key) => `layer/${layer.id}/clip/${clip.id}/${key}`),
      ),
      ...ofPatch(layer),
      ...ofChain(layer.chain, `layer/${layer.id}`),
    ]),
    ...sound.buses.flatMap((bus) => [...ofChannel(bus, `bus/${bus.id}`), ...ofChain(bus.chain, `bus/${bus.id}`)]),
    'sound/gain',
    ...ofChain(sound.chain, 'sound'),
    ...sound.movers.flatMap((mover) => moverAddress(mover) ?? []),
  ];
}

/** True for what can move along an automation lane: what neither belongs to a clip nor shifts the sound in time nor builds an effect anew. */
export function isAutomatable({ address, parameter }: Pick<Property, 'address' | 'parameter'>): boolean {
  return !parameter.fixed && !parameter.builds && axisOf(parameter) !== undefined && !isClipAddress(address);
}

/** True for what tides, reins and walks can pull: what has lanes, and of clips what does not move them in time. */
export function isPullable(property: Pick<Property, 'address' | 'parameter'>): boolean {
  return isAutomatable(property) || isPulledOfClip(property.address);
}

/** The layer, bus or sound that an address belongs to: `layer/<id>`, `bus/<id>`, `sound`. Movers are the whole sound's. */
export function ownerOfAddress(address: Address): string {
  return address.startsWith('sound') || isMoverAddress(address) ? 'sound' : address.split('/').slice(0, 2).join('/');
}

/** Address of what a clip plays; only a sway can use it. */
export function alternativesAddress(layerId: string, clipId: string): Address {
  return `layer/${layerId}/clip/${clipId}/source`;
}

/** Address of a layer's being there at all; only a sway can use it. */
export function presenceAddress(layerId: string): Address {
  return `layer/${layerId}/presence`;
}

/** Address of the order of a layer's clips; only a sway can use it. */
export function orderAddress(layerId: string): Address {
  return `layer/${layerId}/order`;
}

/** Address of the swing of a layer's clips; only a sway can use it. */
export function swingAddress(layerId: string): Address {
  return `layer/${layerId}/swing`;
}

/** Address of how many of some layers are there, which a sway gives itself; `n` tells it apart from others of the sound. */
export function someAddress(n: number): Address {
  return `some/${n}`;
}

export function isSomeAddress(address: Address): boolean {
  return address.startsWith('some/');
}

/** By how much of the distance to the next every second clip of a layer is later. */
export const swingParameter = share({ label: 'Swing', min: -0.75, max: 0.75, default: 0 });

function findPlace(sound: Sound, address: Address, catalogue: EffectCatalogue): Place | undefined {
  const [kind, id, ...rest] = address.split('/');
  if (kind === 'sound') {
    const parts = address.split('/').slice(1);
    return findOwn(sound, soundParameters, parts, 'Whole sound') ?? findInChain(sound, parts, 'Whole sound', catalogue);
  }
  if (kind === 'bus') {
    const bus = sound.buses.find((candidate) => candidate.id === id);
    return bus && (findInChannel(sound, bus, rest) ?? findInChain(bus, rest, bus.name, catalogue));
  }
  const moved = findMover(sound, address);
  if (moved) {
    const { mover, parameter } = moved;
    return { holder: mover, key: rest[0]!, parameter, channel: moverNames[mover.kind], within: mover.name };
  }
  if (kind !== 'layer') return undefined;
  const layer = sound.layers.find((candidate) => candidate.id === id);
  const place =
    layer &&
    (findInChannel(sound, layer, rest) ??
      findInClip(layer, rest) ??
      findInPatch(layer, rest, catalogue) ??
      findInChain(layer, rest, layer.name, catalogue));
  return place && { ...place, layer };
}

/** Gain and pan, and the sends. */
function findInChannel(sound: Sound, channel: Layer | Bus, parts: readonly string[]): Place | undefined {
  const [first, busId] = parts;
  if (parts.length !== 2 || first !== 'send') return findOwn(channel, channelParameters, parts, channel.name);
  const send = channel.sends.find((candidate) => candidate.bus === busId);
  const bus = sound.buses.find((candidate) => candidate.id === busId);
  return send && bus && { holder: send, key: 'gain', parameter: sendParameter, channel: channel.name, within: `Send to ${bus.name}` };
}

function findOwn(holder: object, parameters: ParameterSet, parts: readonly string[], channel: string): Place | undefined {
  const [key = ''] = parts;
  const parameter = parts.length === 1 && Object.hasOwn(parameters, key) ? parameters[key] : undefined;
  return parameter && { holder, key, parameter, channel };
}

function findInClip(layer: Layer, [first, clipId, key = '', ...more]: readonly string[]): Place | undefined {
  if (first !== 'clip') return undefined;
  const clip: Clip | undefined = layer.clips.find((candidate) => candidate.id === clipId);
  if (key === 'note') {
    const [noteId, ...parts] = more;
    const note = clip?.notes?.find((candidate) => candidate.id === noteId);
    const place = note && findOwn(note, noteParameters, parts, layer.name);
    return place && { ...place, within: `note at ${note.start.toFixed(3)} s` };
  }
  if (more.length > 0) return undefined;
  const place = clip && findOwn(clip, clipParameters, [key], layer.name);
  const number = layer.clips.length > 1 && clip ? { within: `clip ${layer.clips.indexOf(clip) + 1}` } : {};
  return place && { ...place, ...number };
}

/** What the parts of a patch share, a part, who moves its phase, or a curve. */
function findInPatch({ name, patch }: Layer, [first, ...rest]: readonly string[], catalogue: EffectCatalogue): Place | undefined {
  if (!patch) return undefined;
  if (first === 'patch') {
    const place = findOwn(patch.parameters, patchParameters, rest, name);
    return place && { ...place, within: 'Patch' };
  }
  const [id, key = '', ...more] = rest;
  if (first === 'curve') {
    const curve = patch.curves.find((candidate) => candidate.id === id);
    const place = curve && findOwn(curve, curveParameters, [key, ...more], name);
    return place && { ...place, within: curve.name };
  }
  const part = first === 'part' ? patch.parts.find((candidate) => candidate.id === id) : undefined;
  if (!part) return undefined;
  const within = partName(patch, part, catalogue);
  if (key === 'from' && more.length === 1) {
    const from = part.from.find((candidate) => candidate.part === more[0]);
    const mover = patch.parts.find((candidate) => candidate.id === more[0]);
    const parameter = mover && { ...modulationParameter, label: `Modulation by ${partName(patch, mover, catalogue)}` };
    return from && parameter && { holder: from, key: 'amount', parameter, channel: name, within };
  }
  const place = findOwn(part.parameters, catalogue.part(part.kind)?.parameters ?? {}, [key, ...more], name);
  return place && { ...place, within };
}

/** What a part is called: by its own name, or by its kind and, where there are several of it, its place among them. */
export function partName({ parts }: Pick<Patch, 'parts'>, part: PatchPart, catalogue: EffectCatalogue): string {
  if (part.name) return part.name;
  const alike = parts.filter(({ kind, name }) => kind === part.kind && !name);
  const label = catalogue.part(part.kind)?.label ?? part.kind;
  return alike.length > 1 ? `${label} ${alike.indexOf(part) + 1}` : label;
}

function findInChain(
  { chain }: Pick<Layer, 'chain'>,
  [first, id, key = '', ...more]: readonly string[],
  channel: string,
  catalogue: EffectCatalogue,
): Place | undefined {
  if (more.length > 0) return undefined;
  if (first === 'branch') return findInBranch(chain, id, key, channel, catalogue);
  if (first !== 'chain') return undefined;
  const step = stepsOf(chain).find((candidate) => candidate.id === id);
  const effect = step && catalogue.get(step.effect);
  if (!step || !effect) return undefined;
  const within = effect.label;
  if (key === 'mix') return { holder: step, key, parameter: mixParameter, channel, within };
  const parameter = Object.hasOwn(effect.parameters, key) ? effect.parameters[key] : undefined;
  return parameter && { holder: step.parameters, key, parameter, channel, within };
}

function findInBranch(
  chain: readonly EffectStep[],
  id: string | undefined,
  key: string,
  channel: string,
  catalogue: EffectCatalogue,
): Place | undefined {
  const host = stepsOf(chain).find((step) => step.branches?.some((branch) => branch.id === id));
  const branch = host?.branches?.find((candidate) => candidate.id === id);
  const place = branch && findOwn(branch, branchParameters, [key], channel);
  return place && { ...place, within: `${catalogue.get(host!.effect)?.label ?? host!.effect} · ${branchName(host!, branch, catalogue)}` };
}

/** What a branch is called: by its own name, or by its place among the others, “Band 2”. */
export function branchName(host: EffectStep, branch: Branch, catalogue: EffectCatalogue): string {
  const noun = catalogue.get(host.effect)?.host?.branch ?? 'branch';
  return branch.name || `${noun.charAt(0).toUpperCase()}${noun.slice(1)} ${(host.branches ?? []).indexOf(branch) + 1}`;
}
