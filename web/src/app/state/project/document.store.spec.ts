import { TestBed } from '@angular/core/testing';
import { openEmptyProject, projectProviders } from '../../../testing/project';
import { ProjectRepository } from '../../storage/project-repository';
import { StorageFull } from '../../storage/storage-full';
import { DocumentStore } from './document.store';
import { Notices } from '../notices';

describe('the document store', () => {
  let errors: string[];

  beforeEach(() => {
    errors = [];
    TestBed.configureTestingModule({
      providers: [
        ...projectProviders,
        { provide: Notices, useValue: { error: (text: string) => errors.push(text), info: () => undefined } },
      ],
    });
  });

  /** A second visit to the page: new stores, the same database. */
  function visitAgain(): InstanceType<typeof DocumentStore> {
    TestBed.resetTestingModule();
    TestBed.configureTestingModule({
      providers: [
        ...projectProviders,
        { provide: Notices, useValue: { error: (text: string) => errors.push(text), info: () => undefined } },
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
