import type { NumberParameter } from '@tangled-choir/core';
import {
  branchParameters,
  effects,
  gainParameter,
  pitchParameter,
  stretchParameter,
  offsetReach,
  offsetUnit,
  panParameter,
  seconds,
  speedParameter,
  valueAtPlace,
} from '@tangled-choir/core';
import type { ShownScale } from './quantity';
import { formatQuantity } from './quantity';
import { readQuantity } from './read-quantity';

const context = { framesPerSecond: 25, bpm: 120 };
const time = seconds({ label: 'Attack', min: 0.0001, max: 3, default: 0.5 });
const numbersOf = effects.flatMap((effect) =>
  Object.entries(effect.parameters).flatMap(([key, parameter]): [string, NumberParameter][] =>
    parameter.kind === 'number' ? [[`${effect.id} ${key}`, parameter]] : [],
  ),
);
const fields: readonly (readonly [string, NumberParameter])[] = [
  ...numbersOf,
  ['gain', gainParameter],
  ['pan', panParameter],
  ['speed', speedParameter],
  ['delay of a branch', branchParameters.delay],
];

/** The scale in which the offsets of a property are shown, and the range in which they are stored. */
function offsetField(axis: NumberParameter): { parameter: NumberParameter; scale: ShownScale } {
  const unit = offsetUnit(axis);
  const factor = unit === 's' ? 1_000 : unit === '%' && axis.scale !== 'log' ? 100 : 1;
  const reach = offsetReach(axis);
  const stored = unit === '%' && axis.scale === 'log' ? '' : unit;
  return {
    parameter: { kind: 'number', label: 'Trim', unit: stored, min: -reach, max: reach, default: 0, scale: 'linear' },
    scale: { unit: unit === 's' ? 'ms' : unit, factor, digits: 3, signed: true },
  };
}

describe('a number that is typed as a field shows it', () => {
  /** What fields make of their own texts, with the unit and without it, where that is something else than their value. */
  const misread = (name: string, parameter: NumberParameter, value: number, within: number, scale?: ShownScale): string[] => {
    const shown = formatQuantity(value, parameter, scale);
    const bare = parameter.names ? undefined : /^[+−-]?[\d.]+/.exec(shown)?.[0];
    return [shown, ...(bare === undefined ? [] : [bare])].flatMap((typed) => {
      const read = readQuantity(typed, parameter, { value, scale }, context);
      return read && Math.abs(read.value - value) <= within ? [] : [`${name}: ${typed} at ${value} became ${read?.value}`];
    });
  };

  it('means what is shown, in every field of every effect and every channel', () => {
    const wrong = fields.flatMap(([name, parameter]) =>
      [0, 0.1, 0.25, 0.5, 0.75, 0.9, 1].flatMap((place) => {
        const step = parameter.names ? 1 : parameter.step;
        const at = valueAtPlace(parameter, place);
        const value = step === undefined ? at : Math.round(at / step) * step;
        return misread(name, parameter, value, 0.02 * Math.abs(value) + (parameter.unit === 's' ? 1e-5 : 0.06));
      }),
    );
    expect(wrong).toEqual([]);
    expect(fields.length).toBeGreaterThan(200);
  });

  it('means what is shown in trims and depths, which have units of their own', () => {
    const wrong = numbersOf
      .filter(([, parameter]) => !parameter.names)
      .flatMap(([name, axis]) => {
        const { parameter, scale } = offsetField(axis);
        return [-1, -0.3, 0.25, 1].flatMap((part) => misread(name, parameter, part * parameter.max, 1e-3 * parameter.max, scale));
      });
    expect(wrong).toEqual([]);
  });
});

describe('typed values', () => {
  const frequency = numbersOf.find(([name]) => name === 'eq band3Frequency')![1];
  const share = numbersOf.find(([name]) => name === 'eq strength')![1];
  const ratio = numbersOf.find(([name]) => name === 'compressor ratio')![1];

  it.each([
    ['400', time, 0.5, 0.4],
    ['400', time, 1.5, 3],
    ['1.2', time, 1.5, 1.2],
    ['1.2 s', time, 0.5, 1.2],
    ['20m', time, 1.5, 0.02],
    ['500 µs', time, 1, 0.0005],
    ['3f', time, 1, 0.12],
    ['3 frames', time, 1, 0.12],
    ['1/8', time, 1, 0.25],
    ['1/8t', time, 1, 1 / 6],
    ['1/8.', time, 1, 0.375],
    ['0:02.5', time, 1, 2.5],
    ['1.2', frequency, 2_500, 1_200],
    ['440 Hz', frequency, 2_500, 440],
    ['440', frequency, 300, 440],
    ['1,5 kHz', frequency, 300, 1_500],
    ['1.5k', frequency, 300, 1_500],
    ['A4', frequency, 300, 440],
    ['c#3', frequency, 300, 138.591],
    ['eb2 +20ct', frequency, 300, 78.686],
    ['-6', gainParameter, 0, -6],
    ['−6 dB', gainParameter, 0, -6],
    ['80', share, 0.5, 0.8],
    ['4:1', ratio, 2, 4],
    ['-3.5 st', speedParameter, 0, -3.5],
    ['50 ct', speedParameter, 0, 0.5],
    ['1 oct', speedParameter, 0, 12],
    ['30 left', panParameter, 0, -0.3],
    ['30 r', panParameter, -0.2, 0.3],
    ['20', panParameter, -0.3, -0.2],
    ['+20', panParameter, -0.3, 0.2],
    ['-50', panParameter, 0, -0.5],
    ['centre', panParameter, 0.5, 0],
  ] as const)('“%s” is understood', (text, parameter, value, expected) => {
    expect(readQuantity(text, parameter, { value }, context)!.value).toBeCloseTo(expected, 3);
  });

  it.each([
    ['110 > 164.81', 7],
    ['A3 > C4', 3],
    ['440hz > 0.22k', -12],
    ['1.5x', 7.02],
    ['200 %', 12],
    ['3/2', 7.02],
    ['4:5', -3.86],
    ['-50 ct', -0.5],
    ['7', 7],
  ])('“%s” is an interval of %f st', (text, semitones) => {
    expect(readQuantity(text, pitchParameter, { value: 0 }, context)!.value).toBeCloseTo(semitones, 2);
  });

  it.each([
    ['2', 2],
    ['150 %', 1.5],
    ['3x', 3],
  ])('“%s” is a factor of %f', (text, factor) => {
    expect(readQuantity(text, stretchParameter, { value: 1 }, context)).toEqual({ value: factor });
  });

  it('are lengths in beats, too', () => {
    expect(readQuantity('3 beats', time, { value: 1 }, context)!.value).toBeCloseTo(1.5);
  });

  it.each(['', 'loud', '--3', 'k', '6 apples', '3 frames', 'A4'])('“%s” is no gain', (text) => {
    expect(readQuantity(text, gainParameter, { value: 0 }, context)).toBeUndefined();
  });

  it('are brought to a limit that is told', () => {
    expect(readQuantity('4 s', time, { value: 1 }, context)).toEqual({ value: 3, limit: 'most' });
    expect(readQuantity('0', time, { value: 1 }, context)).toEqual({ value: 0.0001, limit: 'least' });
    expect(readQuantity('3 s', time, { value: 1 }, context)).toEqual({ value: 3 });
  });
});
