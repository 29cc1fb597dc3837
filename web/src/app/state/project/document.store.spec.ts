import { createEnvironmentInjector, EnvironmentInjector } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { openEmptyProject, projectProviders } from '../../../testing/project';
import { ProjectRepository } from '../../storage/project-repository';
import { CHOIR_DATABASE } from '../../storage/choir-database';
import { StorageFull } from '../../storage/storage-full';
import { ClosingProjects } from './closing-projects';
import { DocumentStore } from './document.store';
import { STORE_AGAIN_AFTER, UnstoredProjects } from './unstored-projects';
import { Notices } from '../notices';

describe('the document store', () => {
  let errors: string[];
  let infos: string[];

  beforeEach(() => {
    errors = [];
    infos = [];
    TestBed.configureTestingModule({
      providers: [
        ...projectProviders,
        { provide: Notices, useValue: { error: (text: string) => errors.push(text), info: (text: string) => infos.push(text) } },
        { provide: STORE_AGAIN_AFTER, useValue: 20 },
      ],
    });
  });

  /** A second visit to the page: new stores, the same database. */
  function visitAgain(): InstanceType<typeof DocumentStore> {
    TestBed.resetTestingModule();
    TestBed.configureTestingModule({
      providers: [
        ...projectProviders,
        { provide: Notices, useValue: { error: (text: string) => errors.push(text), info: (text: string) => infos.push(text) } },
        { provide: STORE_AGAIN_AFTER, useValue: 20 },
      ],
    });
    return TestBed.inject(DocumentStore);
  }

  it('saves every edit and finds it with its undo steps after a reload', async () => {
    const store = await openEmptyProject();
    const { id } = store.project()!;
    store.edit('addSound', { name: 'Slab break' });
    store.edit('renameProject', { name: 'Halda Station' });
    expect(store.save()).toBe('saving');
    await store.flush();
    expect(store.save()).toBe('saved');
    const again = visitAgain();
    expect(await again.open(id)).toBe(true);
    expect(again.project()?.name).toBe('Halda Station');
    expect(again.undoLabel()).toBe('Rename project');
    again.undo();
    again.undo();
    expect(again.project()?.sounds).toEqual([]);
    expect(again.redoLabel()).toBe('New sound “Slab break”');
    await again.flush();
  });

  it('says why an edit cannot be made and changes nothing', async () => {
    const store = await openEmptyProject();
    const before = store.project();
    expect(store.edit('renameProject', { name: '' })).toBe(false);
    expect(errors).toEqual(['The name is empty.']);
    expect(store.project()).toBe(before);
  });

  it('keeps the edit in hand when the storage is full, and says so', async () => {
    const store = await openEmptyProject();
    const repository = TestBed.inject(ProjectRepository);
    jest.spyOn(repository, 'save').mockRejectedValueOnce(new StorageFull());
    store.edit('addSound', { name: 'Drill' });
    await store.flush();
    expect(store.save()).toBe('failed');
    expect(errors[0]).toContain('storage is full');
    expect(store.project()?.sounds[0]?.name).toBe('Drill');
    store.edit('addSound', { name: 'Beacon' });
    await store.flush();
    expect(store.save()).toBe('saved');
  });

  /** Waits until something is so. */
  async function until(is: () => boolean): Promise<void> {
    while (!is()) await new Promise((resolve) => setTimeout(resolve, 5));
  }

  it('tries again by itself until there is room, tells it once, and asks before the page is left', async () => {
    const store = await openEmptyProject();
    const { id } = store.project()!;
    const save = jest.spyOn(TestBed.inject(ProjectRepository), 'save');
    for (let i = 0; i < 3; i++) save.mockRejectedValueOnce(new StorageFull());
    store.edit('addSound', { name: 'Drill' });
    await store.flush();
    expect(dispatchEvent(new Event('beforeunload', { cancelable: true }))).toBe(false);
    await until(() => store.save() === 'saved');
    expect(save.mock.calls.length).toBeGreaterThanOrEqual(4);
    expect(errors.filter((text) => text.includes('storage is full'))).toHaveLength(1);
    expect(infos).toEqual(['The project is stored again, with everything that was done meanwhile.']);
    expect(dispatchEvent(new Event('beforeunload', { cancelable: true }))).toBe(true);
    expect((await TestBed.inject(ProjectRepository).load(id))?.project.sounds[0]?.name).toBe('Drill');
  });

  it('keeps what had no room when the project is closed, and stores it as soon as there is some', async () => {
    const store = await openEmptyProject();
    const { id } = store.project()!;
    const unstored = TestBed.inject(UnstoredProjects);
    const repository = TestBed.inject(ProjectRepository);
    const save = jest.spyOn(repository, 'save').mockRejectedValue(new StorageFull());
    store.edit('addSound', { name: 'Drill' });
    store.end();
    await TestBed.inject(ClosingProjects).finished(id);
    expect(unstored.projects()).toEqual([{ id, name: 'Halda' }]);
    expect(dispatchEvent(new Event('beforeunload', { cancelable: true }))).toBe(false);
    save.mockRestore();
    await until(() => unstored.projects().length === 0);
    expect(infos).toEqual(['“Halda” is stored now, with its last edits.']);
    expect((await repository.load(id))?.project.sounds[0]?.name).toBe('Drill');
  });

  it('goes on with what had no room when the project is opened again', async () => {
    const store = await openEmptyProject();
    const { id } = store.project()!;
    const unstored = TestBed.inject(UnstoredProjects);
    const save = jest.spyOn(TestBed.inject(ProjectRepository), 'save').mockRejectedValue(new StorageFull());
    store.edit('addSound', { name: 'Drill' });
    store.end();
    await TestBed.inject(ClosingProjects).finished(id);
    // Of the next route: the same browser, another open project.
    const next = createEnvironmentInjector([...projectProviders], TestBed.inject(EnvironmentInjector)).get(DocumentStore);
    expect(await next.open(id)).toBe(true);
    expect(next.project()?.sounds[0]?.name).toBe('Drill');
    expect(next.undoLabel()).toBe('New sound “Drill”');
    expect(unstored.projects()).toEqual([]);
    save.mockRestore();
    await until(() => next.save() === 'saved');
    expect((await TestBed.inject(ProjectRepository).load(id))?.project.sounds[0]?.name).toBe('Drill');
  });

  it('does not keep what somebody has removed', async () => {
    const store = await openEmptyProject();
    const { id } = store.project()!;
    store.edit('addSound', { name: 'Drill' });
    // By another tab.
    await TestBed.inject(CHOIR_DATABASE).projects.delete(id);
    await store.flush();
    expect(errors[0]).toContain('not in this browser’s storage any more');
    store.end();
    await TestBed.inject(ClosingProjects).finished(id);
    expect(TestBed.inject(UnstoredProjects).projects()).toEqual([]);
  });

  it('refuses a damaged project instead of opening half of it', async () => {
    const store = await openEmptyProject();
    const { id } = store.project()!;
    const repository = TestBed.inject(ProjectRepository);
    await repository.save({ ...store.history()!, project: { ...store.project()!, sounds: 5 as never } });
    await expect(visitAgain().open(id)).rejects.toThrow('sounds');
  });

  it('takes back a gesture as if it had never begun, and nothing else', async () => {
    const store = await openEmptyProject();
    store.edit('addSound', { name: 'Drill' });
    store.edit('addSound', { name: 'Beacon' });
    store.undo();
    const before = store.history();
    const sound = store.project()!.sounds[0]!.id;
    for (const bpm of [90, 95, 99]) store.edit('setTempo', { sound, tempo: { bpm } }, 'drag');
    store.giveUp(before);
    expect(store.history()).toBe(before);
    // Redo is still there.
    expect(store.redo()).toBe(true);
    // An edit from elsewhere during the drag stays, and the drag with it.
    const later = store.history();
    store.edit('setTempo', { sound, tempo: { bpm: 70 } }, 'other drag');
    store.edit('addSound', { name: 'Rope' });
    store.giveUp(later);
    expect(store.project()!.sounds.map(({ name }) => name)).toContain('Rope');
    expect(store.project()!.sounds[0]!.tempo.bpm).toBe(70);
  });

  it('saves the last edit when the project is closed right after it', async () => {
    const store = await openEmptyProject();
    const { id } = store.project()!;
    store.edit('addSound', { name: 'Rope' });
    TestBed.resetTestingModule();
    const again = visitAgain();
    await again.open(id);
    expect(again.project()?.sounds[0]?.name).toBe('Rope');
  });

  it('lets the page be left without a word only when everything is written', async () => {
    const store = await openEmptyProject();
    const { id } = store.project()!;
    const mayLeave = (): boolean => dispatchEvent(new Event('beforeunload', { cancelable: true }));
    expect(mayLeave()).toBe(true);
    store.edit('addSound', { name: 'Beacon' });
    expect(mayLeave()).toBe(false);
    await store.flush();
    expect(mayLeave()).toBe(true);
    const again = visitAgain();
    await again.open(id);
    expect(again.undoLabel()).toBe('New sound “Beacon”');
  });

  it('knows when there is no such project', async () => {
    expect(await TestBed.inject(DocumentStore).open('nowhere')).toBe(false);
  });
});
