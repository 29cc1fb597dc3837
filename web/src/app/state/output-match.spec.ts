import { TestBed } from '@angular/core/testing';
import { configureStores, openProject, shownErrors } from '../../testing/project';
import type { DocumentStore } from './project/document.store';
import { OutputMatch } from './output-match.store';
import { WorkbenchStore } from './workbench.store';

describe('a step kept at the loudness that goes into it', () => {
  let store: DocumentStore;
  let address: string;
  let step: string;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    const sound = TestBed.inject(WorkbenchStore).sound()!;
    const layer = sound.layers[0]!.id;
    store.edit('addEffect', { sound: sound.id, owner: { layer }, effect: 'drive' });
    step = TestBed.inject(WorkbenchStore).sound()!.layers[0]!.chain[0]!.id;
    address = `layer/${layer}/chain/${step}`;
  });

  const sound = () => TestBed.inject(WorkbenchStore).sound()!;
  const output = (): unknown => sound().layers[0]!.chain[0]!.parameters['output'];
  const turn = (key: string, value: number, gesture?: string): boolean =>
    store.edit('setValues', { sound: sound().id, values: { [`${address}/${key}`]: value }, label: 'Drive' }, gesture);

  it('is matched once by asking', async () => {
    turn('output', 10);
    const match = TestBed.inject(OutputMatch);
    await match.match(step);
    const found = match.found().get(step)!;
    expect(found.after - found.before).toBeGreaterThan(5);
    expect(output()).toBeCloseTo(found.output, 6);
    expect(Math.abs(found.rest)).toBeLessThan(0.05);
    expect(store.undoLabel()).toBe('Match the output');
  });

  it('follows every change within its undo step', async () => {
    const match = TestBed.inject(OutputMatch);
    match.keep(step, true);
    turn('drive', 30, 'a drag');
    await match.follow();
    const louder = output();
    expect(louder).not.toBe(undefined);
    expect(store.undoLabel()).toBe('Drive');
    store.undo();
    expect(output()).toBe(undefined);
    match.keep(step, false);
    turn('drive', 12, 'another drag');
    await match.follow();
    expect(output()).toBe(undefined);
  });

  it('says why there is nothing to match', async () => {
    store.edit('removeClips', { sound: sound().id, clips: sound().layers[0]!.clips.map(({ id }) => id) });
    await TestBed.inject(OutputMatch).match(step);
    expect(shownErrors.join()).toContain('Nothing is heard at this step');
  });
});
