import type { NumberParameter } from '@tangled-choir/core';
import { effectsById, gainParameter, panParameter } from '@tangled-choir/core';
import { formatBytes, formatDuration, formatLevel, formatPlace, formatQuantity, formatTime, signed } from './quantity';

function numeric(effect: string, name: string): NumberParameter {
  const parameter = effectsById.get(effect)?.parameters[name];
  if (parameter?.kind !== 'number') throw new Error(`${name} is not a number`);
  return parameter;
}

const frequency = numeric('eq', 'band3Frequency');
const attack = numeric('compressor', 'attack');
const strength = numeric('eq', 'strength');
const ratio = numeric('compressor', 'ratio');

describe('shown values', () => {
  it('carry their unit and as many digits as can be heard', () => {
    expect(formatQuantity(2_350, frequency)).toBe('2.35 kHz');
    expect(formatQuantity(62.5, frequency)).toBe('62.5 Hz');
    expect(formatQuantity(-6.04, gainParameter)).toBe('−6.0 dB');
    expect(formatQuantity(0.0052, attack)).toBe('5.20 ms');
    expect(formatQuantity(0.12, attack)).toBe('120 ms');
    expect(formatQuantity(0.8, strength)).toBe('80 %');
    expect(formatQuantity(3, ratio)).toBe('3.0:1');
    expect(formatQuantity(-0.3, panParameter)).toBe('30 left');
    expect(formatQuantity(0, panParameter)).toBe('centre');
  });

  it('never show a minus before nothing', () => {
    expect(signed(-0.004, 1)).toBe('0.0');
    expect(signed(0.25, 1)).toBe('+0.3');
  });

  it('tell silence from a level', () => {
    expect(formatLevel(-Infinity, 'LUFS')).toBe('−∞ LUFS');
    expect(formatLevel(undefined, '')).toBe('−∞');
    expect(formatLevel(-12.34, 'dBTP')).toBe('−12.3 dBTP');
  });

  it('write time with minutes', () => {
    expect(formatTime(62.48)).toBe('01:02.480');
    expect(formatTime(0)).toBe('00:00.000');
  });
});
