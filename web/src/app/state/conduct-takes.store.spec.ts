import { TestBed } from '@angular/core/testing';
import { configureStores, openProject, shownErrors } from '../../testing/project';
import { ConductTakes } from './conduct-takes.store';
import { Renderables } from './renderables';

describe('what behaviours play', () => {
  it('is tried again when somebody comes back, and not before, if it could not be rendered', async () => {
    configureStores();
    const document = await openProject();
    document.edit('addBehaviour', { kind: 'one', name: 'Crack', sound: document.project()!.sounds[0]!.id });
    const load = jest.spyOn(TestBed.inject(Renderables), 'load').mockRejectedValueOnce(new Error('the disk is away'));
    const takes = TestBed.inject(ConductTakes);
    takes.watch(true);
    TestBed.tick();
    await takes.renderMissing();
    expect(shownErrors).toEqual(['“Slab” could not be rendered: the disk is away']);
    await takes.renderMissing();
    expect([load.mock.calls.length, takes.ready(), takes.busy()]).toEqual([1, 0, false]);

    takes.watch(false);
    takes.watch(true);
    TestBed.tick();
    await takes.renderMissing();
    expect([load.mock.calls.length, takes.ready(), takes.busy()]).toEqual([2, 1, false]);
    expect(shownErrors).toHaveLength(1);
  });
});
