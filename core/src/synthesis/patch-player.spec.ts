import fc from 'fast-check';
import { effectCatalogue } from '../catalogue';
import { resolveValues } from '../project/parameters';
import { findPatchFault } from '../project/patch/patch-faults';
import type { Patch } from '../project/patch/patch-schema';
import { amplitudeAt, firstDifference } from '../testing/signals';
import { partWith, patchWith, playerNote, playPatch } from '../testing/synthesis';
import { partKinds } from './index';
import { modulationGroups } from './modulation-groups';
import { PatchPlayer } from './patch-player';
import { patchPresets } from './presets';

const sampleRate = 48_000;
const steady = { sustain: 1, strengthLevel: 0 };

/** Bessel function of the first kind, by its integral. */
function bessel(order: number, x: number): number {
  const steps = 2_000;
  let sum = 0;
  for (let i = 0; i < steps; i++) {
    const t = (Math.PI * (i + 0.5)) / steps;
    sum += Math.cos(order * t - x * Math.sin(t));
  }
  return sum / steps;
}

describe('a patch', () => {
  it('plays notes at their pitch, within a tenth of a cent', () => {
    for (const pitch of [21, 60, 69.5, 108]) {
      const [left] = playPatch(patchWith([partWith('a', 'oscillator', steady)]), [playerNote(0, 4, pitch)], 4 * sampleRate);
      const crossings: number[] = [];
      for (let i = 1_000; i < 4 * sampleRate - 1_000; i++)
        if (left[i - 1]! < 0 && left[i]! >= 0) crossings.push(i - left[i]! / (left[i]! - left[i - 1]!));
      const measured = ((crossings.length - 1) * sampleRate) / (crossings.at(-1)! - crossings[0]!);
      expect(Math.abs(1_200 * Math.log2(measured / (440 * 2 ** ((pitch - 69) / 12))))).toBeLessThan(0.1);
    }
  });

  it('bends what follows its notes, and only that, by as many semitones as it is told', () => {
    for (const bend of [-24, 0.37, 24]) {
      const patch = patchWith(
        [partWith('a', 'oscillator', steady), partWith('b', 'oscillator', { ...steady, follows: false, frequency: 1_000 })],
        {
          parameters: { bend },
        },
      );
      const [left] = playPatch(patch, [playerNote(0, 1, 69)], sampleRate);
      for (const frequency of [440 * 2 ** (bend / 12), 1_000])
        expect(amplitudeAt(left, frequency, sampleRate, 4_800, 43_200)).toBeCloseTo(1, 2);
    }
  });

  it('begins and ends notes on their frames, with the times of its envelope', () => {
    const part = partWith('a', 'oscillator', {
      phase: 0.25,
      follows: false,
      frequency: 0.01,
      delay: 0.01,
      attack: 0.02,
      hold: 0.01,
      decay: 0.05,
      sustain: 0.5,
      release: 0.04,
      attackBend: 0,
      decayBend: 0,
      releaseBend: 0,
    });
    const [left] = playPatch(patchWith([part]), [playerNote(0.1, 0.3, 60)], sampleRate);
    const at = (seconds: number): number => left[Math.round(seconds * sampleRate)]!;
    expect(at(0.11)).toBe(0);
    expect(left[Math.round(0.11 * sampleRate) + 1]).toBeCloseTo(1 / 960, 6);
    expect(at(0.12)).toBeCloseTo(0.5, 4);
    expect(at(0.13)).toBeCloseTo(1, 4);
    expect(at(0.14)).toBeCloseTo(1, 4);
    expect(at(0.165)).toBeCloseTo(0.75, 3);
    expect(at(0.19)).toBeCloseTo(0.5, 3);
    expect(at(0.4)).toBeCloseTo(0.5, 3);
    expect(at(0.42)).toBeCloseTo(0.25, 3);
    expect(at(0.44)).toBe(0);
  });

  it('moves a phase by so many radians: sidebands as Bessel functions have them, within 0.1 dB', () => {
    for (const index of [0.5, 2, 5]) {
      const parts = [
        partWith('modulator', 'oscillator', { ...steady, level: -96, ratio: 0.11 }),
        partWith('carrier', 'oscillator', steady, [{ part: 'modulator', amount: index }]),
      ];
      const [left] = playPatch(patchWith(parts), [playerNote(0, 3, 69 + 12 * Math.log2(1_000 / 440))], 2 * sampleRate);
      for (const order of [0, 1, 2, 3]) {
        const expected = Math.abs(bessel(order, index));
        if (expected < 0.02) continue;
        const found = amplitudeAt(left, 1_000 + order * 110, sampleRate, sampleRate / 2, 2 * sampleRate);
        expect(Math.abs(20 * Math.log10(found / expected))).toBeLessThan(0.1);
      }
    }
  });

  it('is stable where parts move each other in circles, and orders those that do not', () => {
    const parts = [
      partWith('a', 'oscillator', steady, [
        { part: 'b', amount: 4 },
        { part: 'a', amount: 8 },
      ]),
      partWith('b', 'oscillator', { ...steady, ratio: 1.5, shape: 'saw' }, [{ part: 'c', amount: 3 }]),
      partWith('c', 'oscillator', { ...steady, ratio: 0.5 }, [{ part: 'a', amount: 32 }]),
      partWith('d', 'oscillator', steady, [{ part: 'c', amount: 1 }]),
    ];
    const [left] = playPatch(patchWith(parts), [playerNote(0, 1, 60)], sampleRate);
    expect(left.every((sample) => Math.abs(sample) < 4.5)).toBe(true);
    expect(modulationGroups(parts).map((group) => group.parts)).toEqual([[0, 1, 2], [3]]);
    const chain = [
      partWith('x', 'oscillator', {}, [{ part: 'y', amount: 1 }]),
      partWith('y', 'oscillator', {}, [{ part: 'z', amount: 1 }]),
      partWith('z', 'noise'),
    ];
    expect(modulationGroups(chain)).toEqual([
      { parts: [2], loops: false },
      { parts: [1], loops: false },
      { parts: [0], loops: false },
    ]);
  });

  it('gives the same frames in whatever portions they are asked for, and after a jump', () => {
    const { patch } = patchPresets.find(({ name }) => name === 'Ice drill')!;
    const notes = [playerNote(0.013, 0.4, 50), playerNote(0.2, 0.3, 57, 0.4), playerNote(0.2001, 0.05, 62)];
    const whole = playPatch(patch, notes, sampleRate);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1_500 }), (portion) => {
        expect(firstDifference(whole, playPatch(patch, notes, sampleRate, portion))).toBe('');
      }),
      { numRuns: 12 },
    );
    // What began less than half a second before is computed from its beginning.
    const later = playPatch(patch, notes, sampleRate / 4, 512, 12_000);
    expect(
      firstDifference(
        whole.map((side) => side.subarray(12_000, 24_000)),
        later,
      ),
    ).toBe('');
  });

  it('never has more voices than it may, and lets the oldest go without a click', () => {
    const part = partWith('a', 'oscillator', { ...steady, attack: 0.01, release: 0.2 });
    const notes = Array.from({ length: 12 }, (_, i) => playerNote(0.05 * i, 2, 40 + i));
    const [left] = playPatch(patchWith([part], { parameters: { voices: 2 } }), notes, sampleRate);
    expect(left.reduce((most, each) => Math.max(most, Math.abs(each)), 0)).toBeLessThan(3.05);
    const step = left.reduce((most, each, i) => (i ? Math.max(most, Math.abs(each - left[i - 1]!)) : 0), 0);
    expect(step).toBeLessThan(0.09);
  });

  it('glides from note to note in one voice', () => {
    const part = partWith('a', 'oscillator', steady);
    const patch = patchWith([part], { parameters: { mode: 'one voice, bound', glide: 0.2 } });
    const [left] = playPatch(patch, [playerNote(0, 0.5, 57), playerNote(0.4, 1, 69)], sampleRate * 1.4);
    const pitchAt = (from: number): number =>
      amplitudeAt(left, from < 0.5 ? 220 : 440, sampleRate, from * sampleRate, (from + 0.1) * sampleRate);
    expect(pitchAt(0.25)).toBeCloseTo(1, 2);
    expect(pitchAt(0.8)).toBeCloseTo(1, 2);
    // Half-way it is half an octave up.
    expect(amplitudeAt(left, 220 * Math.SQRT2, sampleRate, 0.495 * sampleRate, 0.505 * sampleRate)).toBeGreaterThan(0.6);
  });

  it('strikes anew in one voice, from where it is, and with its curves from the beginning', () => {
    const part = partWith('a', 'oscillator', { ...steady, decay: 0.1, sustain: 0 });
    const strikes = [playerNote(0, 0.3, 57), playerNote(0.25, 0.3, 69), playerNote(0.6, 0.2, 57)];
    for (const parts of [[part], [part, partWith('b', 'body')]]) {
      const [left] = playPatch(patchWith(parts, { parameters: { mode: 'one voice' } }), strikes, sampleRate);
      for (const { start } of strikes) {
        const struck = left.subarray(start, start + 1_000).reduce((most, each) => Math.max(most, Math.abs(each)), 0);
        expect(struck).toBeGreaterThan(0.8);
      }
    }
  });

  it('comes into a release that began long before as far as that has gone', () => {
    const part = partWith('a', 'oscillator', { ...steady, release: 4, releaseBend: 0 });
    const notes = [playerNote(0, 1, 57)];
    const player = new PatchPlayer(patchWith([part]), notes, sampleRate, 4 * sampleRate);
    const [left, right] = [new Float32Array(4_800), new Float32Array(4_800)];
    player.process(3 * sampleRate, 4_800, left, right);
    expect(left.reduce((most, each) => Math.max(most, Math.abs(each)), 0)).toBeCloseTo(0.5, 1);
  });

  it('runs along its curves: exactly as far as the note is long', () => {
    const part = partWith('a', 'oscillator', steady);
    const rise = {
      id: 'c',
      name: 'Rise',
      length: 1,
      unit: 'note',
      rounds: false,
      points: [
        { at: 0, value: 0, bend: 0 },
        { at: 1, value: 1, bend: 0 },
      ],
      pulls: [{ id: 'p', part: 'a', parameter: 'tuning', depth: 12 }],
    } as const;
    const patch = patchWith([part], { curves: [{ ...rise, points: [...rise.points], pulls: [...rise.pulls] }] });
    const [left] = playPatch(patch, [playerNote(0, 2, 57)], 2 * sampleRate);
    const count = (from: number, to: number): number => {
      let crossings = 0;
      for (let i = from * sampleRate + 1; i < to * sampleRate; i++) if (left[i - 1]! < 0 && left[i]! >= 0) crossings++;
      return crossings;
    };
    // The integral of 220 · 2^(t / 2) over each second.
    const periods = (from: number, to: number): number => ((220 * 2) / Math.LN2) * (2 ** (to / 2) - 2 ** (from / 2));
    expect(Math.abs(count(0, 1) - periods(0, 1))).toBeLessThan(1.5);
    expect(Math.abs(count(1, 2) - periods(1, 2))).toBeLessThan(1.5);
  });

  it('takes anything: no notes, notes of no length, thousands at once, every parameter at its ends', () => {
    expect(playPatch(patchWith([partWith('a', 'oscillator')]), [], 1_000)[0].every((sample) => sample === 0)).toBe(true);
    expect(playPatch(patchWith([]), [playerNote(0, 1, 60)], 1_000)[0].every((sample) => sample === 0)).toBe(true);
    const many = Array.from({ length: 10_000 }, (_, i) => playerNote(i / 20_000, i % 3 ? 0.01 : 0, 40 + (i % 60), (i % 10) / 10));
    expect(playPatch(patchWith([partWith('a', 'body', { modes: 4 })]), many, 24_000)[0].every(Number.isFinite)).toBe(true);
    for (const kind of partKinds)
      for (const [key, parameter] of Object.entries(kind.parameters)) {
        const ends =
          parameter.kind === 'number' ? [parameter.min, parameter.max] : parameter.kind === 'choice' ? parameter.options : [true, false];
        for (const value of ends) {
          const part = partWith('a', kind.id, { filter: 'ladder', [key]: value });
          const [left] = playPatch(
            patchWith([part]),
            [playerNote(0, 0.05, 60), playerNote(0.02, 0.05, 127), playerNote(0.03, 0.05, -24)],
            4_800,
          );
          expect({ kind: kind.id, key, value, finite: left.every((sample) => Math.abs(sample) < 100) }).toEqual({
            kind: kind.id,
            key,
            value,
            finite: true,
          });
        }
      }
  });
});

describe('unison', () => {
  const sine = [partWith('a', 'oscillator', { ...steady, pan: 0 })];
  const inUnison = (parameters: Patch['parameters']) => patchWith(sine, { parameters });
  const at = (side: Float32Array, semitones: number): number =>
    amplitudeAt(side, 440 * 2 ** (semitones / 12), sampleRate, 4_800, side.length);

  it('plays every note by several voices, evenly around it, over both sides, as loud together as one', () => {
    const patch = inUnison({ unison: 3, detune: 0.5, apart: 1 });
    const [left, right] = playPatch(patch, [playerNote(0, 4, 69)], 4 * sampleRate);
    expect(at(left, -0.5)).toBeCloseTo(1 / Math.sqrt(3), 2);
    expect(at(right, -0.5)).toBeLessThan(0.01);
    expect(at(right, 0.5)).toBeCloseTo(1 / Math.sqrt(3), 2);
    expect(at(left, 0)).toBeCloseTo(1 / Math.sqrt(3), 2);
    expect(at(right, 0)).toBeCloseTo(1 / Math.sqrt(3), 2);
    // One alone is what it always was.
    const [plain] = playPatch(patchWith(sine), [playerNote(0, 1, 69)], sampleRate);
    const [one] = playPatch(inUnison({ unison: 1, detune: 0.5 }), [playerNote(0, 1, 69)], sampleRate);
    expect(firstDifference([plain], [one])).toBe('');
  });

  it('gives the same in whatever portions, and ends all voices of a note with it', () => {
    const patch = inUnison({ unison: 8, detune: 1 });
    const notes = [playerNote(0.1, 0.3, 69), playerNote(0.2, 0.2, 76)];
    const [whole] = playPatch(patch, notes, sampleRate);
    expect(firstDifference([whole], [playPatch(patch, notes, sampleRate, 333)[0]])).toBe('');
    expect(whole.subarray(Math.round(0.41 * sampleRate)).every((sample) => sample === 0)).toBe(true);
  });

  it('takes all voices of the oldest note for a new one, and glides with all of them', () => {
    const patch = inUnison({ unison: 4, voices: 2, detune: 0 });
    const notes = [57, 60, 64, 67].map((pitch, i) => playerNote(0.25 * i, 2, pitch));
    const [left] = playPatch(patch, notes, 2 * sampleRate);
    const late = left.subarray(Math.round(1.2 * sampleRate));
    const level = (pitch: number): number => amplitudeAt(late, 440 * 2 ** ((pitch - 69) / 12), sampleRate);
    expect(Math.max(level(57), level(60))).toBeLessThan(0.02);
    expect(Math.min(level(64), level(67))).toBeGreaterThan(0.05);
    const bound = inUnison({ unison: 2, detune: 0.3, mode: 'one voice, bound', glide: 0.1 });
    const [glided] = playPatch(bound, [playerNote(0, 0.5, 69), playerNote(0.3, 3, 76)], 3 * sampleRate);
    const settled = glided.subarray(sampleRate);
    for (const off of [-0.3, 0.3]) expect(amplitudeAt(settled, 440 * 2 ** ((7 + off) / 12), sampleRate)).toBeGreaterThan(0.3);
  });
});

describe('the presets', () => {
  it('are forty at least, fit their parts, and can be told apart by name', () => {
    expect(patchPresets.length).toBeGreaterThanOrEqual(40);
    expect(new Set(patchPresets.map(({ name }) => name)).size).toBe(patchPresets.length);
    for (const { name, patch } of patchPresets) expect(findPatchFault(patch, name, effectCatalogue)).toBeUndefined();
  });

  it('sound at a sensible level without overload', () => {
    for (const { name, patch, notes, length } of patchPresets) {
      const played = notes.map((note) => playerNote(note.start, note.length, note.pitch, note.strength));
      const peak = playPatch(patch, played, Math.round(length * sampleRate)).reduce(
        (most, side) => side.reduce((high, each) => Math.max(high, Math.abs(each)), most),
        0,
      );
      expect({ name, level: peak > 0.06 && peak < 0.95 }).toEqual({ name, level: true });
    }
  });

  it('name only values that differ from the default', () => {
    for (const { name, patch } of patchPresets)
      for (const part of patch.parts) {
        const kind = partKinds.find(({ id }) => id === part.kind)!;
        for (const key of Object.keys(part.parameters))
          expect({ name, key, known: key in resolveValues(kind.parameters, {}) }).toEqual({ name, key, known: true });
      }
  });
});
