import type { NumberParameter } from './parameters';

/** In what the offsets of sways and trims are counted: the property's own unit, or intervals where steps multiply. */
export type OffsetUnit = 'st' | 'dB' | 's' | '%' | '';

export function offsetUnit(parameter: NumberParameter): OffsetUnit {
  if (parameter.scale === 'log') return parameter.unit === 'Hz' ? 'st' : '%';
  if (parameter.unit === 'Hz' || parameter.unit === ':1' || parameter.unit === '×') return '';
  return parameter.unit;
}

/** The value of a property whose base is `base` when it is moved by `offset`. */
export function offsetValue(parameter: NumberParameter, base: number, offset: number): number {
  // Whatever is stored, a property stays within its range.
  const inside = Math.min(parameter.max, Math.max(parameter.min, base));
  let value = inside + offset;
  if (parameter.scale === 'log')
    value = offsetUnit(parameter) === 'st' ? inside * Math.pow(2, offset / 12) : inside * Math.max(0.01, 1 + offset / 100);
  return Math.min(parameter.max, Math.max(parameter.min, value));
}

/** The offset that moves a property from `base` to `value`; the opposite of `offsetValue`. */
export function offsetFor(parameter: NumberParameter, base: number, value: number): number {
  if (parameter.scale !== 'log') return value - base;
  return offsetUnit(parameter) === 'st' ? 12 * Math.log2(value / base) : 100 * (value / base - 1);
}

/** How far offsets of a property can usefully go, to either side: what the dials of the interface span. */
export function offsetReach(parameter: NumberParameter): number {
  if (parameter.scale === 'log') return offsetUnit(parameter) === 'st' ? 24 : 100;
  switch (parameter.unit) {
    case 'st':
      return 12;
    case 'dB':
      return 12;
    case 's':
      return 0.25;
    default:
      return Math.min(1, parameter.max - parameter.min);
  }
}

/** How far a mover can usefully pull at a property, to either side: further than siblings should differ, up to its whole range. */
export function pullReach(parameter: NumberParameter): number {
  if (parameter.scale === 'log') return offsetUnit(parameter) === 'st' ? 60 : 400;
  const whole = parameter.max - parameter.min;
  return parameter.unit === 'dB' ? Math.min(60, whole) : whole;
}

/** How far a mover pulls at a property that it is newly given: a quarter of its reach; by one stage where half-way nothing would happen yet. */
export function firstPull(parameter: NumberParameter): number {
  return parameter.names ? 1 : offsetReach(parameter) / 4;
}
