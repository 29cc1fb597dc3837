import fc from 'fast-check';
import type { Audio } from '../audio/audio';
import { projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { treatClip } from '../treatments/treat-clip';
import { playedStretch, listeningNeeds, sourceNeeds } from './source-needs';
import type { Clip } from './schema';

const sampleRate = 8_000;
const seconds = 4;
const whole = noise(seconds * sampleRate, 5);

/** The recording with noise of another kind wherever nobody needs it. */
function elsewhereWrong(from: number, to: number): Audio {
  const samples = noise(seconds * sampleRate, 6);
  const first = Math.floor(from * sampleRate);
  samples.set(whole.subarray(first, Math.ceil(to * sampleRate)), first);
  return { sampleRate, channels: [samples] };
}

const bytesOf = ({ buffer, byteOffset, byteLength }: Float32Array): Buffer => Buffer.from(buffer, byteOffset, byteLength);

const clipOf = (change: Partial<Clip>): Clip => {
  const { project } = projectWith({ wind: mono(whole, sampleRate) });
  return { ...project.sounds[0]!.layers[0]!.clips[0]!, ...change };
};

describe('what a sound needs of its recordings', () => {
  it('is all that any treatment of a clip reads', () => {
    const base = clipOf({});
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        share,
        share,
        fc.integer({ min: -24, max: 24 }),
        fc.boolean(),
        fc.boolean(),
        share,
        share,
        (a, b, speed, reversed, loops, c, d) => {
          const offset = 3 * a;
          const length = 0.05 + (seconds - offset - 0.05) * b;
          const from = 3 * c;
          const to = from + 0.1 + (seconds - from - 0.1) * d;
          const loop = loops ? { from, to, crossfade: Math.min(0.3, (to - from) / 2) } : undefined;
          const clip: Clip = { ...base, offset, length: loops ? 6 : length, speed, reversed, ...(loop && { loop }) };
          const needed = playedStretch(clip);
          const expected = treatClip({ sampleRate, channels: [whole] }, clip).channels[0]!;
          const found = treatClip(elsewhereWrong(needed.from, needed.to), clip).channels[0]!;
          expect(bytesOf(found).equals(bytesOf(expected))).toBe(true);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('is all that a stretch reads, pinned, looped and turned round', () => {
    const base = clipOf({ stretch: 1.6, pitch: 3, grain: 0.1 });
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(share, share, fc.integer({ min: -12, max: 12 }), fc.boolean(), fc.boolean(), (a, b, speed, reversed, loops) => {
        const offset = (seconds / 2) * a;
        const length = 0.1 + (seconds - offset - 0.1) * b * 0.3;
        const loop = loops ? { from: offset, to: offset + length, crossfade: 0 } : undefined;
        const pins = [{ at: offset + length / 2, time: length / 3 }];
        const clip: Clip = { ...base, offset, length: loops ? 2 * length : length, speed, reversed, pins, ...(loop && { loop }) };
        const { project } = projectWith({ wind: mono(whole, sampleRate) });
        const layer = { ...project.sounds[0]!.layers[0]!, clips: [clip] };
        const [needed] = sourceNeeds({ ...project.sounds[0]!, layers: [layer] }).get(clip.source!)!;
        const { from, to } = needed as { from: number; to: number };
        const expected = treatClip({ sampleRate, channels: [whole] }, clip).channels[0]!;
        const found = treatClip(elsewhereWrong(from, to), clip).channels[0]!;
        expect(bytesOf(found).equals(bytesOf(expected))).toBe(true);
      }),
      { numRuns: 12 },
    );
  });

  it('is the stretches of all clips, and all of what an effect or the guide of a sound uses', () => {
    const { project } = projectWith({ wind: mono(whole), ice: mono(whole) });
    const [sound] = project.sounds;
    const [wind, ice] = project.sources;
    const clip = { ...sound!.layers[0]!.clips[0]!, offset: 1, length: 0.5 };
    const layer = { ...sound!.layers[0]!, clips: [clip, { ...clip, id: 'clip-x', offset: 2 }] };
    const needs = sourceNeeds({ ...sound!, layers: [layer, sound!.layers[1]!] });
    expect(needs.get(wind!.id)).toEqual([
      { from: 0.9, to: 1.6 },
      { from: 1.9, to: 2.6 },
    ]);
    expect(needs.get(ice!.id)).toHaveLength(1);
    // The guide is heard, and no render needs it.
    const guided = { ...sound!, layers: [], guide: { source: wind!.id, start: 0, gain: 0, on: true, repeats: false } };
    expect(listeningNeeds(guided).get(wind!.id)).toBe('all');
    expect(sourceNeeds(guided).size).toBe(0);
  });
});
