import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { renderContext, renderSound, usedSources } from '@tangled-choir/core';
import { makeHaldaStation } from './halda-station';
import { moments } from './picture/scene';

const sampleRate = 48_000;

/** The level of E1, the note of the boom, around a moment. */
function levelOfBoom(samples: Float32Array, time: number): number {
  const hertz = 440 * 2 ** ((28 - 69) / 12);
  const count = Math.round((16 / hertz) * sampleRate);
  let [re, im] = [0, 0];
  for (let i = 0; i < count; i++) {
    const at = Math.round(time * sampleRate) + i;
    const window = 1 - Math.cos((2 * Math.PI * i) / count);
    re += samples[at]! * window * Math.cos((2 * Math.PI * hertz * at) / sampleRate);
    im += samples[at]! * window * Math.sin((2 * Math.PI * hertz * at) / sampleRate);
  }
  return 20 * Math.log10((2 * Math.hypot(re, im)) / count);
}

describe('the film out of made sounds', () => {
  const { project } = makeHaldaStation(new Uint8Array(readFileSync(join(__dirname, '../picture/halda-station.webm'))));
  const sound = project.sounds.find(({ name }) => name === 'Made stages')!;
  // Nothing is there but what is made.
  const audio = renderSound(sound, renderContext({ ...project, sources: [] }, { get: () => undefined }), { tail: 'ring out' });
  const [left, right] = [audio.channels[0]!, audio.channels[1]!];

  it('needs no recording', () => {
    expect([...usedSources(sound)]).toEqual([]);
    expect(sound.layers.every(({ patch, clips }) => patch && clips.every(({ notes }) => notes))).toBe(true);
  });

  it('has its weight where the slab lets go, and nothing so low before', () => {
    // Behind its fall, which lasts 0.35 s.
    const hit = levelOfBoom(left, moments.slabLetsGo + 0.35);
    expect(hit).toBeGreaterThan(-27);
    expect(hit).toBeGreaterThan(levelOfBoom(left, moments.slabLetsGo - 0.5) + 15);
  });

  it('holds without overload, on both sides', () => {
    for (const side of [left, right]) {
      const peak = side.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
      expect(peak).toBeGreaterThan(0.1);
      expect(peak).toBeLessThan(1);
    }
    expect(audio.channels[0]!.length / sampleRate).toBeGreaterThan(moments.waterRises + 3);
  });
});
