import { edited, projectWith } from '../testing/project';
import { mono, noise, sine } from '../testing/signals';
import { guideEnd, guideLayerId, withGuide } from '../project/guide';
import { renderSound } from '../render/render-sound';
import { measureSeating, seatingBands, spreading } from './seating';

const rate = 48_000;
const bandNear = (frequency: number): number =>
  seatingBands.reduce(
    (best, band, i) => (Math.abs(Math.log(band / frequency)) < Math.abs(Math.log(seatingBands[best]! / frequency)) ? i : best),
    0,
  );

function seatingOf(recordings: Readonly<Record<string, Float32Array>>, from = 0, to = 1) {
  const { project, context } = projectWith(Object.fromEntries(Object.entries(recordings).map(([name, samples]) => [name, mono(samples)])));
  const sound = project.sounds[0]!;
  const seating = measureSeating(sound, context, { from, to });
  const nameOf = (id: string): string => sound.layers.find((layer) => layer.id === id)!.name;
  return { seating, nameOf, sound, project, context, seat: (name: string) => seating.layers.find(({ layer }) => nameOf(layer) === name)! };
}

describe('seating', () => {
  it('spreads as published: 0 dB at its own place, steeper below than above', () => {
    expect(spreading(0)).toBeCloseTo(0, 1);
    expect(spreading(-1)).toBeLessThan(spreading(1));
    // Far away, the slopes are 25 and 10 dB per Bark.
    expect(spreading(-6) - spreading(-7)).toBeCloseTo(25, 0);
    expect(spreading(6) - spreading(7)).toBeCloseTo(10, 0);
  });

  it('reads the level of a tone in its band, and to whom the band belongs', () => {
    const { seat, seating } = seatingOf({ Low: sine(100, 1, rate, -12), High: sine(5_000, 1, rate, -20) });
    expect(Math.abs(seat('Low').levels[bandNear(100)]! + 12)).toBeLessThan(0.5);
    expect(Math.abs(seat('High').levels[bandNear(5_000)]! + 20)).toBeLessThan(0.5);
    expect(seat('Low').shares[bandNear(100)]).toBeGreaterThan(0.99);
    expect(seat('High').shares[bandNear(5_000)]).toBeGreaterThan(0.99);
    expect(seating.pairs).toEqual([]);
  });

  it('names who hides whom and where', () => {
    const { seating, nameOf } = seatingOf({ Boom: sine(80, 1, rate, -6), Body: sine(84, 1, rate, -30), Air: noise(rate, 3, -40) });
    const [first] = seating.pairs;
    expect([nameOf(first!.masker), nameOf(first!.masked)]).toEqual(['Boom', 'Body']);
    expect(first!.from).toBeLessThan(84);
    expect(first!.to).toBeGreaterThan(84);
    expect(first!.share).toBeGreaterThan(0.9);
  });

  it('does not call hidden what sounds at another time', () => {
    const early = sine(80, 1, rate, -6).fill(0, 22_000);
    const late = sine(84, 1, rate, -30).fill(0, 0, 30_000);
    expect(seatingOf({ Boom: early, Body: late }).seating.pairs).toEqual([]);
  });

  it('masks upwards more than downwards', () => {
    const above = seatingOf({ Loud: sine(400, 1, rate, 0), Soft: sine(770, 1, rate, -34) });
    const below = seatingOf({ Loud: sine(400, 1, rate, 0), Soft: sine(160, 1, rate, -34) });
    expect(above.seat('Soft').masked[bandNear(770)]).toBeGreaterThan(0.9);
    expect(below.seat('Soft').masked[bandNear(160)]).toBeLessThan(0.1);
  });

  it('finds the empty bands', () => {
    const { seating } = seatingOf({ Low: sine(60, 1, rate, -10), Middle: sine(1_000, 1, rate, -10) });
    expect(seating.gaps.some(({ from, to }) => from < 250 && to > 300)).toBe(true);
    expect(seating.gaps.every(({ from, to }) => !(from < 1_000 && to > 1_000))).toBe(true);
    expect(seatingOf({ Noise: noise(rate, 8, -12) }).seating.gaps.filter(({ to }) => to > 200)).toEqual([]);
  });

  it('hears a layer as its chain and its fader leave it, over the stretch that is asked for', () => {
    const { project, context, sound } = seatingOf({ Low: sine(100, 2, rate, -12) });
    const layer = sound.layers[0]!.id;
    const softer = edited(project, 'setValues', { sound: sound.id, values: { [`layer/${layer}/gain`]: -20 }, label: '' });
    const [seat] = measureSeating(softer.sounds[0]!, context, { from: 1, to: 2 }).layers;
    expect(Math.abs(seat!.levels[bandNear(100)]! + 32)).toBeLessThan(0.5);
    expect(() => measureSeating(sound, context, { from: 0, to: 2 }, () => false)).toThrow('cancelled');
  });
});

describe('a guide', () => {
  const boom = sine(120, 3, rate, -6);
  const call = sine(125, 1, rate, -18);
  const { project, context } = projectWith({ boom: mono(boom), call: mono(call) });
  const { id, layers } = project.sounds[0]!;
  const source = project.sources[1]!.id;
  const alone = edited(project, 'removeLayer', { sound: id, layer: layers[1]!.id });
  const guided = edited(alone, 'setGuide', { sound: id, source, start: 1 });
  const seatsFrom = (from: number, to: number, given = guided) => measureSeating(withGuide(given.sounds[0]!, given), context, { from, to });

  it('is seated like a layer where it lies, and never rendered', () => {
    const seating = seatsFrom(1, 2);
    expect(seating.layers.map(({ layer }) => layer)).toContain(guideLayerId);
    expect(seating.pairs.some(({ masker, masked }) => masker === layers[0]!.id && masked === guideLayerId)).toBe(true);
    const level = (from: number, to: number, given = guided): number =>
      seatsFrom(from, to, given).layers.find(({ layer }) => layer === guideLayerId)!.levels[bandNear(125)]!;
    expect(Math.abs(level(1.2, 1.8) + 18)).toBeLessThan(0.5);
    expect(level(2.2, 3)).toBeLessThan(-60);
    const louder = edited(guided, 'changeGuide', { sound: id, change: { gain: 6, repeats: true } });
    expect(Math.abs(level(2.2, 2.8, louder) + 12)).toBeLessThan(0.5);
    expect(renderSound(guided.sounds[0]!, context, { tail: 'cut at the last clip' })).toEqual(
      renderSound(alone.sounds[0]!, context, { tail: 'cut at the last clip' }),
    );
  });

  it('is not there while it is off, and goes with its source', () => {
    const off = edited(guided, 'changeGuide', { sound: id, change: { on: false } });
    expect(withGuide(off.sounds[0]!, off)).toBe(off.sounds[0]);
    expect([guideEnd(guided.sounds[0]!, guided), guideEnd(off.sounds[0]!, off)]).toEqual([2, 0]);
    const early = edited(guided, 'changeGuide', { sound: id, change: { start: -2 } });
    expect(withGuide(early.sounds[0]!, early)).toBe(early.sounds[0]);
    expect(edited(guided, 'removeSources', { sources: [source] }).sounds[0]!.guide).toBeUndefined();
    expect(() => edited(alone, 'changeGuide', { sound: id, change: { on: true } })).toThrow('no guide');
  });
});
