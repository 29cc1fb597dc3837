import { ArrangeBench } from '../../testing/arrange-bench';
import { patchPresets } from '../../synthesis/presets';
import { sourceFor } from '../../testing/project';
import { mono, noise } from '../../testing/signals';
import { clipDuration, clipEnd } from '../time/clip-times';
import { swellRecipe } from './build-edits';

const rate = 48_000;
const bench = (): ArrangeBench => new ArrangeBench(mono(noise(2 * rate)));

describe('an octave stack', () => {
  it('lays copies beside the layer, at their own length, and gives the lowest weight', () => {
    const at = bench();
    const stack = [
      { octaves: -2, gain: -6 },
      { octaves: -1, gain: -3 },
      { octaves: 1, gain: -12 },
    ] as const;
    at.do('octaveStack', { layer: at.layer().id, clips: [at.clip.id], stack });
    const layers = at.project.sounds[0]!.layers.slice(0, 4);
    expect(layers.map(({ clips }) => clips[0]!.pitch)).toEqual([0, -24, -12, 12]);
    expect(layers.map(({ gain, role }) => [gain, role]).slice(1)).toEqual([
      [-6, 'Weight'],
      [-3, 'Weight'],
      [-12, 'Air'],
    ]);
    expect(layers.map(({ clips }) => clipDuration(clips[0]!))).toEqual([2, 2, 2, 2]);
    expect(layers.map(({ chain }) => chain.map(({ effect }) => effect))).toEqual([[], ['eq'], [], []]);
    expect(() => at.do('octaveStack', { layer: at.layer().id, clips: [], stack })).toThrow('no clip');
  });

  it('is none of a made layer: its notes would lie on layers without a patch', () => {
    const at = bench();
    at.do('addMadeLayer', { start: 0, length: 1, name: 'Tone', role: 'Body', patch: patchPresets[0]!.patch, notes: [] });
    const made = at.project.sounds[0]!.layers.find(({ patch }) => patch)!;
    const stack = [{ octaves: 1, gain: 0 }] as const;
    expect(() => at.do('octaveStack', { layer: made.id, clips: [made.clips[0]!.id], stack })).toThrow('“Tone” is made of notes');
  });
});

describe('an echo that falls', () => {
  it('goes down in level and pitch step by step, and longer with its pins, also where it is vast', () => {
    const at = bench();
    at.do('stretchClips', { clips: [at.clip.id], settings: { stretch: 6 } });
    at.do('setPins', { clip: at.clip.id, pins: [{ at: 1, time: 5 }] });
    const before = clipDuration(at.clip);
    at.do('echoDown', { clips: [at.clip.id], echo: { times: 2, interval: 1, levelStep: -4, pitchStep: -3, lengthStep: 1.5 } });
    const clips = at.clips();
    expect(clips.map(({ gain, pitch, start }) => [gain, pitch, start])).toEqual([
      [0, 0, 0],
      [-4, -3, 1],
      [-8, -6, 2],
    ]);
    clips.forEach((clip, n) => expect(clipDuration(clip)).toBeCloseTo(before * 1.5 ** n, 6));
  });
});

describe('a swell into an attack', () => {
  it('is made of the clip backwards, and ends where it is asked to, cut off where the axis begins', () => {
    const at = bench();
    const layer = at.layer();
    const { recipe, attack } = swellRecipe(at.project.sounds[0]!, at.clip, layer, 0.5, 2);
    expect(recipe.layers).toHaveLength(1);
    expect(recipe.layers[0]!.clips[0]).toMatchObject({ reversed: true, start: 0 });
    // Backwards, what strikes after half a second of two does so after one and a half.
    expect(attack).toBeCloseTo(1.5);
    const source = sourceFor('Lead-in', mono(noise(4 * rate)));
    at.do('addSwell', { layer: layer.id, source: { ...source, audio: 'a'.repeat(64) }, attack, end: 3, rise: 12 });
    const [swell] = at.project.sounds[0]!.layers.find(({ name }) => name === 'Lead-in')!.clips;
    expect(clipEnd(swell!)).toBeCloseTo(3);
    expect(swell).toMatchObject({ offset: 1.5, length: 2.5, reversed: true });
    expect(swell!.curves!.pitch!.map(({ value }) => value)).toEqual([0, -12]);
    at.do('addSwell', { layer: layer.id, source: { ...source, name: 'Early', audio: 'b'.repeat(64) }, attack, end: 1, rise: 0 });
    const [early] = at.project.sounds[0]!.layers.find(({ name }) => name === 'Early')!.clips;
    expect([early!.start, clipEnd(early!)]).toEqual([0, expect.closeTo(1)]);
  });
});
