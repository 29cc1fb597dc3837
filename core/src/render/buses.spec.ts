import type { Project, Sound } from '../project/schema';
import { printRecipe } from '../print/print-sound';
import { edited, projectWith } from '../testing/project';
import { mono, noise, residual } from '../testing/signals';
import { decibelsToGain } from '../units';
import { renderSound } from './render-sound';
import { audibleLayers, soundTail } from './sound-graph';

const cut = { tail: 'cut at the last clip' } as const;
/** Behind this frame the edge fade of every new clip begins. */
const steady = 9_500;
const firstSound = (project: Project): Sound => project.sounds[0]!;
const parts = { a: noise(10_000, 1, -12), b: noise(10_000, 2, -12), c: noise(10_000, 3, -12) };

/** Three layers, the first two of them in a group, and a shared bus. */
function grouped() {
  const { project, context } = projectWith({ a: mono(parts.a), b: mono(parts.b), c: mono(parts.c) });
  const sound = firstSound(project).id;
  const [a, b, c] = firstSound(project).layers.map(({ id }) => id) as [string, string, string];
  let changed = edited(project, 'groupLayers', { sound, layers: [a, b], name: 'Ice' });
  changed = edited(changed, 'addSharedBus', { sound, name: 'Hall' });
  const [group, hall] = firstSound(changed).buses.map(({ id }) => id) as [string, string];
  const turn = (values: Record<string, number | boolean>, from = changed): Project =>
    edited(from, 'setValues', { sound, values, label: 'Turn' });
  return { plain: project, project: changed, context, sound, a, b, c, group, hall, turn };
}

const sum = (gains: { a?: number; b?: number; c?: number }): Float32Array =>
  parts.a.map((value, i) => value * (gains.a ?? 0) + parts.b[i]! * (gains.b ?? 0) + parts.c[i]! * (gains.c ?? 0));

describe('groups and shared buses', () => {
  it('change nothing while they are at 0 dB and nothing is sent', () => {
    const { plain, project, context } = grouped();
    const expected = renderSound(firstSound(plain), context, cut).channels[0]!;
    expect(residual(expected, renderSound(firstSound(project), context, cut).channels[0]!)).toBeLessThan(-130);
  });

  it('one fader moves all layers of a group, and only those', () => {
    const { context, group, turn } = grouped();
    const output = renderSound(firstSound(turn({ [`bus/${group}/gain`]: -12 })), context, cut).channels[0]!;
    const gain = decibelsToGain(-12);
    expect(residual(sum({ a: gain, b: gain, c: 1 }), output, 0, steady)).toBeLessThan(-120);
  });

  it('a chain of the group treats the sum, as the same chain in a sound of those layers alone would', () => {
    const { project, context, sound, group, c } = grouped();
    let chained = edited(project, 'addEffect', { sound, owner: { bus: group }, effect: 'compressor' });
    const step = firstSound(chained).buses[0]!.chain[0]!.id;
    chained = edited(chained, 'setValues', {
      sound,
      values: { [`bus/${group}/chain/${step}/threshold`]: -40, [`bus/${group}/chain/${step}/lookahead`]: 0.01 },
      label: 'Turn',
    });
    const output = renderSound(firstSound(chained), context, cut).channels[0]!;
    const found = firstSound(chained);
    const alone: Sound = {
      ...found,
      layers: found.layers.slice(0, 2).map(({ group: _group, ...layer }) => layer),
      buses: [],
      chain: found.buses[0]!.chain,
    };
    const treated = renderSound(alone, context, cut).channels[0]!;
    const expected = treated.map((value, i) => value + parts.c[i]!);
    expect(residual(expected, output, 0, steady)).toBeLessThan(-110);
    // The look-ahead of the group's chain shifts nothing: the layer beside it stays in place.
    const muted = edited(chained, 'muteBus', { sound, bus: group, muted: true });
    expect(residual(parts.c, renderSound(firstSound(muted), context, cut).channels[0]!, 0, steady)).toBeLessThan(-120);
    expect(found.layers[2]!.id).toBe(c);
  });

  it('sends are heard besides, behind the fader of who sends, in line with everything else', () => {
    const { project, context, sound, a, group, hall, turn } = grouped();
    let sent = edited(project, 'setSend', { sound, owner: { layer: a }, bus: hall, on: true });
    sent = edited(sent, 'setSend', { sound, owner: { bus: group }, bus: hall, on: true });
    // Different latencies everywhere: in the group, in the shared bus, in the layer.
    for (const owner of [{ bus: group }, { bus: hall }, { layer: a }] as const)
      sent = edited(sent, 'addEffect', { sound, owner, effect: 'compressor' });
    const found = firstSound(sent);
    const [groupStep, hallStep] = found.buses.map((bus) => bus.chain[0]!.id);
    const chains: [string, number][] = [
      [`bus/${group}/chain/${groupStep}`, 0.004],
      [`bus/${hall}/chain/${hallStep}`, 0.013],
      [`layer/${a}/chain/${found.layers[0]!.chain[0]!.id}`, 0.007],
    ];
    const values = Object.fromEntries(
      chains.flatMap(([step, lookahead]) => [
        [`${step}/lookahead`, lookahead],
        [`${step}/ratio`, 1],
      ]),
    );
    sent = turn({ ...values, [`layer/${a}/gain`]: -6, [`layer/${a}/send/${hall}`]: -3, [`bus/${group}/send/${hall}`]: -9 }, sent);
    const output = renderSound(firstSound(sent), context, cut).channels[0]!;
    const own = decibelsToGain(-6);
    const fromGroup = decibelsToGain(-9);
    const expected = sum({ a: own * (1 + decibelsToGain(-3) + fromGroup), b: 1 + fromGroup, c: 1 });
    expect(residual(expected, output, 0, steady)).toBeLessThan(-110);
    expect(soundTail(firstSound(sent), { sampleRate: 48_000, identities: new Map(), library: { get: () => undefined } })).toBe(
      Math.round(0.007 * 48_000) + Math.round(0.004 * 48_000) + Math.round(0.013 * 48_000),
    );
  });

  it('mute and solo hold for all layers of a group; solos can be set aside and taken up again', () => {
    const { project, sound, a, c, group } = grouped();
    const heard = (from: Project): boolean[] => {
      const audible = audibleLayers(firstSound(from));
      return firstSound(from).layers.map(({ id }) => audible.has(id));
    };
    expect(heard(edited(project, 'muteBus', { sound, bus: group, muted: true }))).toEqual([false, false, true]);
    let soloed = edited(project, 'solo', { sound, owner: { bus: group }, soloed: true });
    expect(heard(soloed)).toEqual([true, true, false]);
    soloed = edited(soloed, 'setSoloing', { sound, soloing: false });
    expect(heard(soloed)).toEqual([true, true, true]);
    expect(heard(edited(soloed, 'setSoloing', { sound, soloing: true }))).toEqual([true, true, false]);
    // A new solo while the old ones are set aside begins anew.
    expect(heard(edited(soloed, 'solo', { sound, owner: { layer: c }, soloed: true }))).toEqual([false, false, true]);
    expect(heard(edited(project, 'solo', { sound, owner: { layer: a }, soloed: true }))).toEqual([true, false, false]);
  });

  it('a print of a layer takes neither its group nor its sends along, which then treat the print', () => {
    const { project, context, sound, a, group, hall, turn } = grouped();
    const sent = turn({ [`bus/${group}/gain`]: -20 }, edited(project, 'setSend', { sound, owner: { layer: a }, bus: hall, on: true }));
    const recipe = printRecipe(firstSound(sent), { layers: [a] });
    expect(residual(parts.a, renderSound(recipe, context, cut).channels[0]!, 0, steady)).toBeLessThan(-120);
  });

  it('layers stay together in their group, and a group without layers goes', () => {
    const { project, sound, a, b, c, group } = grouped();
    const apart = edited(project, 'groupLayers', { sound, layers: [a, c], name: 'Outer' });
    expect(firstSound(apart).layers.map(({ id }) => id)).toEqual([a, c, b]);
    const joined = edited(project, 'setLayerGroup', { sound, layer: c, group });
    expect(firstSound(joined).layers.every((layer) => layer.group === group)).toBe(true);
    let left = edited(project, 'setLayerGroup', { sound, layer: a, group: undefined });
    // It lies behind the group then, not in the middle of it.
    expect(firstSound(left).layers.map(({ id }) => id)).toEqual([b, a, c]);
    left = edited(left, 'removeLayer', { sound, layer: b });
    expect(firstSound(left).buses.map(({ name }) => name)).toEqual(['Hall']);
    expect(() => edited(project, 'setSend', { sound, owner: { layer: a }, bus: group, on: true })).toThrow('is a group');
  });

  it('layers can be named by their roles, and take over templates', () => {
    const { project, sound, a, c } = grouped();
    let named = edited(project, 'setLayerRole', { sound, layer: c, role: 'Tail' });
    named = edited(named, 'nameLayers', { sound });
    expect(firstSound(named).layers.map(({ name }) => name)).toEqual(['Body 1 · a', 'Body 2 · b', 'Tail · c']);
    named = edited(named, 'addEffect', { sound, owner: { layer: c }, effect: 'eq' });
    named = edited(named, 'setValues', { sound, values: { [`layer/${c}/gain`]: -9 }, label: 'Turn' });
    named = edited(named, 'saveTemplate', { sound, layer: c, name: 'Dark tail' });
    named = edited(named, 'applyTemplate', { sound, layer: a, template: named.templates[0]!.id });
    const [first, , third] = firstSound(named).layers;
    expect(first).toMatchObject({ role: 'Tail', gain: -9, chain: [{ effect: 'eq' }] });
    expect(first!.chain[0]!.id).not.toBe(third!.chain[0]!.id);
  });
});
