import type { Project, Sound } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { amplitudeAt, mono, residual, sine } from '../testing/signals';
import { printRecipe } from '../print/print-sound';
import { followerValue } from './follower-tracks';
import { SoundPlayer } from './live/player';
import { renderSound } from './render-sound';

const rate = 48_000;
const cut = { tail: 'cut at the last clip' } as const;
const firstSound = (project: Project): Sound => project.sounds[0]!;
const bed = sine(1_000, 1.5, rate, -30);
/** A tone that is silent, then at -40 dB, then at -20 dB, half a second each. */
const steps = sine(300, 1.5, rate, 0).map((sample, i) => sample * (i < 24_000 ? 0 : i < 48_000 ? 0.01 : 0.1));

/** The bed's gain is pulled up by 12 dB by a follower of the steps, which are muted. */
function following() {
  const { project, context } = projectWith({ bed: mono(bed), steps: mono(steps) });
  const sound = firstSound(project).id;
  const [bedLayer, stepLayer] = firstSound(project).layers.map(({ id }) => id) as [string, string];
  let started = edited(project, 'muteLayer', { sound, layer: stepLayer, muted: true });
  started = edited(started, 'addMover', { sound, kind: 'follower', name: 'Steps' });
  const mover = firstSound(started).movers[0]!.id;
  const settings = { listens: `layer/${stepLayer}`, attack: 0.002, release: 0.05, low: -60, high: -20 };
  started = edited(started, 'setMover', { sound, mover, settings });
  started = edited(started, 'setPull', { sound, mover, address: `layer/${bedLayer}/gain`, depth: 12 });
  const render = (from: Project): Float32Array => renderSound(firstSound(from), context, cut).channels[0]!;
  return { project: started, context, sound, bedLayer, stepLayer, mover, render };
}

const level = (samples: Float32Array, from: number, to: number): number => 20 * Math.log10(amplitudeAt(samples, 1_000, rate, from, to));

describe('followers', () => {
  it('go from 0 to 1 between two levels', () => {
    expect([-90, -60, -40, -20, 0].map((db) => followerValue({ low: -60, high: -20 }, db))).toEqual([0, 0, 0.5, 1, 1]);
    expect([-31, -30].map((db) => followerValue({ low: -30, high: -30 }, db))).toEqual([0, 1]);
  });

  it('pull by the level of another layer, which need not be heard', () => {
    const { project, render } = following();
    const output = render(project);
    expect(level(output, 4_800, 22_000)).toBeCloseTo(-30, 2);
    // Halfway at -40 dB; a follower with a release reads a sine within half a decibel of its peak.
    expect(Math.abs(level(output, 33_600, 47_000) + 24)).toBeLessThan(0.3);
    expect(Math.abs(level(output, 57_600, 71_000) + 18)).toBeLessThan(0.3);
  });

  it('move parameters within chains as well, in time whatever lags', () => {
    const { project, render, sound, bedLayer, mover } = following();
    let moved = edited(project, 'setPull', { sound, mover, address: `layer/${bedLayer}/gain`, depth: undefined });
    moved = edited(moved, 'addEffect', { sound, owner: { layer: bedLayer }, effect: 'trim' });
    const trim = firstSound(moved).layers[0]!.chain[0]!.id;
    moved = edited(moved, 'setPull', { sound, mover, address: `layer/${bedLayer}/chain/${trim}/gain`, depth: 12 });
    const straight = render(moved);
    expect(Math.abs(level(straight, 57_600, 71_000) + 18)).toBeLessThan(0.3);
    let late = edited(moved, 'addEffect', { sound, owner: { layer: bedLayer }, effect: 'compressor' });
    const step = firstSound(late).layers[0]!.chain[1]!.id;
    const prefix = `layer/${bedLayer}/chain/${step}`;
    late = edited(late, 'setValues', { sound, values: { [`${prefix}/ratio`]: 1, [`${prefix}/lookahead`]: 0.01 }, label: 'Turn' });
    // Parameters are looked up every 512 frames of the chain's own time, so the steps fall differently; the way between them is the same.
    expect(residual(straight, render(late), 0, 71_000)).toBeLessThan(-30);
    expect(Math.abs(level(render(late), 57_600, 71_000) - level(straight, 57_600, 71_000))).toBeLessThan(0.05);
  });

  it('tell where they are while the sound plays', () => {
    const { project, context, mover } = following();
    const player = new SoundPlayer(firstSound(project), context, 0);
    const [left, right] = [new Float32Array(480), new Float32Array(480)];
    const values: number[] = [];
    for (let at = 0; at < 1.5 * rate; at += 480) {
      player.render([left, right], 480);
      const into = new Map<string, number>();
      player.followerValues(into);
      values.push(into.get(mover)!);
    }
    // Silent, at -40 dB and at -20 dB, by the thirds of the sound.
    expect(values[40]).toBe(0);
    expect(values[80]).toBeCloseTo(0.5, 1);
    expect(values[140]).toBeCloseTo(1, 1);
  });

  it('sound the same live as rendered, and in a print', () => {
    const { project, context, render, bedLayer } = following();
    const whole = render(project);
    const player = new SoundPlayer(firstSound(project), context, 0);
    const [left, right] = [new Float32Array(1_024), new Float32Array(1_024)];
    const live = new Float32Array(whole.length);
    for (let at = 0; at < live.length;) {
      const count = player.render([left, right], Math.min(480, live.length - at));
      live.set(left.subarray(0, count), at);
      at += count;
    }
    // Gains are looked up every 64 frames of a block, and blocks are of another size here.
    expect(residual(whole, live, 1_000, 71_000)).toBeLessThan(-50);
    const printed = renderSound(printRecipe(firstSound(project), { layers: [bedLayer] }), context, cut).channels[0]!;
    expect(residual(whole, printed, 0, 71_000)).toBeLessThan(-100);
  });

  it('cannot follow each other in a circle, and let go of a layer that goes', () => {
    const { project, sound, stepLayer, bedLayer, mover } = following();
    expect(() => edited(project, 'setPull', { sound, mover, address: `layer/${stepLayer}/gain`, depth: 3 })).toThrow('in a circle');
    expect(() => edited(project, 'setMover', { sound, mover, settings: { listens: `layer/${bedLayer}` } })).toThrow('in a circle');
    const removed = edited(project, 'removeLayer', { sound, layer: stepLayer });
    expect(firstSound(removed).movers[0]).toMatchObject({ kind: 'follower', listens: '' });
  });
});
