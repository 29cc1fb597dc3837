import type { EffectStep } from '../../project/chain/chain-schema';
import type { Project, Sound } from '../../project/schema';
import { branchesOf, stepsOf } from '../../project/chain/chain-tree';
import { findProperty, listAddresses } from '../../project/address';
import { effectCatalogue } from '../../catalogue';
import { parseProject } from '../../project/parse';
import { edited, projectWith } from '../../testing/project';
import { amplitudeAt, mono, noise, residual, sine } from '../../testing/signals';
import { decibelsToGain } from '../../units';
import { chainLatency, chainStructure } from './chain-measures';
import { SoundPlayer } from '../live/player';
import { renderSound } from '../render-sound';

const rate = 48_000;
const cut = { tail: 'cut at the last clip' } as const;
const firstSound = (project: Project): Sound => project.sounds[0]!;
const outer = (project: Project): EffectStep => firstSound(project).layers[0]!.chain[0]!;

/** One layer with a host, as it is when it is new. */
function hosted(effect: 'bands' | 'side-by-side', samples: Float32Array) {
  const { project, context } = projectWith({ a: mono(samples) });
  const sound = firstSound(project).id;
  const layer = firstSound(project).layers[0]!.id;
  const place = { sound, owner: { layer } };
  const started = edited(project, 'addEffect', { ...place, effect });
  const turn = (from: Project, values: Record<string, number | boolean>): Project =>
    edited(from, 'setValues', {
      sound,
      values: Object.fromEntries(Object.entries(values).map(([key, value]) => [`layer/${layer}/${key}`, value])),
      label: 'Turn',
    });
  const render = (from: Project): Float32Array => renderSound(firstSound(from), context, cut).channels[0]!;
  const branch = (from: Project, index: number): string => outer(from).branches![index]!.id;
  const last = (from: Project): string =>
    stepsOf(firstSound(from).layers[0]!.chain).reduce((a, b) => (number(b.id) > number(a.id) ? b : a)).id;
  return { project: started, plain: project, context, place, turn, render, branch, last };
}

const number = (id: string): number => Number(id.split('-')[1]);
const steadyLevel = (samples: Float32Array, frequency: number): number =>
  20 * Math.log10(amplitudeAt(samples, frequency, rate, 12_000, 36_000));

describe('Bands', () => {
  it('leave the magnitude of every frequency alone while their chains are empty, at any mix', () => {
    for (const mix of [0, 0.5, 1])
      for (const frequency of [60, 160, 700, 2_200, 9_000]) {
        const { project, turn, render } = hosted('bands', sine(frequency, 1, rate, -12));
        const output = render(turn(project, { [`chain/${outer(project).id}/mix`]: mix }));
        expect(steadyLevel(output, frequency)).toBeCloseTo(-12, 2);
      }
  });

  it('have faders of their own, can be muted and heard alone', () => {
    const low = sine(50, 1, rate, -12);
    const input = sine(12_000, 1, rate, -12).map((sample, i) => sample + low[i]!);
    const { project, context, turn, render, branch, place } = hosted('bands', input);
    const quieter = render(turn(project, { [`branch/${branch(project, 2)}/gain`]: -20 }));
    expect(steadyLevel(quieter, 12_000)).toBeCloseTo(-32, 0);
    expect(steadyLevel(quieter, 50)).toBeCloseTo(-12, 1);
    const muted = render(edited(project, 'setBranch', { ...place, branch: branch(project, 0), changes: { muted: true } }));
    // What is left is what the band above has of it, 40 dB down its slope.
    expect(steadyLevel(muted, 50)).toBeCloseTo(-52, 0);
    // Alone, a band is only listened to: the player hears it, no render does.
    const soloed = edited(project, 'setBranch', { ...place, branch: branch(project, 0), changes: { soloed: true } });
    const player = new SoundPlayer(firstSound(soloed), context, 0);
    const alone = [new Float32Array(40_000), new Float32Array(40_000)];
    for (let at = 0; at < 40_000;) at += player.render(alone, 40_000 - at, at);
    expect(steadyLevel(alone[0]!, 50)).toBeCloseTo(-12, 0);
    expect(steadyLevel(alone[0]!, 12_000)).toBeLessThan(-70);
  });

  it('treat only what lies in a band, however deep the effect lies, and keep everything in time', () => {
    const low = sine(50, 1, rate, -12);
    const input = sine(12_000, 1, rate, -12).map((sample, i) => sample + low[i]!);
    const { project, turn, render, branch, place, last } = hosted('bands', input);
    // A host in the top band, with a trim in one of its lanes and a limiter, which lags, in the other.
    let nested = edited(project, 'addEffect', { ...place, branch: branch(project, 2), effect: 'side-by-side' });
    const inner = stepsOf(firstSound(nested).layers[0]!.chain)[1]!;
    nested = edited(nested, 'addEffect', { ...place, branch: inner.branches![0]!.id, effect: 'trim' });
    const trim = last(nested);
    nested = edited(nested, 'addEffect', { ...place, branch: inner.branches![1]!.id, effect: 'limiter' });
    nested = turn(nested, { [`chain/${last(nested)}/gain`]: 0 });
    nested = turn(nested, { [`chain/${trim}/gain`]: -60, [`branch/${inner.branches![1]!.id}/gain`]: 0 });
    const output = render(nested);
    expect(steadyLevel(output, 50)).toBeCloseTo(-12, 1);
    // What goes through the trim is 66 dB down, so the lane with the limiter decides.
    expect(steadyLevel(output, 12_000)).toBeCloseTo(-12, 1);
    const { chain } = firstSound(nested).layers[0]!;
    expect(chainLatency(chain, { sampleRate: rate })).toBeGreaterThan(0);
    expect(chainLatency(chain, { sampleRate: rate })).toBe(
      chainLatency(inner.branches![1]!.chain.concat(stepsOf(chain).slice(-1)), { sampleRate: rate }),
    );
  });
});

describe('Side by side', () => {
  it('adds lanes up, aligned whatever they lag', () => {
    const input = noise(24_000, 2, -20);
    const { project, render, branch, place, turn, last } = hosted('side-by-side', input);
    const limited = edited(project, 'addEffect', { ...place, branch: branch(project, 0), effect: 'limiter' });
    const louder = turn(limited, { [`chain/${last(limited)}/gain`]: 0, [`branch/${branch(project, 0)}/gain`]: -9 });
    const gain = decibelsToGain(-9) + decibelsToGain(-6);
    const expected = input.map((sample) => sample * gain);
    expect(residual(expected, render(louder), 0, 23_000)).toBeLessThan(-100);
  });

  it('delays a lane on purpose by what its delay says', () => {
    const input = noise(24_000, 2, -20);
    const { project, render, branch, turn } = hosted('side-by-side', input);
    const output = render(turn(project, { [`branch/${branch(project, 1)}/delay`]: 0.01 }));
    const gain = decibelsToGain(-6);
    const expected = input.map((sample, i) => gain * (sample + (input[i - 480] ?? 0)));
    expect(residual(expected, output, 0, 23_000)).toBeLessThan(-110);
  });
});

describe('what lies within a host', () => {
  const started = () => {
    const setup = hosted('side-by-side', noise(24_000, 3, -12));
    const inside = edited(setup.project, 'addEffect', { ...setup.place, branch: setup.branch(setup.project, 0), effect: 'trim' });
    const trim = setup.last(inside);
    return { ...setup, inside, trim, layer: firstSound(inside).layers[0]!.id };
  };

  it('has addresses, can be automated, and keeps both when it moves into another branch', () => {
    const { inside, trim, layer, place, branch, render } = started();
    const address = `layer/${layer}/chain/${trim}/gain`;
    expect(listAddresses(firstSound(inside), effectCatalogue)).toEqual(
      expect.arrayContaining([address, `layer/${layer}/branch/${branch(inside, 1)}/pan`]),
    );
    let moved = edited(inside, 'addAutomation', { sound: place.sound, address });
    const [lane] = firstSound(moved).automation;
    moved = edited(moved, 'setAutomationPoints', {
      sound: place.sound,
      lane: lane!.id,
      points: [{ time: 0, value: -60, bend: 0 }],
      action: 'Draw',
    });
    const other = branch(moved, 1);
    moved = edited(moved, 'moveEffect', { ...place, step: trim, index: 0, into: { branch: other } });
    expect(outer(moved).branches!.map(({ chain }) => chain.length)).toEqual([0, 1]);
    expect(findProperty(firstSound(moved), address, effectCatalogue)?.owner).toBe('a · Trim');
    // One lane passes, the other is turned down by its automation.
    expect(residual(noise(24_000, 3, -18), render(moved), 2_000, 23_000)).toBeLessThan(-50);
    moved = edited(moved, 'moveEffect', { ...place, step: trim, index: 0, into: 'top' });
    expect(firstSound(moved).layers[0]!.chain.map(({ effect }) => effect)).toEqual(['trim', 'side-by-side']);
    expect(() => edited(moved, 'moveEffect', { ...place, step: outer(inside).id, index: 0, into: { branch: other } })).toThrow(
      'into itself',
    );
  });

  it('goes with its host: automation, pulls and sways too', () => {
    const { inside, trim, layer, place, branch } = started();
    const kept = `layer/${layer}/gain`;
    let moved = inside;
    for (const address of [`layer/${layer}/chain/${trim}/gain`, `layer/${layer}/branch/${branch(inside, 0)}/gain`, kept])
      moved = edited(moved, 'addAutomation', { sound: place.sound, address });
    const removed = edited(moved, 'removeEffect', { ...place, step: outer(moved).id });
    expect(firstSound(removed).automation.map(({ address }) => address)).toEqual([kept]);
    const lessBranches = edited(edited(moved, 'addBranch', { ...place, step: outer(moved).id }), 'removeBranch', {
      ...place,
      branch: branch(inside, 0),
    });
    expect(firstSound(lessBranches).automation.map(({ address }) => address)).toEqual([kept]);
    expect(() => edited(lessBranches, 'removeBranch', { ...place, branch: branch(lessBranches, 0) })).toThrow('2 lanes at least');
  });

  it('leaves nothing behind that moved it when a template takes the chain over', () => {
    const { inside, place, branch, layer } = started();
    let moved = edited(inside, 'addAutomation', { sound: place.sound, address: `layer/${layer}/branch/${branch(inside, 0)}/gain` });
    moved = edited(moved, 'saveTemplate', { sound: place.sound, layer, name: 'Two ways' });
    moved = edited(moved, 'applyTemplate', { sound: place.sound, layer, template: moved.templates[0]!.id });
    expect(firstSound(moved).automation).toEqual([]);
    expect(parseProject(JSON.parse(JSON.stringify(moved)), effectCatalogue)).toEqual(moved);
  });

  it('is copied with new ids, is a preset, and comes back', () => {
    const { inside, place, layer } = started();
    const copied = edited(inside, 'duplicateLayer', { sound: place.sound, layer });
    const ids = firstSound(copied).layers.flatMap(({ chain }) => [...stepsOf(chain), ...branchesOf(chain)].map(({ id }) => id));
    expect(new Set(ids).size).toBe(ids.length);
    let saved = edited(inside, 'savePreset', { ...place, name: 'Two ways', tags: [] });
    const [preset] = saved.presets;
    saved = edited(saved, 'setChain', { ...place, name: 'Two ways', steps: preset!.chain });
    const strip = (chain: readonly EffectStep[]): unknown =>
      chain.map((step) => [step.effect, step.branches?.map((each) => [each.gain, strip(each.chain)])]);
    expect(strip(firstSound(saved).layers[0]!.chain)).toEqual(strip(firstSound(inside).layers[0]!.chain));
    expect(parseProject(JSON.parse(JSON.stringify(saved)), effectCatalogue)).toEqual(saved);
  });

  it('is refused where it does not fit: too deep, too few branches, branches where none belong', () => {
    const { inside, place } = started();
    const change = (from: Project, step: (found: EffectStep) => void): unknown => {
      const copy = structuredClone(from);
      step(outer(copy));
      return copy;
    };
    expect(() =>
      parseProject(
        change(inside, (step) => step.branches!.pop()),
        effectCatalogue,
      ),
    ).toThrow('has 1 lanes, not 2 to 6');
    expect(() =>
      parseProject(
        change(inside, (step) => (step.effect = 'trim')),
        effectCatalogue,
      ),
    ).toThrow('holds no branches');
    let deep = inside;
    const goDeeper = (): void => {
      for (let i = 0; i < 12; i++) {
        const innermost = branchesOf(firstSound(deep).layers[0]!.chain).at(-1)!;
        deep = edited(deep, 'addEffect', { ...place, branch: innermost.id, effect: 'side-by-side' });
      }
    };
    expect(goDeeper).toThrow('8 deep');
    // Not by way of a saved chain either: the project could not be opened again.
    const saved = edited(deep, 'savePreset', { ...place, name: 'Deep', tags: [] });
    const innermost = branchesOf(firstSound(deep).layers[0]!.chain).at(-1)!.id;
    const steps = saved.presets[0]!.chain;
    expect(() => edited(saved, 'setChain', { ...place, branch: innermost, name: 'Deep', add: true, steps })).toThrow('8 deep');
    let bottomless: unknown = [];
    for (let i = 0; i < 20_000; i++) bottomless = [{ branches: [{ chain: bottomless }] }];
    expect(() => parseProject({ ...structuredClone(inside), sounds: [{ chain: bottomless }] }, effectCatalogue)).toThrow(
      /deep|does not fit/,
    );
  });

  it('is part of the structure: what lags or comes and goes within builds the graph anew, a turned dial does not', () => {
    const { inside, trim, place, branch, turn } = started();
    const structure = (project: Project): string => chainStructure(firstSound(project).layers[0]!.chain, rate);
    expect(structure(turn(inside, { [`chain/${trim}/gain`]: -3 }))).toBe(structure(inside));
    expect(structure(edited(inside, 'addEffect', { ...place, branch: branch(inside, 1), effect: 'trim' }))).not.toBe(structure(inside));
  });
});

describe('times that are counted in notes', () => {
  it('follow the tempo of the sound, and are in its tail', () => {
    const click = new Float32Array(4_800);
    click[0] = 1;
    const { project, context } = projectWith({ click: mono(click) });
    const sound = firstSound(project).id;
    const owner = { layer: firstSound(project).layers[0]!.id };
    let echoed = edited(project, 'addEffect', { sound, owner, effect: 'delay' });
    const prefix = `layer/${owner.layer}/chain/${firstSound(echoed).layers[0]!.chain[0]!.id}`;
    const values = { [`${prefix}/note`]: '1/8 dotted', [`${prefix}/feedback`]: 0, [`${prefix}/lowCut`]: 20, [`${prefix}/highCut`]: 20_000 };
    echoed = edited(echoed, 'setValues', { sound, values, label: 'Turn' });
    for (const bpm of [120, 90]) {
      const timed = edited(echoed, 'setTempo', { sound, tempo: { bpm } });
      const output = renderSound(firstSound(timed), context, { tail: 'ring out' }).channels[0]!;
      const echo = Math.round((0.75 * 60 * rate) / bpm);
      expect(output.length).toBeGreaterThan(echo);
      expect(Math.abs(output[echo]!)).toBeCloseTo(0.4, 1);
    }
  });
});
