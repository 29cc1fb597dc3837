import fc from 'fast-check';
import { effectCatalogue } from '../catalogue';
import { findProperty, orderAddress, someAddress, swingAddress } from '../project/address';
import type { NewSway } from '../project/edits';
import { parseProject } from '../project/parse';
import type { Project, Sound } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { drawSibling, goAlong } from './draw';
import { siblingSound } from './take-draws';

const { project } = projectWith({ heel: mono(noise(4_800)), toe: mono(noise(2_400, 2)), grain: mono(noise(1_200, 3)) });
const id = project.sounds[0]!.id;
const layers = project.sounds[0]!.layers;
const speedOf = (l: number): string => `layer/${layers[l]!.id}/clip/${layers[l]!.clips[0]!.id}/speed`;
const size = 1_000;

const sound = (p: Project): Sound => p.sounds[0]!;

function swaying(...sways: readonly NewSway[]): Project {
  const swayed = sways.reduce((p, sway) => edited(p, 'setSway', { sound: id, sway, label: '' }), project);
  return edited(swayed, 'setFamily', { sound: id, size, seed: 4_127 });
}

const drawn = (p: Project, address: string): (number | string | boolean | object)[] =>
  sound(p).family.siblings.map((_, index) => drawSibling(sound(p), index)[address]!);
const numbers = (p: Project, address: string): number[] => drawn(p, address).map(Number);
const shareOf = (values: readonly number[], wanted: (value: number) => boolean): number => values.filter(wanted).length / values.length;

/** Greatest distance of the share of values below a place to that place: 0 where they are spread evenly from 0 to 1 (Kolmogorov). */
function unevenness(values: readonly number[]): number {
  return Math.max(...values.toSorted((a, b) => a - b).map((value, i) => Math.abs((i + 0.5) / values.length - value)));
}

/** Pearson's correlation. */
function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
  const [ma, mb] = [mean(a), mean(b)];
  const along = (p: readonly number[], mp: number, q: readonly number[], mq: number): number =>
    mean(p.map((value, i) => (value - mp) * (q[i]! - mq)));
  return along(a, ma, b, mb) / Math.sqrt(along(a, ma, a, ma) * along(b, mb, b, mb));
}

const range = (address: string, more: Partial<Extract<NewSway, { kind: 'range' }>> = {}): NewSway => ({
  kind: 'range',
  address,
  low: 0,
  high: 1,
  locked: false,
  ...more,
});

describe('the shape of a range', () => {
  // Shares of the middle half of the range: of an even one a half, of a triangle 3/4, of an arcsine 1/3.
  it.each([
    ['even', 1 / 2],
    ['middle', 3 / 4],
    ['ends', 1 / 3],
  ] as const)('gathers draws: %s', (shape, share) => {
    const values = numbers(swaying(range(speedOf(0), { shape })), speedOf(0));
    expect(Math.abs(shareOf(values, (value) => value > 0.25 && value < 0.75) - share)).toBeLessThan(0.05);
    expect(Math.abs(shareOf(values, (value) => value < 0.5) - 0.5)).toBeLessThan(0.05);
    for (const value of values) expect(value).toBeGreaterThanOrEqual(0);
    for (const value of values) expect(value).toBeLessThanOrEqual(1);
  });

  it('takes each step as often as the others, up to both ends', () => {
    const values = numbers(swaying(range(speedOf(0), { low: -2, high: 2, steps: 1 })), speedOf(0));
    for (const step of [-2, -1, 0, 1, 2]) expect(Math.abs(shareOf(values, (value) => value === step) - 0.2)).toBeLessThan(0.05);
  });

  it('keeps to the notes of a scale on the base', () => {
    const values = numbers(swaying(range(speedOf(0), { low: -12, high: 12, steps: 'five-note minor' })), speedOf(0));
    expect([...new Set(values)].sort((a, b) => a - b)).toEqual([-12, -9, -7, -5, -2, 0, 3, 5, 7, 10, 12]);
  });

  it('without a step in reach stays as it is', () => {
    const values = numbers(swaying(range(speedOf(0), { low: 0.2, high: 0.4, steps: 1 })), speedOf(0));
    expect(unevenness(values.map((value) => (value - 0.2) / 0.2))).toBeLessThan(0.06);
  });
});

describe('a link', () => {
  const linked = (amount: number): [number[], number[]] => {
    const p = swaying(range(speedOf(0)), range(speedOf(1), { follows: { address: speedOf(0), amount } }));
    return [numbers(p, speedOf(0)), numbers(p, speedOf(1))];
  };

  it('goes along wholly, the other way round, partly, or not at all, and stays spread evenly', () => {
    const [leader, along] = linked(1);
    expect(along).toEqual(leader);
    const [, against] = linked(-1);
    against.forEach((value, i) => expect(value).toBeCloseTo(1 - leader[i]!, 12));
    expect(Math.abs(correlation(...linked(0)))).toBeLessThan(0.1);
    let before = 0.1;
    for (const amount of [0.3, 0.5, 0.7, 0.9]) {
      const [l, f] = linked(amount);
      expect(correlation(l, f)).toBeGreaterThan(before);
      before = correlation(l, f);
      // The critical value for a thousand draws at one in a thousand.
      expect(unevenness(f)).toBeLessThan(1.95 / Math.sqrt(size));
    }
  });

  it('stays between 0 and 1', () => {
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(unit, unit, fc.double({ min: -1, max: 1, noNaN: true }), (leader, own, amount) => {
        const moved = goAlong(leader, own, amount);
        return moved >= 0 && moved <= 1;
      }),
    );
  });

  it('does not move who leads, holds for presences, and ends with who leads', () => {
    const alone = numbers(swaying(range(speedOf(0))), speedOf(0));
    const presence = `layer/${layers[2]!.id}/presence`;
    const p = swaying(range(speedOf(0)), {
      kind: 'presence',
      address: presence,
      chance: 0.4,
      locked: false,
      follows: { address: speedOf(0), amount: 1 },
    });
    expect(numbers(p, speedOf(0))).toEqual(alone);
    expect(numbers(p, presence)).toEqual(alone.map((value) => Number(value < 0.4)));
    const leader = sound(p).family.sways.find(({ address }) => address === speedOf(0))!;
    const left = edited(p, 'removeSway', { sound: id, sway: leader.id });
    expect(sound(left).family.sways).toHaveLength(1);
    expect(sound(left).family.sways[0]).not.toHaveProperty('follows');
  });

  it('in a circle leads nowhere', () => {
    const p = swaying(
      range(speedOf(0), { follows: { address: speedOf(1), amount: 1 } }),
      range(speedOf(1), { follows: { address: speedOf(0), amount: 1 } }),
    );
    const closed = edited(p, 'setSway', { sound: id, sway: range(speedOf(0), { follows: { address: speedOf(1), amount: 1 } }), label: '' });
    expect(unevenness(numbers(closed, speedOf(0)))).toBeLessThan(0.07);
  });
});

describe('choices, numbers of layers, orders and swing', () => {
  it('a choice takes its values one after the other before one comes again, a switch both', () => {
    const limited = edited(project, 'addEffect', { sound: id, owner: 'sound', effect: 'compressor' });
    const detector = `sound/chain/${sound(limited).chain[0]!.id}/detector`;
    const p = edited(
      edited(limited, 'setSway', { sound: id, sway: { kind: 'choice', address: detector, of: ['RMS', 'peak'], locked: false }, label: '' }),
      'setFamily',
      { sound: id, size: 8 },
    );
    const values = drawn(p, detector);
    for (let i = 0; i < 8; i += 2) expect([values[i], values[i + 1]].sort()).toEqual(['RMS', 'peak']);
    for (const [i, value] of values.entries())
      expect(findProperty(siblingSound(sound(p), i, effectCatalogue), detector, effectCatalogue)!.value).toBe(value);
    // What is no value of it any more changes nothing.
    const strange = edited(p, 'setSway', {
      sound: id,
      sway: { kind: 'choice', address: detector, of: ['elsewhere'], locked: false },
      label: '',
    });
    expect(siblingSound(sound(strange), 0, effectCatalogue).chain).toEqual(sound(strange).chain);
  });

  it('so many of some layers are there, each number and each layer as often', () => {
    const address = someAddress(1);
    const p = swaying({ kind: 'some', address, layers: layers.map((layer) => layer.id), least: 1, most: 2, locked: false });
    const there = sound(p).family.siblings.map((_, index) =>
      siblingSound(sound(p), index, effectCatalogue).layers.filter(({ muted }) => !muted),
    );
    expect(Math.abs(there.filter((each) => each.length === 1).length / size - 0.5)).toBeLessThan(0.05);
    expect(there.every((each) => each.length >= 1 && each.length <= 2)).toBe(true);
    for (const layer of layers)
      expect(Math.abs(there.filter((each) => each.some((other) => other.id === layer.id)).length / size - 0.5)).toBeLessThan(0.06);
  });

  it('a kept sibling stays when the sway goes, and loses no more than the layer that goes', () => {
    const address = someAddress(1);
    let p = swaying({ kind: 'some', address, layers: layers.map((layer) => layer.id), least: 1, most: 1, locked: false });
    p = edited(p, 'judgeSibling', { sound: id, index: 0, state: 'kept', draws: drawSibling(sound(p), 0) });
    const before = siblingSound(sound(p), 0, effectCatalogue).layers.map(({ muted }) => muted);
    const gone = edited(p, 'removeSway', { sound: id, sway: sound(p).family.sways[0]!.id });
    expect(siblingSound(sound(gone), 0, effectCatalogue).layers.map(({ muted }) => muted)).toEqual(before);
    const fewer = edited(p, 'removeLayer', { sound: id, layer: layers[1]!.id });
    expect(sound(fewer).family.sways[0]).toMatchObject({ layers: [layers[0]!.id, layers[2]!.id] });
  });

  it('clips come in another order, in the places that there are; every second one swings', () => {
    const layer = layers[0]!.id;
    let p = edited(project, 'moveClips', { sound: id, to: [{ clip: layers[0]!.clips[0]!.id, start: 1 }] });
    for (const [l, start] of [
      [1, 1.5],
      [2, 2.5],
    ] as const)
      p = edited(p, 'moveClips', { sound: id, to: [{ clip: layers[l]!.clips[0]!.id, start, layer }] });
    p = edited(p, 'setSway', { sound: id, sway: { kind: 'order', address: orderAddress(layer), locked: false }, label: '' });
    p = edited(p, 'setFamily', { sound: id, size: 60, seed: 3 });
    const orders = new Set<string>();
    for (let i = 0; i < 60; i++) {
      const { clips } = siblingSound(sound(p), i, effectCatalogue).layers[0]!;
      expect(clips.map(({ start }) => start).sort()).toEqual([1, 1.5, 2.5]);
      orders.add(
        clips
          .toSorted((a, b) => a.start - b.start)
          .map(({ source }) => source)
          .join(' '),
      );
    }
    expect(orders.size).toBe(6);

    const swing = range(swingAddress(layer), { low: 0.2, high: 0.2 });
    const swung = edited(edited(p, 'removeSway', { sound: id, sway: sound(p).family.sways[0]!.id }), 'setSway', {
      sound: id,
      sway: swing,
      label: '',
    });
    const starts = siblingSound(sound(swung), 0, effectCatalogue).layers[0]!.clips.map(({ start }) => start);
    expect(starts.sort()).toEqual([1, 1.5 + 0.2 * 1, 2.5]);
  });

  it('a sway goes where its clip goes, with its chance and with what kept siblings drew', () => {
    const clip = layers[0]!.clips[0]!.id;
    let p = swaying(range(speedOf(0)), range(speedOf(1), { follows: { address: speedOf(0), amount: 1 } }));
    p = edited(p, 'judgeSibling', { sound: id, index: 1, state: 'kept', draws: drawSibling(sound(p), 1) });
    const moved = edited(p, 'moveClips', { sound: id, to: [{ clip, start: 0, layer: layers[1]!.id }] });
    const address = `layer/${layers[1]!.id}/clip/${clip}/speed`;
    expect(numbers(moved, address)).toEqual(numbers(p, speedOf(0)));
    expect(numbers(moved, speedOf(1))).toEqual(numbers(p, speedOf(1)));
  });

  it('a copy of the sound has the same siblings', () => {
    const ids = layers.map((layer) => layer.id);
    let p = swaying(
      { kind: 'some', address: someAddress(1), layers: ids, least: 1, most: 2, locked: false },
      { kind: 'order', address: orderAddress(ids[0]!), locked: false },
      range(speedOf(0), { shape: 'ends', steps: 0.1 }),
    );
    p = edited(p, 'setFamily', { sound: id, size: 6 });
    const kept = sound(p).family.siblings.map((_, index) => drawSibling(sound(p), index));
    p = edited(p, 'keepOpen', { sound: id, draws: kept });
    const copied = edited(p, 'duplicateSound', { sound: id });
    const parsed = parseProject(structuredClone(copied), effectCatalogue);
    for (let i = 0; i < 6; i++) {
      const [first, second] = parsed.sounds.map((each) => siblingSound(each, i, effectCatalogue));
      expect(second!.layers.map(({ muted }) => muted)).toEqual(first!.layers.map(({ muted }) => muted));
      expect(second!.layers[0]!.clips[0]!.speed).toBe(first!.layers[0]!.clips[0]!.speed);
    }
  });
});
