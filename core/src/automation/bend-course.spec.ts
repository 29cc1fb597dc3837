import { createSound } from '../project/create';
import { playPatch, patchSound } from '../render/play-patch';
import { patchPresets } from '../synthesis/presets';
import type { Patch } from '../project/patch/patch-schema';
import { amplitudeAt } from '../testing/signals';
import { patchParameters } from '../project/patch/patch-parameters';
import { laneValue } from './lane-value';
import { bendAddress, bendCourse, withBends } from './bend-course';

const tone: Patch = {
  parameters: {},
  parts: [
    { id: 'tone', kind: 'oscillator', name: 'Tone', enabled: true, parameters: { sustain: 1, attack: 0.001, release: 0.01 }, from: [] },
  ],
  curves: [],
};
const notes = [{ start: 0, length: 1, pitch: 69, strength: 1 }];

describe('bends of a made layer', () => {
  it('are heard from their moments on: a fifth up, then an octave down', () => {
    const bends = [
      { time: 0.3, semitones: 7 },
      { time: 0.6, semitones: -12 },
    ];
    const [left] = playPatch({ patch: tone, notes, length: 1, bends }).channels;
    const loudest = (from: number): number => {
      const found = [220, 440, 440 * 2 ** (7 / 12)].map((hertz) => amplitudeAt(left!, hertz, 48_000, from * 48_000, (from + 0.2) * 48_000));
      return found.indexOf(Math.max(...found));
    };
    expect([0.05, 0.35, 0.7].map(loudest)).toEqual([1, 2, 0]);
  });

  it('are read off a lane, or a dial, or are none', () => {
    const sound = patchSound(
      {
        patch: tone,
        notes,
        length: 1,
        bends: [
          { time: 0, semitones: 0 },
          { time: 0.04, semitones: 4 },
        ],
      },
      'Bent',
    );
    const course = bendCourse(sound, sound.layers[0]!, { from: 0, to: 0.05 });
    expect(course.map(({ semitones }) => Math.round(semitones))).toEqual([0, 1, 2, 3, 4, 4]);
    const off = { ...sound, automation: sound.automation.map((lane) => ({ ...lane, enabled: false })) };
    expect(bendCourse(off, off.layers[0]!, { from: 0, to: 1 })).toEqual([]);
    const dialled = { ...off.layers[0]!, patch: { ...tone, parameters: { bend: -3 } } };
    expect(bendCourse(off, dialled, { from: 2, to: 3 })).toEqual([{ time: 2, semitones: -3 }]);
    expect(bendCourse(createSound('s', 'S'), { ...dialled, patch: patchPresets[0]!.patch }, { from: 0, to: 1 })).toEqual([]);
    expect(sound.automation[0]!.address).toBe(bendAddress(sound.layers[0]!.id));
  });

  it('leave a lane as it is outside of their clip', () => {
    const lane = {
      points: [
        { time: 0, value: 1, bend: 0 },
        { time: 10, value: 2, bend: 0 },
      ],
      stepped: true,
      trim: 0,
    };
    const points = withBends(lane, [{ time: 1, semitones: 5 }], 4, 2);
    const heard = [1, 3.9, 4.5, 5.5, 7, 11].map((time) => laneValue({ ...lane, points }, patchParameters.bend, time));
    expect(heard).toEqual([1, 1, 0, 5, 1, 2]);
  });
});
