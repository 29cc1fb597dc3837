import { TestBed } from '@angular/core/testing';
import { configureStores, openProject } from '../../testing/project';
import { FamilyMap } from './family-map.store';
import { FamilyRenders } from './family-renders.store';
import type { DocumentStore } from './project/document.store';

describe('the map of a family', () => {
  let document: InstanceType<typeof DocumentStore>;
  let map: FamilyMap;

  beforeEach(async () => {
    configureStores();
    document = await openProject();
    const sound = document.project()!.sounds[0]!;
    document.edit('setFamily', { sound: sound.id, size: 4 });
    const clip = sound.layers[0]!.clips[0]!;
    const address = `layer/${sound.layers[0]!.id}/clip/${clip.id}/gain`;
    // Loudness alone: by ear, levels aside, a layer by itself stays the same sound.
    document.edit('setSway', { sound: sound.id, sway: { kind: 'range', address, low: -9, high: 0, locked: false }, label: 'Level' });
    map = TestBed.inject(FamilyMap);
    TestBed.inject(FamilyRenders).watch(true);
    await settled();
  });

  const family = () => document.project()!.sounds[0]!.family;
  const settled = async (): Promise<void> => {
    for (let i = 0; i < 400 && !map.current(); i++) {
      TestBed.tick();
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
    expect(map.current()).toBe(true);
    expect(map.family()?.places).toHaveLength(4);
  };

  it('keeps the best in one step, never one that is dropped', async () => {
    const { id } = document.project()!.sounds[0]!;
    document.edit('judgeSibling', { sound: id, index: 1, state: 'dropped' });
    await settled();
    map.keepBest(3);
    expect(family().siblings.map(({ state }) => state)).toEqual(['kept', 'dropped', 'kept', 'kept']);
    expect(family().siblings[0]!.draws).toBeDefined();
    document.undo();
    expect(family().siblings.map(({ state }) => state)).toEqual(['open', 'dropped', 'open', 'open']);
  });

  it('evens out the kept ones: rendered anew, they are within the span', async () => {
    map.keepBest(4);
    await settled();
    const loudness = (): number[] =>
      TestBed.inject(FamilyRenders)
        .siblings()
        .map((sibling) => sibling!.measured.integratedLufs);
    const spread = (): number => Math.max(...loudness()) - Math.min(...loudness());
    expect(spread()).toBeGreaterThan(1);
    map.evenOut(0.5);
    const once = family().siblings.map(({ draws }) => draws?.['sound/gain']);
    // A second click comes before anything is measured anew: it changes nothing.
    map.evenOut(0.5);
    expect(family().siblings.map(({ draws }) => draws?.['sound/gain'])).toEqual(once);
    await settled();
    expect(spread()).toBeLessThanOrEqual(0.52);
  });

  it('tells how soon something is heard again: the faster, the sooner', () => {
    map.setRate(4);
    const slow = map.repeats()!;
    map.setRate(8);
    expect(map.repeats()).toBeCloseTo(slow / 2, 6);
  });
});
