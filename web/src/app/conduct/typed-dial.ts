import type { NumberParameter } from '@tangled-choir/core';

/** The shown range of what is typed more often than dragged. */
export const typedDial = (label: string, unit: NumberParameter['unit'], min: number, max: number, preset: number): NumberParameter => ({
  kind: 'number',
  label,
  unit,
  min,
  max,
  default: preset,
  scale: 'linear',
});
