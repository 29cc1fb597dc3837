import { effectCatalogue } from '../catalogue';
import { findProperty } from '../project/address';
import type { Project, Sound } from '../project/schema';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { drawSibling } from './draw';
import { siblingSound, takeDraws } from './take-draws';
import { offsetFor, offsetValue } from '../project/offset';
import { readySways } from './ready-sways';
import { swayOffers } from './sway-offers';

const { project, context } = projectWith({ crunch: mono(noise(4_800)), grain: mono(noise(2_400, 2)) });
const id = project.sounds[0]!.id;
const layer = project.sounds[0]!.layers[0]!;
const speed = `layer/${layer.id}/clip/${layer.clips[0]!.id}/speed`;
const presence = `layer/${project.sounds[0]!.layers[1]!.id}/presence`;

function family(seed: number): Project {
  let changed = edited(project, 'setSway', {
    sound: id,
    sway: { kind: 'range', address: speed, low: -2, high: 5, locked: false },
    label: '',
  });
  changed = edited(changed, 'setSway', { sound: id, sway: { kind: 'presence', address: presence, chance: 0.7, locked: false }, label: '' });
  return edited(changed, 'setFamily', { sound: id, seed, size: 300 });
}

const sound = (p: Project): Sound => p.sounds[0]!;

describe('families', () => {
  it('are the same for the same seed and differ for another', () => {
    const draws = (seed: number): unknown => Array.from({ length: 20 }, (_, i) => drawSibling(sound(family(seed)), i));
    expect(draws(4127)).toEqual(draws(4127));
    expect(draws(4127)).not.toEqual(draws(4128));
  });

  it('spread evenly over the range and honour chances', () => {
    const drawn = Array.from({ length: 300 }, (_, i) => drawSibling(sound(family(9)), i));
    const speeds = drawn.map((draw) => Number(draw[speed]));
    expect(Math.min(...speeds)).toBeGreaterThanOrEqual(-2);
    expect(Math.max(...speeds)).toBeLessThanOrEqual(5);
    expect(Math.max(...speeds) - Math.min(...speeds)).toBeGreaterThan(6.5);
    expect(Math.abs(drawn.filter((draw) => draw[presence] === 1).length / 300 - 0.7)).toBeLessThan(0.08);
  });

  it('another sway moves no other draw', () => {
    const before = drawSibling(sound(family(5)), 3)[speed];
    const more = edited(family(5), 'setSway', {
      sound: id,
      sway: { kind: 'range', address: 'sound/gain', low: -1, high: 1, locked: false },
      label: '',
    });
    expect(drawSibling(sound(more), 3)[speed]).toBe(before);
  });

  it('a kept sibling stays when the rest is rolled again or sways change', () => {
    const start = family(5);
    const kept = drawSibling(sound(start), 2);
    let changed = edited(start, 'judgeSibling', { sound: id, index: 2, state: 'kept', draws: kept });
    const other = drawSibling(sound(changed), 4);
    changed = edited(changed, 'rollAgain', { sound: id });
    changed = edited(changed, 'setSway', {
      sound: id,
      sway: { kind: 'range', address: speed, low: 10, high: 12, locked: false },
      label: '',
    });
    expect(drawSibling(sound(changed), 2)).toEqual(kept);
    expect(drawSibling(sound(changed), 4)).not.toEqual(other);
  });

  it('draws change the sound they are taken in, not the document', () => {
    const start = sound(family(5));
    const before = JSON.stringify(start);
    const taken = takeDraws(start, { [speed]: 3, [presence]: 0 }, effectCatalogue);
    expect(findProperty(taken, speed, effectCatalogue)!.value).toBe(3);
    expect(taken.layers[1]!.muted).toBe(true);
    expect(JSON.stringify(start)).toBe(before);
    expect(takeDraws(start, { 'layer/gone/gain': 3 }, effectCatalogue)).toEqual(start);
  });

  it('siblings sound different, the same sibling the same', () => {
    const render = (index: number): Float32Array =>
      renderSound(siblingSound(sound(family(5)), index, effectCatalogue), context, { tail: 'ring out' }).channels[0]!;
    expect(render(0)).toEqual(render(0));
    expect(render(0)).not.toEqual(render(1));
  });

  it('a sound without sways has siblings like itself', () => {
    const plain = sound(edited(project, 'setFamily', { sound: id, size: 2 }));
    expect(siblingSound(plain, 1, effectCatalogue).layers).toEqual(plain.layers);
  });
});

describe('sways', () => {
  it('move linear properties by addition and frequencies by intervals, within their range', () => {
    const gain = findProperty(sound(project), `layer/${layer.id}/gain`, effectCatalogue)!.parameter;
    if (gain.kind !== 'number') throw new Error('gain is a number');
    expect(offsetValue(gain, -3, 1.5)).toBe(-1.5);
    expect(offsetValue(gain, 30, 100)).toBe(36);
    const frequency = effectCatalogue.get('eq')!.parameters['band3Frequency']!;
    const attack = effectCatalogue.get('compressor')!.parameters['attack']!;
    if (frequency.kind !== 'number' || attack.kind !== 'number') throw new Error('both are numbers');
    expect(offsetValue(frequency, 500, 12)).toBeCloseTo(1_000);
    expect(offsetValue(attack, 0.01, 50)).toBeCloseTo(0.015);
    // What an offset does, the offset between base and result says again.
    for (const [parameter, base, offset] of [
      [gain, -3, 4.5],
      [frequency, 700, -7],
      [attack, 0.02, 60],
    ] as const)
      expect(offsetFor(parameter, base, offsetValue(parameter, base, offset))).toBeCloseTo(offset, 9);
  });

  it('reach every number, choice and switch and the presence of each layer', () => {
    const withEffect = edited(project, 'addEffect', { sound: id, owner: { layer: layer.id }, effect: 'compressor' });
    const offers = swayOffers(
      { ...sound(withEffect), family: { ...sound(withEffect).family, sways: [] } },
      project.sources,
      effectCatalogue,
    );
    const addresses = offers.map(({ sway }) => sway.address);
    expect(addresses).toContain(presence);
    expect(addresses).toContain(speed);
    expect(addresses.some((address) => address.endsWith('/threshold'))).toBe(true);
    const detector = offers.find(({ sway }) => sway.address.endsWith('/detector'))?.sway;
    expect(detector).toMatchObject({ kind: 'choice', of: ['peak', 'RMS'] });
    // What varies already is not offered again.
    const [first] = offers;
    const varied = edited(withEffect, 'setSway', { sound: id, sway: first!.sway, label: '' });
    expect(swayOffers(sound(varied), project.sources, effectCatalogue)).not.toContainEqual(first);
  });

  it('ready strengths grow and keep what is locked', () => {
    const reach = (strength: 'Slight' | 'Bold'): number => {
      const [first] = readySways(sound(project), strength, effectCatalogue);
      return first?.kind === 'range' ? first.high : 0;
    };
    expect(reach('Bold')).toBeGreaterThan(reach('Slight'));
    let changed = edited(project, 'setSway', {
      sound: id,
      sway: { kind: 'range', address: speed, low: -9, high: 9, locked: true },
      label: '',
    });
    changed = edited(changed, 'setSways', { sound: id, sways: readySways(sound(project), 'Slight', effectCatalogue), label: '' });
    const found = sound(changed).family.sways.filter((sway) => sway.address === speed);
    expect(found).toHaveLength(1);
    expect(found[0]).toMatchObject({ high: 9, locked: true });
  });
});
