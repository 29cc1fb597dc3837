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

describe('sizes in bytes', () => {
  it.each([
    [0, '0 B'],
    [999, '999 B'],
    [34_512_000, '34.5 MB'],
    [128_000_000, '128 MB'],
    [2.5e12, '2.5 TB'],
  ])('%d is %s', (bytes, text) => expect(formatBytes(bytes)).toBe(text));
});

describe('times in recordings', () => {
  it('are seconds while they are short, and have minutes and hours when they are long', () => {
    expect([0, 1.5, 59.99, 60, 185.2, 3_605.2].map(formatPlace)).toEqual(['0.00', '1.50', '59.99', '1:00.00', '3:05.20', '1:00:05.20']);
    expect([0.6, 59.994, 59.996, 600, 3_599.7, 36_000].map((seconds) => formatDuration(seconds))).toEqual([
      '0.60 s',
      '59.99 s',
      '1:00',
      '10:00',
      '1:00:00',
      '10:00:00',
    ]);
    expect(formatDuration(240, 3, 3)).toBe('4:00.000');
  });
});
