import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { configureStores, openProject } from '../../testing/project';
import type { DocumentStore } from '../state/project/document.store';
import { WorkbenchStore } from '../state/workbench.store';
import { LoftView } from './loft-view';
import { leastZoom } from './timeline/timeline-scale';

describe('the Loft', () => {
  let fixture: ComponentFixture<LoftView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    fixture = TestBed.createComponent(LoftView);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const sound = () => store.project()!.sounds[0]!;
  const button = (name: string): HTMLElement => host.querySelector<HTMLElement>(`[aria-label="${name}"]`)!;
  const press = async (key: string, options: KeyboardEventInit = {}): Promise<void> => {
    document.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...options }));
    await fixture.whenStable();
  };
  const selectClip = async (layer: number): Promise<void> => {
    TestBed.inject(WorkbenchStore).selectClip(sound().layers[layer]!.clips[0]!.id);
    await fixture.whenStable();
  };

  it('shows every layer as a lane with its clips', () => {
    expect([...host.querySelectorAll('.lane')].map((lane) => lane.getAttribute('aria-label'))).toEqual([
      'Layer slab knock',
      'Layer snow grain',
    ]);
    expect(host.querySelectorAll('tc-clip')).toHaveLength(2);
  });

  it('mutes, solos and orders by click and by key', async () => {
    button('Mute slab knock').click();
    button('Solo snow grain').click();
    await fixture.whenStable();
    expect(sound().layers[0]!.muted).toBe(true);
    expect(sound().layers[1]!.soloed).toBe(true);
    TestBed.inject(WorkbenchStore).selectLayer(sound().layers[0]!.id);
    await press('ArrowDown', { ctrlKey: true });
    expect(sound().layers.map((layer) => layer.name)).toEqual(['snow grain', 'slab knock']);
    await press('m');
    expect(sound().layers[1]!.muted).toBe(false);
  });

  it('nudges, trims, levels, duplicates and deletes the chosen clip by key', async () => {
    await selectClip(0);
    const clip = () => sound().layers[0]!.clips[0]!;
    await press('ArrowRight');
    await press('ArrowRight', { shiftKey: true });
    expect(clip().start).toBeCloseTo(0.011);
    await press('ArrowLeft', { altKey: true });
    expect(clip().length).toBeCloseTo(0.99);
    await press('ArrowRight', { ctrlKey: true });
    expect(clip().offset).toBeCloseTo(0.01);
    await press('ArrowDown', { altKey: true });
    expect(clip().gain).toBe(-1);
    await press('d');
    expect(sound().layers[0]!.clips).toHaveLength(2);
    await press('Delete');
    expect(sound().layers[0]!.clips).toHaveLength(1);
  });

  it('builds a chain: adds, switches, moves and removes steps', async () => {
    const workbench = TestBed.inject(WorkbenchStore);
    const owner = workbench.owner();
    store.edit('addEffect', { sound: sound().id, owner, effect: 'eq' });
    store.edit('addEffect', { sound: sound().id, owner, effect: 'compressor' });
    await fixture.whenStable();
    const tiles = [...host.querySelectorAll<HTMLElement>('.tile')];
    expect(tiles.map((tile) => tile.querySelector(':scope > span')!.textContent)).toEqual(['EQ', 'Compressor']);
    expect(host.querySelector('tc-eq-editor')).not.toBeNull();
    button('Switch EQ').click();
    tiles[1]!.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowLeft', ctrlKey: true, bubbles: true }));
    await fixture.whenStable();
    expect(sound().layers[0]!.chain.map((step) => [step.effect, step.enabled])).toEqual([
      ['compressor', true],
      ['eq', false],
    ]);
    button('Remove Compressor').click();
    await fixture.whenStable();
    expect(sound().layers[0]!.chain).toHaveLength(1);
  });

  it('moves EQ bands with the keys and shows what they do', async () => {
    store.edit('addEffect', { sound: sound().id, owner: TestBed.inject(WorkbenchStore).owner(), effect: 'eq' });
    const step = sound().layers[0]!.chain[0]!;
    store.edit('setValues', {
      sound: sound().id,
      values: { [`layer/${sound().layers[0]!.id}/chain/${step.id}/band3On`]: true },
      label: 'On',
    });
    await fixture.whenStable();
    const handle = host.querySelector<HTMLElement>('.handle')!;
    const flat = host.querySelector('path.curve')!.getAttribute('d');
    handle.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true }));
    handle.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
    await fixture.whenStable();
    const { parameters } = sound().layers[0]!.chain[0]!;
    expect(parameters['band3Gain']).toBe(0.5);
    expect(parameters['band3Frequency']).toBeCloseTo(250 * Math.pow(2, 1 / 12));
    expect(host.querySelector('path.curve')!.getAttribute('d')).not.toBe(flat);
  });

  it('drops a source onto a lane as a clip and beside the lanes as a layer', async () => {
    // A page without width is zoomed out as far as it goes.
    const data = { types: ['application/x-choir-source'], getData: () => store.project()!.sources[1]!.id };
    const drop = (target: Element): void =>
      void target.dispatchEvent(
        Object.assign(new Event('drop', { bubbles: true, cancelable: true }), { dataTransfer: data, clientX: 140 }),
      );
    drop(host.querySelectorAll('.lane')[0]!);
    expect(sound().layers[0]!.clips).toHaveLength(2);
    expect(sound().layers[0]!.clips[1]!.start).toBeCloseTo(140 / leastZoom);
    drop(host.querySelector('.new-lane')!);
    expect(sound().layers).toHaveLength(3);
  });

  it('mutes, solos and dissolves the selected group by key, and sets solos aside', async () => {
    const layers = sound().layers.map(({ id }) => id);
    store.edit('groupLayers', { sound: sound().id, layers: [layers[0]!], name: 'Ice' });
    TestBed.inject(WorkbenchStore).selectBus(sound().buses[0]!.id);
    await fixture.whenStable();
    expect(host.querySelector('tc-lectern .owner')!.textContent).toContain('Ice');
    await press('m');
    expect(sound().buses[0]!.muted).toBe(true);
    await press('m');
    await press('s');
    expect(sound().buses[0]!.soloed).toBe(true);
    expect([...host.querySelectorAll('.lane')].map((lane) => lane.classList.contains('muted'))).toEqual([false, true]);
    await press('x');
    expect(sound().soloing).toBe(false);
    expect(host.querySelectorAll('.lane.muted')).toHaveLength(0);
    await press('Delete');
    expect(sound().buses).toEqual([]);
    expect(sound().layers).toHaveLength(2);
  });

  it('offers what can be automated while nothing is, and folds a group away', async () => {
    await press('a');
    const offers = [...document.querySelectorAll('.mat-mdc-menu-item')].map((item) => item.textContent.trim());
    expect(offers).toEqual(['Gain', 'Pan']);
    document.querySelector<HTMLElement>('.mat-mdc-menu-item')!.click();
    await fixture.whenStable();
    expect(sound().automation[0]!.address).toBe(`layer/${sound().layers[0]!.id}/gain`);
    expect(host.querySelector('tc-automation-strip')).not.toBeNull();
    store.edit('groupLayers', { sound: sound().id, layers: sound().layers.map(({ id }) => id), name: 'All' });
    await fixture.whenStable();
    button('Fold All').click();
    await fixture.whenStable();
    expect(host.querySelectorAll('.lane, tc-automation-strip')).toHaveLength(0);
  });
});
