import type { NumberParameter, Parameter, ParameterValue } from './parameters';

/**
 * What lanes and pulls move a parameter along: a number along its own range, a choice from one option to the next, a switch between off
 * and on. Undefined for what has no order.
 */
export function axisOf(parameter: Parameter): NumberParameter | undefined {
  switch (parameter.kind) {
    case 'number':
      return parameter;
    case 'choice':
      return stages(parameter.label, parameter.options, parameter.options.indexOf(parameter.default));
    case 'switch':
      return stages(parameter.label, ['off', 'on'], parameter.default ? 1 : 0);
    case 'reference':
    case 'curve':
      return undefined;
  }
}

function stages(label: string, names: readonly string[], start: number): NumberParameter {
  return { kind: 'number', label, unit: '', min: 0, max: names.length - 1, default: start, scale: 'linear', step: 1, names };
}

/** Where a value lies on its parameter's axis. */
export function toAxis(parameter: Parameter, value: ParameterValue): number {
  if (parameter.kind === 'choice') return Math.max(0, parameter.options.indexOf(String(value)));
  return Number(value);
}

/** The value at a place on its parameter's axis; for choices and switches that of the nearest stage. */
export function fromAxis(parameter: Parameter, place: number): ParameterValue {
  switch (parameter.kind) {
    case 'choice':
      return parameter.options[Math.max(0, Math.min(parameter.options.length - 1, Math.round(place)))] ?? parameter.default;
    case 'switch':
      return place >= 0.5;
    default:
      return place;
  }
}
