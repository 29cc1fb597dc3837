import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { metersOf } from '../../../testing/meters';
import { choose } from '../../../testing/choices';
import { configureStores, openProject, shownErrors } from '../../../testing/project';
import { LiveEngine } from '../../engine/live/live-engine';
import type { DocumentStore } from '../../state/project/document.store';
import { MovesView } from './moves-view';

describe('moves', () => {
  let fixture: ComponentFixture<MovesView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    fixture = TestBed.createComponent(MovesView);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const sound = () => store.project()!.sounds[0]!;
  const press = async (text: string): Promise<void> => {
    [...host.querySelectorAll('button')].find((button) => button.textContent.trim() === text)!.click();
    await fixture.whenStable();
  };
  const key = async (element: Element, name: string, options: KeyboardEventInit = {}): Promise<void> => {
    element.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, ...options }));
    await fixture.whenStable();
  };

  const pick = async (text: string): Promise<void> => {
    [...document.querySelectorAll<HTMLElement>('[mat-menu-item]')].findLast((item) => item.textContent!.trim() === text)!.click();
    await fixture.whenStable();
  };

  it('teaches what there is while there is nothing', () => {
    expect(host.textContent).toContain('A tide is a drawn curve that goes round and round');
  });

  it('adds tides, reins and walks, chooses the newest, and removes them', async () => {
    await press('+ Tide');
    await press('+ Tide');
    await press('+ Rein');
    expect(sound().movers.map(({ name }) => name)).toEqual(['Tide 1', 'Tide 2', 'Rein 1']);
    expect(host.querySelector('.mover.chosen')!.textContent).toContain('Rein 1');
    await press('Remove');
    expect(sound().movers).toHaveLength(2);
    store.undo();
    expect(sound().movers).toHaveLength(3);
  });

  it('shows where a follower is while the sound plays', async () => {
    await press('+ Follower');
    const [follower] = sound().movers;
    const engine = TestBed.inject(LiveEngine);
    const bar = (): string => host.querySelector<HTMLElement>('.mover .at')!.style.left;
    expect(bar()).toBe('0%');
    engine.playing.set('sound');
    engine.meters.set(metersOf({ followers: new Map([[follower!.id, 0.75]]) }));
    await fixture.whenStable();
    expect(bar()).toBe('75%');
    engine.playing.set(undefined);
    await fixture.whenStable();
    expect(bar()).toBe('0%');
  });

  it('draws a tide by keys: points move between their neighbours, Delete takes them away', async () => {
    await press('+ Tide');
    await press('triangle');
    const tide = () => {
      const [mover] = sound().movers;
      return mover?.kind === 'tide' ? mover.points : [];
    };
    const points = () => [...host.querySelectorAll('tc-tide-curve .point')];
    await key(points()[1]!, 'ArrowDown');
    expect(tide()[1]!.value).toBeCloseTo(0.95);
    for (let i = 0; i < 20; i++) await key(points()[1]!, 'ArrowRight');
    expect(tide()[1]!.at).toBeCloseTo(0.75);
    await key(points()[1]!, 'Delete');
    expect(tide()).toHaveLength(2);
    for (let i = 0; i < 4; i++) await key(points()[0]!, 'Delete');
    expect(tide()).toHaveLength(1);
  });

  it('pulls a property by as much as its dial says, and lets it go', async () => {
    await press('+ Walk');
    const mover = sound().movers[0]!.id;
    const address = `layer/${sound().layers[0]!.id}/gain`;
    store.edit('setPull', { sound: sound().id, mover, address, depth: 3 });
    await fixture.whenStable();
    const dial = host.querySelector<HTMLElement>('.pull tc-value')!;
    expect(dial.getAttribute('aria-label')).toBe('slab knock: gain');
    expect(dial.getAttribute('aria-valuetext')).toBe('+3.0 dB');
    await key(dial, 'ArrowUp');
    expect(sound().pulls[0]!.depth).toBeGreaterThan(3);
    await press('×');
    expect(sound().pulls).toEqual([]);
    expect(host.textContent).toContain('It pulls nothing yet.');
  });

  it('turns a rein, or the whole of its lane once it has one', async () => {
    await press('+ Rein');
    const dial = host.querySelector<HTMLElement>('.rein tc-value')!;
    await key(dial, 'ArrowUp');
    const rein = () => {
      const [mover] = sound().movers;
      return mover?.kind === 'rein' ? mover.value : NaN;
    };
    expect(rein()).toBeGreaterThan(0);
    const before = rein();
    await press('Automate');
    expect(sound().automation[0]!.address).toBe(`rein/${sound().movers[0]!.id}/value`);
    await key(host.querySelector('.rein tc-value')!, 'ArrowUp');
    expect(rein()).toBe(before);
    expect(sound().automation[0]!.trim).toBeGreaterThan(0);
  });

  it('turns the round of a tide and the rate of a walk as properties: with a lane, and pulled by reins', async () => {
    await press('+ Walk');
    await press('+ Tide');
    const [walk, tide] = sound().movers;
    const address = `tide/${tide!.id}/length`;
    const dial = (): HTMLElement => host.querySelector<HTMLElement>('.fields tc-value')!;
    expect(dial().getAttribute('aria-label')).toBe('Round');
    await key(dial(), 'ArrowUp');
    expect(sound().movers[1]).toMatchObject({ kind: 'tide', length: expect.closeTo(4.2, 0) });
    await press('Automate');
    expect(sound().automation.map((lane) => lane.address)).toEqual([address]);
    await key(dial(), 'ArrowUp');
    expect(sound().automation[0]!.trim).toBeGreaterThan(0);
    store.edit('setPull', { sound: sound().id, mover: walk!.id, address, depth: 20 });
    expect(sound().pulls).toHaveLength(1);
    store.edit('setPull', { sound: sound().id, mover: tide!.id, address: `walk/${walk!.id}/rate`, depth: 20 });
    expect(shownErrors.at(-1)).toContain('“Tide 1” cannot pull that');
  });

  it('follows a layer, and says why it cannot follow what it moves', async () => {
    await press('+ Follower');
    const [first, second] = sound().layers;
    await choose(fixture, 'Follows', second!.name);
    const mover = sound().movers[0]!;
    expect(mover).toMatchObject({ kind: 'follower', listens: `layer/${second!.id}` });
    store.edit('setPull', { sound: sound().id, mover: mover.id, address: `layer/${first!.id}/gain`, depth: 6 });
    expect(sound().pulls).toHaveLength(1);
    store.edit('setPull', { sound: sound().id, mover: mover.id, address: `layer/${second!.id}/gain`, depth: 6 });
    expect(sound().pulls).toHaveLength(1);
    expect(shownErrors).toEqual(['Layers cannot be keys of each other, or follow each other, in a circle.']);
  });

  it('pulls all clips of a layer by one dial, until one of them is pulled otherwise', async () => {
    const layer = sound().layers[0]!;
    store.edit('duplicateClips', { sound: sound().id, clips: [layer.clips[0]!.id] });
    await press('+ Rein');
    await press(`+ Pull a property of “${layer.name}”…`);
    await pick('Its 2 clips');
    await pick('Pitch');
    const [first, second] = sound().layers[0]!.clips.map(({ id }) => `layer/${layer.id}/clip/${id}/pitch`);
    expect(sound().pulls.map(({ address, depth }) => ({ address, depth }))).toEqual([
      { address: first, depth: 3 },
      { address: second, depth: 3 },
    ]);
    const dials = (): HTMLElement[] => [...host.querySelectorAll<HTMLElement>('.pull tc-value')];
    expect(dials().map((dial) => dial.getAttribute('aria-label'))).toEqual(['slab knock · 2 clips: pitch']);
    await key(dials()[0]!, 'ArrowUp');
    expect(sound().pulls[0]!.depth).toBeGreaterThan(3);
    expect(sound().pulls[1]!.depth).toBe(sound().pulls[0]!.depth);
    store.undo();
    expect(sound().pulls.map(({ depth }) => depth)).toEqual([3, 3]);
    store.edit('setPull', { sound: sound().id, mover: sound().movers[0]!.id, address: second!, depth: -1 });
    await fixture.whenStable();
    expect(dials().map((dial) => dial.getAttribute('aria-valuetext'))).toEqual(['+3.0 st', '−1.0 st']);
  });

  it('pulls along a part of the way only, bent as it is told', async () => {
    await press('+ Rein');
    const address = `layer/${sound().layers[0]!.id}/gain`;
    store.edit('setPull', { sound: sound().id, mover: sound().movers[0]!.id, address, depth: 3 });
    await fixture.whenStable();
    host.querySelector<HTMLElement>('[aria-label^="How it pulls"]')!.click();
    await fixture.whenStable();
    await key(host.querySelector('[aria-label^="From of"]')!, 'ArrowUp');
    await key(host.querySelector('[aria-label^="Bend of"]')!, 'ArrowUp');
    expect(sound().pulls[0]!.from).toBeGreaterThan(0);
    expect(sound().pulls[0]!.bend).toBeGreaterThan(0);
  });
});
