import { TestBed } from '@angular/core/testing';
import { createProject, startHistory } from '@tangled-choir/core';
import { ChoirDatabase } from './database';
import { CHOIR_DATABASE } from './choir-database';
import { ProjectRepository } from './project-repository';
import { StorageLost } from './storage-lost';

let names = 0;

describe('several tabs on one storage', () => {
  let name: string;

  beforeEach(() => {
    name = `tabs-${++names}`;
  });

  /** A tab of its own: another repository on the same database. */
  const tab = (): ProjectRepository =>
    TestBed.resetTestingModule()
      .configureTestingModule({ providers: [{ provide: CHOIR_DATABASE, useFactory: () => new ChoirDatabase(name) }] })
      .inject(ProjectRepository);
  const hash = (letter: string): string => letter.repeat(64);
  const wav = new Blob(['ice']);

  it('clears no audio that another tab has stored a moment ago, whose project is not written yet', async () => {
    const importing = tab();
    await importing.saveAudio(hash('a'), wav);
    await importing.savePicture(hash('b'), wav);
    const cleaning = tab();
    await cleaning.save(startHistory(createProject('old', 'Old')));
    await cleaning.saveAudio(hash('c'), wav);
    await cleaning.remove('old');
    expect(await cleaning.audioHashes()).toEqual([hash('a')]);
    expect(await importing.loadPicture(hash('b'))).toBeDefined();
  });

  it('keeps how a picture moves as long as the picture, and measures anew what is damaged or of another version', async () => {
    const repository = tab();
    const track = { times: [0, 0.04], motion: [0, 0.125], changed: [0, 1], brightness: [0.5, 0.25] };
    await repository.savePicture(hash('b'), wav);
    expect(await repository.loadMotion(hash('b'))).toBeUndefined();
    await repository.saveMotion(hash('b'), track);
    await repository.savePicture(hash('b'), wav);
    expect(await tab().loadMotion(hash('b'))).toEqual(track);
    // Of a picture that is not there, nothing is kept.
    await repository.saveMotion(hash('c'), track);
    expect(await repository.loadMotion(hash('c'))).toBeUndefined();
    const database = new ChoirDatabase(name);
    await database.motions.update(hash('b'), { motion: { ...track, motion: [0] } });
    expect(await repository.loadMotion(hash('b'))).toBeUndefined();
    await database.motions.update(hash('b'), { motion: track, version: 0 });
    expect(await repository.loadMotion(hash('b'))).toBeUndefined();
    // With the last project, its pictures go.
    await repository.saveMotion(hash('b'), track);
    await repository.save(startHistory(createProject('old', 'Old')));
    await repository.remove('old');
    expect(await repository.loadPicture(hash('b'))).toBeUndefined();
    expect(await repository.loadMotion(hash('b'))).toBeUndefined();
  });

  it('takes back what was stored for nothing only as far as no other tab stored the same', async () => {
    const [first, second] = [tab(), tab()];
    await first.saveAudio(hash('a'), wav);
    await second.saveAudio(hash('a'), wav);
    await second.saveAudio(hash('b'), wav);
    await second.removeAudio([hash('a'), hash('b')]);
    expect(await first.audioHashes()).toEqual([hash('a')]);
  });

  it('clears what was stored long ago and is used nowhere', async () => {
    const before = tab();
    await before.saveAudio(hash('a'), wav);
    const later = tab();
    const now = Date.now();
    const clock = jest.spyOn(Date, 'now').mockReturnValue(now + 2 * 60 * 60 * 1_000);
    await later.removeAudio([hash('a')]);
    clock.mockRestore();
    expect(await later.audioHashes()).toEqual([]);
  });

  it('does not store a project that was removed elsewhere as if its recordings were still there', async () => {
    const open = tab();
    const history = startHistory(createProject('halda', 'Halda'));
    await open.save(history);
    await tab().remove('halda');
    await expect(open.save(history)).rejects.toThrow(StorageLost);
    expect(await open.load('halda')).toBeUndefined();
  });

  it('notices that the storage was deleted', async () => {
    const open = tab();
    const history = startHistory(createProject('halda', 'Halda'));
    await open.save(history);
    expect(open.lost()).toBe(false);
    await new ChoirDatabase(name).delete();
    expect(open.lost()).toBe(true);
    await expect(open.save(history)).rejects.toThrow('not in this browser’s storage any more');
  });
});
