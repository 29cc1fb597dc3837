import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Sound } from '@tangled-choir/core';
import {
  effectCatalogue,
  readWav,
  readySways,
  renderContext,
  renderSound,
  siblingSound,
  timbreDistance,
  timbrePrint,
} from '@tangled-choir/core';
import { makeHaldaStation } from './halda-station';

const size = 5;
const { project, audio } = makeHaldaStation(new Uint8Array(readFileSync(join(__dirname, '../picture/halda-station.webm'))));
const library = new Map([...audio].map(([hash, bytes]) => [hash, readWav(bytes).audio]));
const context = renderContext(project, library);

/** Siblings of a sound by a ready strength, as they are heard. */
function printsOf(sound: Sound, strength: 'Slight' | 'Clear' | 'Bold') {
  const sways = readySways(sound, strength, effectCatalogue).map((sway, i) => ({ ...sway, id: `sway-${i}` }));
  const siblings = Array.from({ length: size }, () => ({ roll: 0, state: 'open' as const }));
  const family = { seed: 4_127, sways, siblings };
  return siblings.map((_, index) =>
    timbrePrint(renderSound(siblingSound({ ...sound, family }, index, effectCatalogue), context, { tail: 'ring out' })),
  );
}

describe('distances by ear in the demo', () => {
  const slab = project.sounds.find(({ name }) => name === 'Slab break')!;
  const pebblesOnly = { ...slab, layers: slab.layers.filter(({ name }) => name === 'Pebbles scatter') };
  const steps = project.sounds.find(({ name }) => name === 'Snow step')!;

  it('tell pebbles from steps: no two of one kind are as far apart as any two of both', () => {
    const [pebbles, snow] = [printsOf(pebblesOnly, 'Clear'), printsOf(steps, 'Clear')];
    const within: number[] = [];
    for (const family of [pebbles, snow])
      for (const [i, a] of family.entries()) for (const b of family.slice(i + 1)) within.push(timbreDistance(a, b));
    const between = pebbles.flatMap((a) => snow.map((b) => timbreDistance(a, b)));
    expect(Math.min(...between)).toBeGreaterThan(1.5 * Math.max(...within));
  });

  it('grow with the strength of a family', () => {
    const meanOf = (strength: 'Slight' | 'Clear' | 'Bold'): number => {
      const prints = printsOf(steps, strength);
      const distances = prints.flatMap((a, i) => prints.slice(i + 1).map((b) => timbreDistance(a, b)));
      return distances.reduce((sum, distance) => sum + distance, 0) / distances.length;
    };
    const [slight, clear, bold] = [meanOf('Slight'), meanOf('Clear'), meanOf('Bold')];
    expect(slight).toBeGreaterThan(0);
    expect(clear).toBeGreaterThan(1.2 * slight);
    expect(bold).toBeGreaterThan(1.2 * clear);
  });
});
