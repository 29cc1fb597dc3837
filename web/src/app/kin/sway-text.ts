import type { EffectCatalogue, NumberParameter, Sound, Sway } from '@tangled-choir/core';
import { findProperty, offsetReach, offsetUnit } from '@tangled-choir/core';
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
  return sound.family.sways.flatMap((sway): SwayRow[] => {
    if (sway.kind === 'presence') {
      const layer = sound.layers.find((candidate) => sway.address === `layer/${candidate.id}/presence`);
      return layer
        ? [{ sway, owner: layer.name, property: 'present', layerId: layer.id, text: `${Math.round(sway.chance * 100)} %`, reach: 1 }]
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

/** The most telling draws of a sibling in a few words: how its speeds moved and which layers are missing. */
export function drawsText(sound: Sound, draws: Readonly<Record<string, number>>): { speed: string; absent: string; allAbsent: string } {
  const speeds = Object.entries(draws).filter(([address]) => address.endsWith('/speed'));
  const absent = sound.layers.filter((layer) => draws[`layer/${layer.id}/presence`] === 0).map((layer) => layer.name);
  return {
    speed: speeds[0] ? `${signed(speeds[0][1], 1)} st` : '',
    absent: absent.length === 0 ? '' : `no ${absent[0]!.toLowerCase()}${absent.length > 1 ? ` +${absent.length - 1}` : ''}`,
    allAbsent: absent.join(', '),
  };
}
