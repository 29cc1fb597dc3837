import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { patchPresets } from '@tangled-choir/core';
import { configureStores, openEmptyProject, shownErrors } from '../../../testing/project';
import type { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { LoftView } from '../loft-view';
import { TimelineScale } from '../timeline/timeline-scale';

/** In a page without a layout every box begins at 0, so that pointer places are places in the field. */
describe('the notes of a made layer', () => {
  let fixture: ComponentFixture<LoftView>;
  let host: HTMLElement;
  let store: InstanceType<typeof DocumentStore>;
  const zoom = 200;

  beforeEach(async () => {
    configureStores();
    store = await openEmptyProject();
    store.edit('addSound', { name: 'Beacon' });
    const { name, role, patch } = patchPresets.find((preset) => preset.name === 'Beacon')!;
    const notes = [72, 76].map((pitch, i) => ({ start: i, length: 0.5, pitch, strength: 0.5 }));
    store.edit('addMadeLayer', { sound: store.project()!.sounds[0]!.id, start: 1, length: 4, name, role, patch, notes });
    fixture = TestBed.createComponent(LoftView);
    await fixture.whenStable();
    host = fixture.nativeElement;
    TestBed.inject(WorkbenchStore).showNotes(layer().id);
    await fixture.whenStable();
    // Without a layout, the whole sound was fitted into nothing.
    fixture.debugElement.injector.get(TimelineScale).pixelsPerSecond.set(zoom);
    await fixture.whenStable();
  });

  const layer = () => store.project()!.sounds[0]!.layers[0]!;
  const notes = () => layer().clips[0]!.notes!;
  const plane = (): HTMLElement => host.querySelector<HTMLElement>('tc-note-field .plane')!;
  const bars = (): HTMLElement[] => [...host.querySelectorAll<HTMLElement>('tc-note-field .note')];
  /** Where a pitch is, by a note that is there. */
  const yOf = (pitch: number): number => {
    const row = Number.parseFloat(bars()[0]!.style.height);
    return Number.parseFloat(bars()[0]!.style.top) + (72 - pitch + 0.5) * row;
  };
  const pointer = (type: string, time: number, pitch: number, more: MouseEventInit = {}): MouseEvent =>
    new MouseEvent(type, { clientX: time * zoom, clientY: yOf(pitch), bubbles: true, cancelable: true, button: 0, ...more });
  const drag = async (target: HTMLElement, from: [number, number], to: [number, number], more: MouseEventInit = {}): Promise<void> => {
    target.dispatchEvent(pointer('pointerdown', ...from, more));
    window.dispatchEvent(pointer('pointermove', ...to, more));
    window.dispatchEvent(pointer('pointerup', ...to, more));
    await fixture.whenStable();
  };
  const key = async (name: string, more: KeyboardEventInit = {}): Promise<void> => {
    plane().dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, cancelable: true, ...more }));
    await fixture.whenStable();
  };

  it('are put where somebody double clicks, also where there is no clip yet', async () => {
    plane().dispatchEvent(pointer('dblclick', 2.5, 74));
    await fixture.whenStable();
    expect(notes().map(({ start, pitch }) => [start, pitch])).toEqual([
      [0, 72],
      [1, 76],
      [1.5, 74],
    ]);
    expect(store.undoLabel()).toBe('Add note');
    plane().dispatchEvent(pointer('dblclick', 6, 70));
    await fixture.whenStable();
    expect(layer().clips).toHaveLength(2);
    expect(layer().clips[1]).toMatchObject({ start: 6, notes: [{ start: 0, pitch: 70 }] });
    expect(shownErrors).toEqual([]);
  });

  it('move with what is chosen, as one step, and become longer by their ends', async () => {
    await key('a', { ctrlKey: true });
    await drag(bars()[0]!, [1.1, 72], [1.6, 74], { altKey: false });
    expect(notes().map(({ start, pitch }) => [Math.round(start * 100) / 100, pitch])).toEqual([
      [0.5, 74],
      [1.5, 78],
    ]);
    store.undo();
    await fixture.whenStable();
    expect(notes().map(({ start }) => start)).toEqual([0, 1]);
    await key('Escape');
    await drag(bars()[0]!, [1.49, 72], [1.99, 72]);
    expect(notes().map(({ length }) => Math.round(length * 100) / 100)).toEqual([1, 0.5]);
  });

  it('are turned by keys: pitch, octaves, time, strength; and deleted, but never their layer', async () => {
    bars()[1]!.dispatchEvent(new FocusEvent('focus'));
    await fixture.whenStable();
    await key('ArrowUp');
    await key('ArrowDown', { shiftKey: true });
    await key('ArrowRight');
    await key('ArrowUp', { altKey: true });
    expect(notes()[1]!.pitch).toBe(65);
    expect(notes()[1]!.start).toBeCloseTo(1.01, 6);
    expect(notes()[1]!.strength).toBeCloseTo(0.55, 6);
    await key('Delete');
    expect(notes()).toHaveLength(1);
    expect(store.project()!.sounds[0]!.layers).toHaveLength(1);
  });

  it('are drawn in the clip, and its lectern shows the patch', () => {
    expect(host.querySelectorAll('tc-clip tc-clip-notes path').length).toBeGreaterThan(0);
    expect([...host.querySelectorAll('tc-patch-tiles .tile')].map((tile) => tile.textContent?.trim())).toEqual(['Patch', 'Call', 'Edge']);
    expect(host.querySelector('tc-part-editor')?.textContent).toContain('Envelope');
  });

  it('have a patch whose envelope is taken by its handles', async () => {
    const decay = (): number => Number(layer().patch!.parts[0]!.parameters['decay']);
    const before = decay();
    const handle = host.querySelector<HTMLElement>('tc-envelope-graph [aria-label="Decay and sustain"]')!;
    handle.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true, cancelable: true }));
    await fixture.whenStable();
    expect(decay()).toBeGreaterThan(before);
    expect(store.undoLabel()).toBe('Call: decay');
    handle.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true }));
    await fixture.whenStable();
    expect(store.undoLabel()).toBe('Call: sustain');
  });
});
