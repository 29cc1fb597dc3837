import type { Project, Tide, Walk } from '../project/schema';
import { effectCatalogue } from '../catalogue';
import { siblingSound } from '../kin/take-draws';
import { swayOffers } from '../kin/sway-offers';
import { findProperty, isAutomatable, listAddresses, ownerOfAddress } from '../project/address';
import { freezeRecipe } from '../print/freeze-layer';
import { printRecipe } from '../print/print-sound';
import { coursesOf } from '../render/automation';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { mono, sine } from '../testing/signals';
import { moverCourse, tideHeight } from './mover-value';
import { shapePoints } from './tide-shapes';

const rate = 48_000;
const { project, context } = projectWith({ Tone: mono(sine(1_000, 8, rate, -20)) });
const sound = project.sounds[0]!.id;
const layer = project.sounds[0]!.layers[0]!.id;
const gain = `layer/${layer}/gain`;
const points = shapePoints('triangle');

/** A sound whose tide pulls the layer's gain, with a rein and a walk beside it. */
function withMovers(): { readonly made: Project; readonly tide: string; readonly rein: string; readonly walk: string } {
  let made = project;
  for (const kind of ['tide', 'rein', 'walk'] as const) made = edited(made, 'addMover', { sound, kind, name: `The ${kind}` });
  const [tide, rein, walk] = made.sounds[0]!.movers.map(({ id }) => id);
  made = edited(made, 'setMover', { sound, mover: tide!, settings: { length: 1, smoothing: 0, points } });
  made = edited(made, 'setPull', { sound, mover: tide!, address: gain, depth: 12 });
  return { made, tide: tide!, rein: rein!, walk: walk! };
}
const coursesFor = ({ sounds }: Project) => coursesOf(sounds[0]!, rate, () => ({ at: () => 0 }));

describe('the pace of a tide or a walk', () => {
  it('is what their rounds and steps add up to while it changes', () => {
    const tide: Tide = { id: 't', kind: 'tide', name: '', length: 1, unit: 'seconds', phase: 0.1, smoothing: 0, frozen: false, points };
    // From 1 s a round to 1/4 s within 10 s, exponentially: ∫ 4^(t / 10) dt rounds.
    const course = moverCourse(tide, 120, (time) => 4 ** (-time / 10));
    for (const time of [0, 0.3, 2, 5.55, 10]) {
      const rounds = (10 / Math.log(4)) * (4 ** (time / 10) - 1) + 0.1;
      expect(course.at(time)).toBeCloseTo(tideHeight({ points }, rounds % 1), 2);
      expect(course.rounds!(time)).toBeCloseTo(rounds, 4);
    }
    // In beats: at 60 a minute as many seconds.
    const beats = moverCourse({ ...tide, unit: 'beats' }, 60, (time) => 4 ** (-time / 10));
    expect(beats.at(7.3)).toBe(course.at(7.3));
    // A pace that stays is no other than without anything that moves it, and every moment can be asked for in any order.
    const still = moverCourse(tide, 120, () => 1);
    for (const time of [9.2, 0.4, 7]) expect(still.at(time)).toBeCloseTo(moverCourse(tide, 120).at(time), 6);
    const walk: Walk = { id: 'w', kind: 'walk', name: '', rate: 2, seed: 7 };
    const faster = moverCourse(walk, 120, (time) => 2 + time);
    for (const time of [6, 0.5, 3]) expect(faster.at(time)).toBeCloseTo(moverCourse(walk, 120).at((2 * time + time ** 2 / 2) / 2), 4);
  });

  it('is a property: it has a lane, a sway, and is pulled by reins and walks, as it is heard', () => {
    const { made, tide, rein, walk } = withMovers();
    const address = `tide/${tide}/length`;
    expect(listAddresses(made.sounds[0]!, effectCatalogue)).toEqual(
      expect.arrayContaining([address, `walk/${walk}/rate`, `rein/${rein}/value`]),
    );
    const property = findProperty(made.sounds[0]!, address, effectCatalogue)!;
    expect([property.owner, property.value, isAutomatable(property), ownerOfAddress(address)]).toEqual([
      'Tide · The tide',
      1,
      true,
      'sound',
    ]);
    let moved = edited(made, 'addAutomation', { sound, address });
    const lane = moved.sounds[0]!.automation[0]!.id;
    const ramp = [
      { time: 0, value: 2, bend: 0 },
      { time: 8, value: 0.5, bend: 0 },
    ];
    moved = edited(moved, 'setAutomationPoints', { sound, lane, points: ramp, action: 'Draw' });
    const [left] = renderSound(moved.sounds[0]!, context, { tail: 'cut at the last clip' }).channels;
    const levelAt = (time: number): number => {
      let sum = 0;
      for (let i = Math.round(time * rate) - 240; i < time * rate + 240; i++) sum += left![i]! ** 2;
      return 10 * Math.log10(sum / 240);
    };
    // Lengths go along their dial, by intervals: 2 · 4^(−t / 8).
    for (const time of [0.5, 2.2, 4, 6.1, 7.6]) {
      const rounds = (8 / (2 * Math.log(4))) * (4 ** (time / 8) - 1);
      expect(Math.abs(levelAt(time) - (-20 + 12 * tideHeight({ points }, rounds % 1)))).toBeLessThan(0.6);
    }
    // A rein drawn to its end, and a length half as long.
    let pulled = edited(made, 'setPull', { sound, mover: rein, address, depth: -50 });
    pulled = edited(pulled, 'setValues', { sound, values: { [`rein/${rein}/value`]: 1 }, label: '' });
    expect(coursesFor(pulled).get(tide)!.at(3.1)).toBeCloseTo(tideHeight({ points }, 0.2), 3);
    const offer = swayOffers(made.sounds[0]!, made.sources, effectCatalogue).find(({ sway }) => sway.address === address)!;
    const swayed = edited(made, 'setSway', { sound, sway: offer.sway, label: '' });
    const lengths = [0, 1, 2].map((take) => {
      const sibling = siblingSound(swayed.sounds[0]!, take, effectCatalogue).movers[0]!;
      return sibling.kind === 'tide' ? sibling.length : NaN;
    });
    expect(new Set(lengths).size).toBe(3);
  });

  it('never goes round in circles: walks pull tides, reins pull both, and nothing pulls reins', () => {
    const { made, tide, rein, walk } = withMovers();
    const refused = (mover: string, address: string): void =>
      expect(() => edited(made, 'setPull', { sound, mover, address, depth: 10 })).toThrow('cannot pull that');
    refused(tide, `tide/${tide}/length`);
    refused(tide, `walk/${walk}/rate`);
    refused(walk, `walk/${walk}/rate`);
    refused(walk, `rein/${rein}/value`);
    let pulled = edited(made, 'setPull', { sound, mover: walk, address: `tide/${tide}/length`, depth: 20 });
    pulled = edited(pulled, 'setPull', { sound, mover: rein, address: `walk/${walk}/rate`, depth: 12 });
    // A document from elsewhere may have it so; it does not pull.
    const pull = { id: 'pull-x', mover: tide, address: `tide/${tide}/length`, depth: 50 };
    const bent = { ...pulled, sounds: pulled.sounds.map((each) => ({ ...each, pulls: [...each.pulls, pull] })) };
    expect(coursesFor(bent).get(tide)!.at(3.3)).toBe(coursesFor(pulled).get(tide)!.at(3.3));
  });

  it('goes with its mover: prints and frozen layers keep who moves whom, and nothing is left of what is removed', () => {
    const { made, tide, rein, walk } = withMovers();
    let pulled = edited(made, 'setPull', { sound, mover: walk, address: `tide/${tide}/length`, depth: 20 });
    pulled = edited(pulled, 'setPull', { sound, mover: rein, address: `walk/${walk}/rate`, depth: 12 });
    pulled = edited(pulled, 'addAutomation', { sound, address: `rein/${rein}/value` });
    expect(printRecipe(pulled.sounds[0]!, { layers: [layer] })).toMatchObject({ pulls: [{}, {}, {}], automation: [{}] });
    // The tide moves the fader alone, which is not frozen; with a pull at the chain all of them count.
    expect(freezeRecipe(pulled.sounds[0]!, layer)).toMatchObject({ pulls: [], automation: [], movers: [] });
    const [first] = edited(pulled, 'addEffect', { sound, owner: { layer }, effect: 'trim', index: 0 }).sounds;
    const step = first!.layers[0]!.chain[0]!.id;
    const inChain = { id: 'pull-y', mover: tide, address: `layer/${layer}/chain/${step}/gain`, depth: 3 };
    const frozen = freezeRecipe({ ...first!, pulls: [...first!.pulls, inChain] }, layer);
    expect(frozen.movers.map(({ id }) => id)).toEqual([tide, rein, walk]);
    expect([frozen.pulls.length, frozen.automation.length]).toEqual([3, 1]);
    // Into another sound they all come along, each pulling what it did.
    const from = pulled.sounds[0]!;
    const elsewhere = edited(pulled, 'addSound', { name: 'Another' });
    const pasted = edited(elsewhere, 'pasteLayers', { sound: elsewhere.sounds[1]!.id, copied: { from, layers: [layer] } }).sounds[1]!;
    const nameOf = (id: string): string => pasted.movers.find((mover) => mover.id === id)!.name;
    expect(pasted.pulls.map((pull) => [nameOf(pull.mover), findProperty(pasted, pull.address, effectCatalogue)?.owner])).toEqual(
      expect.arrayContaining([
        ['The walk', 'Tide · The tide'],
        ['The rein', 'Walk · The walk'],
      ]),
    );
    const gone = edited(pulled, 'removeMover', { sound, mover: tide }).sounds[0]!;
    expect(gone.pulls.map(({ address }) => address)).toEqual([`walk/${walk}/rate`]);
    expect(edited(pulled, 'removeMover', { sound, mover: rein }).sounds[0]!.automation).toEqual([]);
  });
});
