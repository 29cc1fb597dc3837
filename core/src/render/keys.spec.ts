import { siblingSound } from '../kin/take-draws';
import { effectCatalogue } from '../catalogue';
import { printRecipe } from '../print/print-sound';
import { keyOrder, usedSources } from '../project/chain/references';
import type { Project, Sound } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { amplitudeAt, mono, noise, residual, sine } from '../testing/signals';
import { SoundPlayer } from './live/player';
import { renderSound } from './render-sound';

const rate = 48_000;
const cut = { tail: 'cut at the last clip' } as const;
const firstSound = (project: Project): Sound => project.sounds[0]!;
/** The bed that gives way, and a burst in the middle of it. */
const bed = sine(1_000, 1, rate, -12);
const burst = new Float32Array(rate);
burst.set(noise(12_000, 3, -6), 18_000);

/** A bed that is ducked by 20 dB while a burst, which is muted, would sound. */
function ducked() {
  const { project, context } = projectWith({ bed: mono(bed), burst: mono(burst), other: mono(new Float32Array(rate)) });
  const sound = firstSound(project).id;
  const [bedLayer, burstLayer, otherLayer] = firstSound(project).layers.map(({ id }) => id) as [string, string, string];
  let started = edited(project, 'muteLayer', { sound, layer: burstLayer, muted: true });
  started = edited(started, 'addEffect', { sound, owner: { layer: bedLayer }, effect: 'ducker' });
  const step = firstSound(started).layers[0]!.chain[0]!.id;
  const turn = (from: Project, values: Record<string, number | string>): Project =>
    edited(from, 'setValues', {
      sound,
      values: Object.fromEntries(Object.entries(values).map(([key, value]) => [`layer/${bedLayer}/chain/${step}/${key}`, value])),
      label: 'Turn',
    });
  started = turn(started, { key: `layer/${burstLayer}`, depth: -20, attack: 0.001, hold: 0, release: 0.02 });
  const render = (from: Project): Float32Array => renderSound(firstSound(from), context, cut).channels[0]!;
  return { project: started, context, sound, bedLayer, burstLayer, otherLayer, step, turn, render };
}

const level = (samples: Float32Array, from: number, to: number): number => 20 * Math.log10(amplitudeAt(samples, 1_000, rate, from, to));

describe('keys', () => {
  it('a layer gives way while another sounds, which need not be heard itself', () => {
    const { project, render } = ducked();
    const output = render(project);
    expect(level(output, 4_800, 14_400)).toBeCloseTo(-12, 1);
    expect(level(output, 21_600, 28_800)).toBeCloseTo(-32, 0);
    expect(level(output, 38_400, 46_000)).toBeCloseTo(-12, 1);
  });

  it('are in time with what they move, whatever lags before or behind, in the key and in who takes it', () => {
    const { project, render, sound, bedLayer, burstLayer, turn } = ducked();
    // The burst is loud, so nothing but its start decides when the bed gives way.
    const straight = render(turn(project, { threshold: -80, attack: 0.0005 }));
    let late = turn(project, { threshold: -80, attack: 0.0005 });
    for (const [owner, index] of [
      [{ layer: bedLayer }, 0],
      [{ layer: bedLayer }, 2],
      [{ layer: burstLayer }, 0],
    ] as const) {
      late = edited(late, 'addEffect', { sound, owner, effect: 'compressor', index });
      const added = firstSound(late)
        .layers.flatMap(({ chain }) => chain)
        .find((step) => step.effect === 'compressor' && !('ratio' in step.parameters))!;
      const prefix = `layer/${owner.layer}/chain/${added.id}`;
      late = edited(late, 'setValues', {
        sound,
        values: { [`${prefix}/ratio`]: 1, [`${prefix}/lookahead`]: 0.004 + index / 500 },
        label: 'Turn',
      });
    }
    expect(residual(straight, render(late), 0, 47_000)).toBeLessThan(-100);
  });

  it('can be a group, and work for groups and the whole sound', () => {
    const { project, render, sound, bedLayer, burstLayer, otherLayer, step, turn } = ducked();
    const direct = render(project);
    const grouped = edited(project, 'groupLayers', { sound, layers: [burstLayer, otherLayer], name: 'Hits' });
    const group = firstSound(grouped).buses[0]!.id;
    const byGroup = render(turn(grouped, { key: `bus/${group}` }));
    expect(residual(direct, byGroup, 0, 47_000)).toBeLessThan(-100);
    // The same step on the whole sound.
    let whole = edited(project, 'setChain', { sound, owner: 'sound', name: 'Same', steps: firstSound(project).layers[0]!.chain });
    whole = edited(whole, 'removeEffect', { sound, owner: { layer: bedLayer }, step });
    expect(residual(direct, render(whole), 0, 47_000)).toBeLessThan(-100);
  });

  it('sound the same live as rendered, in blocks of any size', () => {
    const { project, render, context } = ducked();
    const whole = render(project);
    const player = new SoundPlayer(firstSound(project), context, 0);
    const left = new Float32Array(1_024);
    const right = new Float32Array(1_024);
    const live = new Float32Array(whole.length);
    for (let at = 0, turn = 0; at < live.length; turn++) {
      const count = player.render([left, right], Math.min([480, 1_024, 33][turn % 3]!, live.length - at));
      live.set(left.subarray(0, count), at);
      at += count;
    }
    expect(residual(whole, live, 1_000, 46_000)).toBeLessThan(-100);
  });

  it('cannot go round in a circle; the order of layers follows them', () => {
    const { project, sound, bedLayer, burstLayer, turn } = ducked();
    expect(keyOrder(firstSound(project))!.indexOf(burstLayer)).toBeLessThan(keyOrder(firstSound(project))!.indexOf(bedLayer));
    const both = edited(project, 'addEffect', { sound, owner: { layer: burstLayer }, effect: 'compressor' });
    const step = firstSound(both).layers[1]!.chain[0]!.id;
    const back = { [`layer/${burstLayer}/chain/${step}/key`]: `layer/${bedLayer}` };
    expect(() => edited(both, 'setValues', { sound, values: back, label: 'Turn' })).toThrow('in a circle');
    expect(() => turn(project, { key: `layer/${bedLayer}` })).toThrow('in a circle');
    // By whatever edit: a saved chain, a state that was kept, a group that is a key of its own layer.
    const saved = edited(project, 'savePreset', { sound, owner: { layer: bedLayer }, name: 'Gives way', tags: [] });
    const steps = saved.presets[0]!.chain;
    expect(() => edited(saved, 'setChain', { sound, owner: { layer: burstLayer }, name: 'Gives way', steps })).toThrow('in a circle');
    let stated = edited(both, 'keepState', { sound, owner: { layer: bedLayer }, state: 'A' });
    stated = edited(turn(stated, { key: '' }), 'setValues', { sound, values: back, label: 'Turn' });
    expect(() => edited(stated, 'recallState', { sound, owner: { layer: bedLayer }, state: 'A' })).toThrow('in a circle');
    const grouped = edited(project, 'groupLayers', { sound, layers: [burstLayer], name: 'Hits' });
    const byGroup = turn(grouped, { key: `bus/${firstSound(grouped).buses[0]!.id}` });
    const group = firstSound(grouped).buses[0]!.id;
    expect(() => edited(byGroup, 'setLayerGroup', { sound, layer: bedLayer, group })).toThrow('in a circle');
  });

  it('follow copies, are printed along unheard, and go with the layer', () => {
    const { project, context, render, sound, bedLayer, burstLayer, step } = ducked();
    const key = (from: Project): unknown => firstSound(from).layers.find(({ id }) => id === bedLayer)!.chain[0]!.parameters['key'];
    expect(key(project)).toBe(`layer/${burstLayer}`);
    expect(key(edited(project, 'removeLayer', { sound, layer: burstLayer }))).toBe('');
    const recipe = printRecipe(firstSound(project), { layers: [bedLayer] });
    expect(residual(render(project), renderSound(recipe, context, cut).channels[0]!, 0, 47_000)).toBeLessThan(-120);
    expect(siblingSound(firstSound(project), 0, effectCatalogue).layers[0]!.chain[0]!.id).toBe(step);
    // A preset that goes to another sound leaves behind what is not there.
    let other = edited(project, 'savePreset', { sound, owner: { layer: bedLayer }, name: 'Gives way', tags: [] });
    other = edited(other, 'addSound', { name: 'Pebbles' });
    const second = other.sounds[1]!.id;
    other = edited(other, 'setChain', { sound: second, owner: 'sound', name: 'Gives way', steps: other.presets[0]!.chain });
    expect(other.sounds[1]!.chain[0]!.parameters['key']).toBe('');
  });
});

describe('a source as a response', () => {
  it('is part of the sound: it is used, cannot be removed, and decides what is heard', () => {
    const click = new Float32Array(4_800);
    click[0] = 1;
    const echo = click.slice();
    echo[2_400] = 1;
    const { project, context } = projectWith({ click: mono(click), echo: mono(echo) });
    const sound = firstSound(project).id;
    const [clickLayer, echoLayer] = firstSound(project).layers.map(({ id }) => id) as [string, string];
    let treated = edited(project, 'removeLayer', { sound, layer: echoLayer });
    const echoSource = project.sources[1]!.id;
    treated = edited(treated, 'addEffect', { sound, owner: { layer: clickLayer }, effect: 'convolution' });
    const prefix = `layer/${clickLayer}/chain/${firstSound(treated).layers[0]!.chain[0]!.id}`;
    const values = { [`${prefix}/response`]: `source/${echoSource}`, [`${prefix}/fadeOut`]: 0, [`${prefix}/level`]: 0 };
    treated = edited(treated, 'setValues', { sound, values, label: 'Turn' });
    expect([...usedSources(firstSound(treated))]).toEqual(project.sources.map(({ id }) => id));
    expect(() => edited(treated, 'removeSources', { sources: [echoSource] })).toThrow('is used in');
    const output = renderSound(firstSound(treated), context, { tail: 'fixed length', length: 0.1 }).channels[0]!;
    // An energy of 1 for two equal clicks.
    expect(output[0]).toBeCloseTo(Math.SQRT1_2, 4);
    expect(output[2_400]).toBeCloseTo(Math.SQRT1_2, 4);
    expect(output[1_200]).toBeCloseTo(0, 6);
  });
});
