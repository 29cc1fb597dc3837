import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { choiceBox, choose } from '../../testing/choices';
import { configureStores, openProject } from '../../testing/project';
import type { DocumentStore } from '../state/project/document.store';
import { ConductView } from './conduct-view';
import { graphPath, withMoved, withPoint } from './curve-points';

globalThis.ResizeObserver ??= class {
  observe(): void {
    // Nothing changes its size here.
  }
  unobserve(): void {
    // Nor here.
  }
  disconnect(): void {
    // Nor here.
  }
};

describe('Conduct', () => {
  let fixture: ComponentFixture<ConductView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    store.edit('addBehaviour', { kind: 'pick', name: 'Steps' });
    const [pick] = store.project()!.conduct.behaviours;
    const sound = store.project()!.sounds[0]!.id;
    for (const name of ['Crust', 'Powder']) store.edit('addBehaviour', { kind: 'one', name, parent: pick!.id, sound });
    store.edit('addBehaviour', { kind: 'burst', name: 'Pebbles' });
    fixture = TestBed.createComponent(ConductView);
    await fixture.whenStable();
    host = fixture.nativeElement;
  });

  const names = () => [...host.querySelectorAll('.row .title')].map((title) => title.textContent);
  const chosen = () => host.querySelector('.row[aria-selected="true"] .title')?.textContent;
  const press = async (key: string, more: KeyboardEventInit = {}): Promise<void> => {
    document.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }));
    await fixture.whenStable();
  };
  it('shows the tree with what each does, and goes through it by keys', async () => {
    expect(names()).toEqual(['Steps', 'Crust', 'Powder', 'Pebbles']);
    expect(host.querySelector('.summary')!.textContent).toBe('Pick, never the last 1');
    expect(chosen()).toBe('Steps');
    await press('ArrowDown');
    await press('ArrowDown');
    expect(chosen()).toBe('Powder');
    await press('ArrowUp', { altKey: true });
    expect(names()).toEqual(['Steps', 'Powder', 'Crust', 'Pebbles']);
    expect(chosen()).toBe('Powder');
    await press('d', { ctrlKey: true });
    expect(names()).toEqual(['Steps', 'Powder', 'Powder copy', 'Crust', 'Pebbles']);
    await press('Delete');
    await press('ArrowUp');
    await press('ArrowUp');
    await press('ArrowUp');
    await press('Delete');
    expect(names()).toEqual(['Pebbles']);
    store.undo();
    await fixture.whenStable();
    expect(names()).toEqual(['Steps', 'Powder', 'Crust', 'Pebbles']);
  });

  it('says what becomes of a behaviour that never ends where it is the end of another', async () => {
    const purpose = () => host.querySelector('.purpose')!.textContent;
    store.edit('addBehaviour', { kind: 'hold', name: 'Drill' });
    const drill = store.project()!.conduct.behaviours.at(-1)!.id;
    store.edit('addBehaviour', { kind: 'burst', name: 'Winding down', parent: drill });
    await fixture.whenStable();
    for (let i = 0; i < 5; i++) await press('ArrowDown');
    expect(chosen()).toBe('Winding down');
    await choose(fixture, 'Stage', 'hold');
    expect(purpose()).toBe('fires again and again at a rate');
    await choose(fixture, 'Stage', 'end');
    expect(purpose()).toBe('within an end it fires once');
  });

  it('sets what only one kind has, and what a child is in its parent', async () => {
    await choose(fixture, 'Chooses', 'by weight');
    await press('ArrowDown');
    expect([...host.querySelectorAll('tc-value .label')].map((label) => label.textContent)).toContain('Weight');
    await choose(fixture, 'Until', 'it is stopped');
    expect(store.project()!.conduct.behaviours[1]!.play).toMatchObject({ kind: 'one', loops: true });
    await press('ArrowUp');
    await choose(fixture, 'Kind', 'One');
    // It holds others, so it stays what it is.
    expect(store.project()!.conduct.behaviours[0]!.play.kind).toBe('pick');
    expect(await (await choiceBox(fixture, 'Kind')).getValueText()).toBe('Pick');
  });
});

describe('curves over a parameter', () => {
  const axes = { low: 0, high: 30, least: -48, most: 24 };

  it('are flat beyond their points, and moved between their neighbours', () => {
    expect(graphPath(axes, [{ at: 15, value: -12 }])).toBe('M0.00 50.00L50.00 50.00L100.00 50.00');
    const points = withPoint(
      axes,
      [
        { at: 0, value: 0 },
        { at: 30, value: 0 },
      ],
      { x: 0.5, y: -1 },
    );
    expect(points[1]).toEqual({ at: 15, value: -48 });
    expect(withMoved(axes, points, { index: 1, byX: 2, byY: 4, gesture: '' })[1]).toEqual({ at: 30, value: 24 });
    expect(withMoved(axes, points, { index: 0, byX: -1, byY: 0, gesture: '' })[0]).toEqual({ at: 0, value: 0 });
  });
});
