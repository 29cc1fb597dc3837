import { TestBed } from '@angular/core/testing';
import { configureStores, openProject } from '../../testing/project';
import { Judging } from '../state/judging.store';
import { WorkbenchStore } from '../state/workbench.store';
import { ListeningLamp } from './listening-lamp';

describe('the lamp of what is only partly heard', () => {
  it('names every listening state, and ends them all on a click', async () => {
    configureStores();
    const store = await openProject();
    const sound = store.project()!.sounds[0]!;
    const [layer] = sound.layers;
    TestBed.inject(WorkbenchStore).selectLayer(layer!.id);
    store.edit('addEffect', { sound: sound.id, owner: { layer: layer!.id }, effect: 'bands' });
    const host = store.project()!.sounds[0]!.layers[0]!.chain[0]!;
    const fixture = TestBed.createComponent(ListeningLamp);
    const lamp = async (): Promise<HTMLButtonElement | null> => {
      await fixture.whenStable();
      return fixture.nativeElement.querySelector('[data-testid="listening-lamp"]');
    };
    expect(await lamp()).toBeNull();

    store.edit('solo', { sound: sound.id, owner: { layer: layer!.id }, soloed: true });
    const branch = host.branches![0]!.id;
    store.edit('setBranch', { sound: sound.id, owner: { layer: layer!.id }, branch, changes: { soloed: true, name: 'Low' } });
    expect((await lamp())!.textContent).toContain(`Solo: “${layer!.name}”, Low`);
    const judging = TestBed.inject(Judging);
    judging.listen({ step: host.id, what: 'change' });
    expect((await lamp())!.textContent).toContain('only what a step changes');
    judging.compareWith('without this chain');
    expect((await lamp())!.textContent).toContain('B is heard');

    (await lamp())!.click();
    expect(await lamp()).toBeNull();
    expect(judging.heard()).toBe('A');
    // Solos are the document’s, so the step can be taken back; what is compared goes on.
    expect(store.undoLabel()).toBe('End all solos');
    store.edit('solo', { sound: sound.id, owner: { layer: layer!.id }, soloed: true });
    store.edit('setSoloing', { sound: sound.id, soloing: false });
    expect(await lamp()).toBeNull();
  });
});
