import { TestBed } from '@angular/core/testing';
import { CHOIR_DATABASE } from './choir-database';
import { ChoirDatabase } from './database';
import { ProjectRepository } from './project-repository';
import { TreatedStorage } from './treated-storage';

const audio = (frames: number, value = 0.5) => ({
  sampleRate: 48_000,
  channels: [new Float32Array(frames).fill(value), new Float32Array(frames).fill(-value)],
});
const full = new DOMException('no room', 'QuotaExceededError');
let count = 0;

describe('treated clips in the database', () => {
  let database: ChoirDatabase;
  let storage: TreatedStorage;

  beforeEach(() => {
    database = new ChoirDatabase(`treated-${++count}`);
    TestBed.configureTestingModule({ providers: [{ provide: CHOIR_DATABASE, useValue: database }] });
    storage = TestBed.inject(TreatedStorage);
  });

  /** The browser says how much there is, and gives no more. */
  const quota = (bytes: number): void => {
    const estimate = { estimate: async () => ({ usage: 0, quota: bytes }), persisted: async () => true };
    Object.defineProperty(navigator, 'storage', { value: estimate, configurable: true });
  };
  afterEach(() => Reflect.deleteProperty(navigator, 'storage'));

  it('are given back sample by sample', async () => {
    await storage.save('a', audio(1_000));
    expect(await storage.load('a')).toEqual(audio(1_000));
    expect(await storage.load('b')).toBeUndefined();
  });

  it('make room for others: those that were not needed for the longest time go first', async () => {
    // A fifth of it is for these: three of 8,000 bytes.
    quota(5 * 25_000);
    let now = 1_000;
    const clock = jest.spyOn(Date, 'now').mockImplementation(() => ++now);
    for (const key of ['a', 'b', 'c']) await storage.save(key, audio(1_000));
    await storage.load('a');
    await storage.save('d', audio(1_000));
    clock.mockRestore();
    const left = await Promise.all(['a', 'b', 'c', 'd'].map(async (key) => (await storage.load(key)) !== undefined));
    expect(left).toEqual([true, false, true, true]);
  });

  it('are not kept where they are larger than all that there is for them', async () => {
    quota(20_000);
    await storage.save('a', audio(1_000));
    expect(await database.treated.count()).toBe(0);
  });

  it('are dropped where the disk is full, and nobody hears of it', async () => {
    await storage.save('a', audio(1_000));
    jest.spyOn(database.treated, 'put').mockRejectedValueOnce(full);
    await expect(storage.save('b', audio(1_000))).resolves.toBeUndefined();
    expect(await database.treated.count()).toBe(0);
  });

  it('go before a recording has no room', async () => {
    const repository = TestBed.inject(ProjectRepository);
    await storage.save('a', audio(1_000));
    jest.spyOn(database.audio, 'put').mockRejectedValueOnce(full);
    await repository.saveAudio('f'.repeat(64), new Blob(['wav']));
    expect(await database.treated.count()).toBe(0);
    expect(await repository.audioHashes()).toEqual(['f'.repeat(64)]);
    // With nothing left to drop, there is no room.
    jest.spyOn(database.audio, 'put').mockRejectedValueOnce(full);
    await expect(repository.saveAudio('e'.repeat(64), new Blob(['wav']))).rejects.toThrow('storage is full');
  });

  it('that were cut short are made anew', async () => {
    await storage.save('a', audio(1_000));
    await database.treated.toCollection().modify({ samples: new Blob(['cut!!']) });
    expect(await storage.load('a')).toBeUndefined();
    expect(await database.treated.count()).toBe(0);
  });
});
