import type { Clip, Draws, EffectCatalogue, Layer, NumberParameter, Sound, Sway } from '@tangled-choir/core';
import { alternativesAddress, findProperty, offsetReach, offsetUnit } from '@tangled-choir/core';
import { signed } from '../ui/quantity';

/** A sway as a row of the table shows it. */
export interface SwayRow {
  readonly sway: Sway;
  readonly owner: string;
  readonly property: string;
  readonly layerId: string | undefined;
  readonly text: string;
  readonly reach: number;
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
  // What is played comes before how it varies.
  const sways = [...sound.family.sways].sort((a, b) => Number(b.kind === 'alternatives') - Number(a.kind === 'alternatives'));
  return sways.flatMap((sway): SwayRow[] => {
    if (sway.kind === 'presence') {
      const layer = sound.layers.find((candidate) => sway.address === `layer/${candidate.id}/presence`);
      return layer
        ? [{ sway, owner: layer.name, property: 'present', layerId: layer.id, text: `${Math.round(sway.chance * 100)} %`, reach: 1 }]
        : [];
    }
    if (sway.kind === 'alternatives') {
      const [layer, clip] = playedBy(sound, sway.address);
      const count = sway.of.length;
      return clip
        ? [{ sway, owner: layer!.name, property: 'plays', layerId: layer!.id, text: count === 1 ? 'one' : `1 of ${count}`, reach: 1 }]
        : [];
    }
    const property = findProperty(sound, sway.address, catalogue);
    if (property?.parameter.kind !== 'number') return [];
    const { parameter, owner, layer } = property;
    const label = parameter.label.toLowerCase();
    // A band says by itself that it belongs to an EQ.
    const shortOwner = label.startsWith('band ') ? owner.replace(/ · EQ$/, '') : owner;
    return [
      {
        sway,
        owner: shortOwner,
        property: label,
        layerId: layer?.id,
        text: rangeText(sway.low, sway.high, parameter),
        reach: Math.max(offsetReach(parameter), -sway.low, sway.high),
      },
    ];
  });
}

/** The layer and the clip whose alternatives lie at an address. */
export function playedBy(sound: Sound, address: string): readonly [Layer?, Clip?] {
  for (const layer of sound.layers)
    for (const clip of layer.clips) if (alternativesAddress(layer.id, clip.id) === address) return [layer, clip];
  return [];
}

/** The most telling draws of a sibling in a few words: how its speeds moved, which alternatives it plays and which layers are missing. */
export function drawsText(sound: Sound, draws: Draws): { speed: string; plays: string; absent: string; allAbsent: string } {
  const speeds = Object.entries(draws).flatMap(([address, draw]) =>
    typeof draw === 'number' && address.endsWith('/speed') ? [[address, draw] as const] : [],
  );
  const plays = sound.family.sways.flatMap((sway) => {
    const draw = draws[sway.address];
    if (sway.kind !== 'alternatives' || typeof draw !== 'object') return [];
    const place = sway.of.findIndex(({ source, from, to }) => source === draw.source && from === draw.from && to === draw.to);
    return place < 0 ? [] : [letterOf(place)];
  });
  const absent = sound.layers.filter((layer) => draws[`layer/${layer.id}/presence`] === 0).map((layer) => layer.name);
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
