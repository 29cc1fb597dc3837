import { effectCatalogue } from '../catalogue';
import { findPatchFault } from '../project/patch/patch-faults';
import { firstDifference } from '../testing/signals';
import { partsById } from '.';
import { resolveValues } from '../project/parameters';
import { playPatch } from '../render/play-patch';
import { patchPresets } from './presets';
import { rollPatch, shapePatch } from './shape-patch';

describe('the three controls over a patch', () => {
  it('change nothing in the middle, and leave every patch one that fits at their ends', () => {
    for (const preset of patchPresets) {
      const still = shapePatch(preset, { height: 0, length: 1, light: 0 });
      expect(still.patch).toEqual(preset.patch);
      expect(still.notes).toEqual(preset.notes);
      for (const height of [-36, 36])
        for (const length of [0.25, 8])
          for (const light of [-1, 1]) {
            const { patch, notes } = shapePatch(preset, { height, length, light });
            expect(findPatchFault(patch, preset.name, effectCatalogue)).toBeUndefined();
            expect(notes.every(({ pitch }) => pitch >= -24 && pitch <= 144)).toBe(true);
          }
    }
  });

  it('make notes and their times longer together', () => {
    const beacon = patchPresets.find(({ name }) => name === 'Beacon')!;
    const longer = shapePatch(beacon, { height: 12, length: 2, light: 0 });
    expect(longer.notes.map(({ start }) => start)).toEqual([0, 2, 4]);
    expect(longer.notes[0]!.pitch).toBe(beacon.notes[0]!.pitch + 12);
    expect(longer.patch.parts[0]!.parameters['decay']).toBeCloseTo(2 * Number(beacon.patch.parts[0]!.parameters['decay']), 9);
  });
});

describe('the dice', () => {
  it('move numbers with restraint, the same way for the same roll, and never into silence', () => {
    for (const preset of patchPresets) {
      const rolled = rollPatch(preset.patch, 7, 1);
      expect(rollPatch(preset.patch, 7, 1)).toEqual(rolled);
      expect(rollPatch(preset.patch, 8, 1)).not.toEqual(rolled);
      expect(findPatchFault(rolled, preset.name, effectCatalogue)).toBeUndefined();
      for (const [p, part] of rolled.parts.entries()) {
        const { parameters } = partsById.get(part.kind)!;
        const before = resolveValues(parameters, preset.patch.parts[p]!.parameters);
        const after = resolveValues(parameters, part.parameters);
        expect(after['level']).toBe(before['level']);
        expect(Math.abs(Number(after['tuning']) - Number(before['tuning']))).toBeLessThanOrEqual(0.3);
      }
    }
  });

  it('give another sound, and leave the original alone at no strength', () => {
    const { patch, notes, length } = patchPresets.find(({ name }) => name === 'Ice bells')!;
    const original = playPatch({ patch, notes, length }).channels;
    expect(firstDifference(original, playPatch({ patch: rollPatch(patch, 1, 0), notes, length }).channels)).toBe('');
    expect(firstDifference(original, playPatch({ patch: rollPatch(patch, 1, 1), notes, length }).channels)).not.toBe('');
  });
});
