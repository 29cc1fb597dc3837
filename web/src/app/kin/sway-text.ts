import type { Clip, Draw, Draws, EffectCatalogue, Layer, NumberParameter, Sound, Sway } from '@tangled-choir/core';
import {
  alternativesAddress,
  findProperty,
  isChanced,
  offsetReach,
  offsetUnit,
  orderAddress,
  presenceAddress,
  stepOffers,
  swayedProperty,
} from '@tangled-choir/core';
import { signed } from '../ui/quantity';

/** A sway as a row of the table shows it. */
export interface SwayRow {
  readonly sway: Sway;
  readonly owner: string;
  readonly property: string;
  readonly layerId: string | undefined;
  readonly text: string;
  readonly reach: number;
  /** What a range is of. */
  readonly parameter?: NumberParameter;
}

/** Digits and factor in which offsets of a unit are shown. */
function shown(value: number, unit: string, parameter: NumberParameter): string {
  if (unit === 's') return `${signed(value * 1_000, 0)} ms`;
  if (unit === '%' && parameter.scale !== 'log') return `${signed(value * 100, 0)} %`;
  return `${signed(value, unit === '%' ? 0 : 1)}${unit ? ` ${unit}` : ''}`;
}

/** How far a range goes: `±1.8 st` when it is even, both ends otherwise. */
export function rangeText(low: number, high: number, parameter: NumberParameter): string {
  const unit = offsetUnit(parameter);
  if (Math.abs(low + high) < 1e-9) return `±${shown(high, unit, parameter).replace(/^[+−]/, '')}`;
  return `${shown(low, unit, parameter).replace(/ \S+$/, '')} … ${shown(high, unit, parameter)}`;
}

/** Rows of the table; sways whose property is gone are left out. */
export function swayRows(sound: Sound, catalogue: EffectCatalogue): SwayRow[] {
  // What is there and what it plays comes before how it varies.
  const first: readonly Sway['kind'][] = ['some', 'alternatives', 'order'];
  const sways = [...sound.family.sways].sort((a, b) => Number(first.includes(b.kind)) - Number(first.includes(a.kind)));
  return sways.flatMap((sway) => rowOf(sway, sound, catalogue) ?? []);
}

function rowOf(sway: Sway, sound: Sound, catalogue: EffectCatalogue): SwayRow | undefined {
  const inLayer = (layer: Layer | undefined, property: string, text: string): SwayRow | undefined =>
    layer && { sway, owner: layer.name, property, layerId: layer.id, text, reach: 1 };
  const layerAt = (address: (id: string) => string): Layer | undefined => sound.layers.find(({ id }) => address(id) === sway.address);
  switch (sway.kind) {
    case 'presence':
      return inLayer(layerAt(presenceAddress), 'present', `${Math.round(sway.chance * 100)} %`);
    case 'order':
      return inLayer(layerAt(orderAddress), 'order of its clips', 'shuffled');
    case 'alternatives':
      return inLayer(playedBy(sound, sway.address)[0], 'plays', sway.of.length === 1 ? 'one' : `1 of ${sway.of.length}`);
    case 'some': {
      const counts = sway.least === sway.most ? `${sway.least}` : `${sway.least} to ${sway.most}`;
      return { sway, owner: 'Layers', property: 'how many', layerId: undefined, text: `${counts} of ${sway.layers.length}`, reach: 1 };
    }
    case 'choice': {
      const property = findProperty(sound, sway.address, catalogue);
      const text = sway.of.length === 1 ? 'one' : `1 of ${sway.of.length}`;
      return (
        property && { sway, owner: property.owner, property: lower(property.parameter.label), layerId: property.layer?.id, text, reach: 1 }
      );
    }
    case 'range': {
      const property = swayedProperty(sound, sway.address, catalogue);
      if (!property) return undefined;
      const { parameter, owner, layer } = property;
      const label = lower(parameter.label);
      return {
        sway,
        // A band says by itself that it belongs to an EQ.
        owner: label.startsWith('band ') ? owner.replace(/ · EQ$/, '') : owner,
        property: label,
        layerId: layer?.id,
        text: rangeText(sway.low, sway.high, parameter),
        reach: Math.max(offsetReach(parameter), -sway.low, sway.high),
        parameter,
      };
    }
  }
}

const lower = (label: string): string => label.toLowerCase();

export const shapeNames = { even: 'evenly', middle: 'towards the middle', ends: 'towards the ends' } as const;

/** How a row is drawn, where that is special: “towards the middle · semitones · with Heel crunch speed”. */
export function howText({ sway, parameter }: SwayRow, rows: readonly SwayRow[]): string {
  if (!isChanced(sway)) return '';
  const said: string[] = [];
  if (sway.kind === 'range') {
    if (sway.shape && sway.shape !== 'even') said.push(shapeNames[sway.shape]);
    const steps = sway.steps;
    if (steps !== undefined && parameter)
      said.push(`steps: ${stepOffers(parameter).find((offer) => offer.steps === steps)?.label ?? steps}`);
  }
  const leader = rows.find((row) => row.sway.address === sway.follows?.address);
  if (sway.follows && leader) {
    const amount = Math.round(sway.follows.amount * 100);
    said.push(
      `${amount < 0 ? 'against' : 'with'} ${leader.owner} ${leader.property}${Math.abs(amount) === 100 ? '' : `, ${Math.abs(amount)} %`}`,
    );
  }
  return said.join(' · ');
}

/** The layer and the clip whose alternatives lie at an address. */
export function playedBy(sound: Sound, address: string): readonly [Layer?, Clip?] {
  for (const layer of sound.layers)
    for (const clip of layer.clips) if (alternativesAddress(layer.id, clip.id) === address) return [layer, clip];
  return [];
}

/** What was drawn at the address of a row, for a person: “+0.8 st”, “absent”, “b”. */
export function drawText({ sway, parameter }: SwayRow, draw: Draw, sound: Sound): string {
  if (sway.kind === 'presence') return draw === 0 ? 'absent' : 'there';
  if (typeof draw === 'number') return parameter ? shown(draw, offsetUnit(parameter), parameter) : String(draw);
  if (sway.kind === 'alternatives') return playsText(sway, draw);
  if (sway.kind === 'order') return 'another order';
  if (sway.kind === 'some') {
    const absent = sound.layers.filter(({ id }) => String(draw).split(' ').includes(id));
    return absent.length === 0 ? 'all there' : `without ${absent.map(({ name }) => lower(name)).join(', ')}`;
  }
  return draw === true ? 'on' : draw === false ? 'off' : String(draw);
}

/** The letter of the alternative that is played; nothing for one that is not among them any more. */
function playsText({ of }: Extract<Sway, { kind: 'alternatives' }>, draw: Draw): string {
  if (typeof draw !== 'object') return '';
  const place = of.findIndex(({ source, from, to }) => source === draw.source && from === draw.from && to === draw.to);
  return place < 0 ? '' : letterOf(place);
}

/** The most telling draws of a sibling in a few words: how its speeds moved, which alternatives it plays and which layers are missing. */
export function drawsText(sound: Sound, draws: Draws): { speed: string; plays: string; absent: string; allAbsent: string } {
  const speeds = Object.entries(draws).flatMap(([address, draw]) =>
    typeof draw === 'number' && address.endsWith('/speed') ? [[address, draw] as const] : [],
  );
  const plays = sound.family.sways.flatMap((sway) => {
    const draw = draws[sway.address];
    return sway.kind === 'alternatives' && draw !== undefined ? playsText(sway, draw) || [] : [];
  });
  const away = new Set(sound.family.sways.flatMap(({ kind, address }) => (kind === 'some' ? String(draws[address] ?? '').split(' ') : [])));
  const absent = sound.layers.filter(({ id }) => draws[presenceAddress(id)] === 0 || away.has(id)).map((layer) => layer.name);
  return {
    plays: plays.join(' '),
    speed: speeds[0] ? `${signed(speeds[0][1], 1)} st` : '',
    absent: absent.length === 0 ? '' : `no ${absent[0]!.toLowerCase()}${absent.length > 1 ? ` +${absent.length - 1}` : ''}`,
    allAbsent: absent.join(', '),
  };
}

/** What stands for an alternative where there is little room: a, b … z, aa … */
export function letterOf(place: number): string {
  const letter = String.fromCharCode(97 + (place % 26));
  return place < 26 ? letter : letterOf(Math.floor(place / 26) - 1) + letter;
}
