import { inject, Injectable } from '@angular/core';
import type { Parameter, ParameterSet, ParameterValue, ParameterValues } from '@tangled-choir/core';
import { axisOf, fitValue, fromAxis, inRange, isNeeded, needOf, resolveValues, toAxis } from '@tangled-choir/core';
import { Turning } from '../../state/turning';
import type { ParameterRow } from '../../ui/parameter-fields';
import { ReferenceOffers } from './reference-offers';

/** What has parameters: of a step, a part, a patch. */
export interface Parametered {
  /** What the addresses of its properties begin with, without the last stroke. */
  readonly address: string;
  readonly parameters: ParameterSet;
  readonly stored: ParameterValues;
}

/** Fields for properties of the sound, as they are at the playhead and with who moves them. */
@Injectable()
export class PropertyRows {
  private readonly turning = inject(Turning);
  private readonly offers = inject(ReferenceOffers);

  /** All values, defaults included; those that are automated as they are at the playhead. */
  read({ address, parameters, stored }: Parametered): Record<string, ParameterValue> {
    const values = resolveValues(parameters, stored);
    for (const [key, parameter] of Object.entries(parameters)) {
      const axis = this.isAutomated(address, key) ? axisOf(parameter) : undefined;
      if (axis) values[key] = fromAxis(parameter, this.turning.valueNow(`${address}/${key}`, toAxis(parameter, values[key]!), axis));
    }
    return values;
  }

  /**
   * Rows for some parameters, in their order; all of them without `only`. What does nothing is left out.
   * @param labels shorter labels than the parameters' own, by key
   */
  rowsOf(of: Parametered, only?: readonly string[], labels: Readonly<Record<string, string>> = {}): ParameterRow[] {
    const { address, parameters, stored } = of;
    const values = this.read(of);
    return (only ?? Object.keys(parameters)).flatMap((key): ParameterRow[] => {
      const whole = parameters[key];
      const parameter = whole && inRange(whole, values);
      if (!parameter || !this.isOffered(of, parameter, values)) return [];
      const own = `${address}/${key}`;
      const value = parameter === whole ? (values[key] ?? parameter.default) : fitValue(parameter, values[key]);
      const axis = axisOf(parameter);
      const place = toAxis(parameter, stored[key] ?? parameter.default);
      const names = axis ? this.turning.pulledBy(own) : [];
      const reach = axis && this.turning.reachOf(own, place, axis);
      const decidedBy = countedText(parameter, parameters, values);
      return [
        {
          key,
          label: labels[key] ?? parameter.label,
          address: own,
          parameter,
          value,
          automated: this.isAutomated(address, key),
          ...(axis && names.length > 0 && { pulled: { by: names.join(', '), now: this.turning.heardNow(own, place, axis) } }),
          ...(reach && { reach }),
          ...(decidedBy !== undefined && { decidedBy }),
          ...(parameter.kind === 'reference' && { offers: this.offers.of(parameter, String(value)) }),
        },
      ];
    });
  }

  private isAutomated(address: string, key: string): boolean {
    return this.turning.laneOf(`${address}/${key}`) !== undefined;
  }

  /** What does nothing is left out, unless what it needs moves along a lane. */
  private isOffered({ address, parameters }: Parametered, parameter: Parameter, values: ParameterValues): boolean {
    const need = needOf(parameter);
    return isNeeded(parameter, parameters, values) || (need !== undefined && this.isAutomated(address, need.of));
  }
}

/** Why a time cannot be turned: it is counted in notes of the tempo. */
function countedText(parameter: Parameter, parameters: ParameterSet, values: ParameterValues): string | undefined {
  const key = parameter.kind === 'number' ? parameter.counted : undefined;
  const note = key === undefined ? undefined : parameters[key];
  if (key === undefined || !note || (values[key] ?? note.default) === note.default) return undefined;
  return `“${note.label}” counts it in notes: ${String(values[key])}`;
}
