import { TestBed } from '@angular/core/testing';
import type { Source } from '@tangled-choir/core';
import { createRandom, describeRecording, inMemory, measureOverview, readWav, writeWav } from '@tangled-choir/core';
import { openEmptyProject, projectProviders } from '../../../testing/project';
import type { Derived } from '../../storage/project-repository';
import { ProjectRepository } from '../../storage/project-repository';
import * as saving from '../../storage/save-file';
import { Notices } from '../notices';
import { ProjectShelf } from './project-shelf';
import type { FileToImport } from './project-transfer.store';
import { ProjectTransfer } from './project-transfer.store';

function recording(seed: number): Uint8Array<ArrayBuffer> {
  const random = createRandom(seed);
  return writeWav({ sampleRate: 48_000, channels: [Float32Array.from({ length: 2_000 }, () => random.next() - 0.5)] }, { encoding: '16' });
}
const wav = recording(3);
const file = (path: string, bytes: Uint8Array<ArrayBuffer>): FileToImport => ({ path, file: new File([bytes], path) });

describe('bringing audio and projects in and out', () => {
  beforeEach(() =>
    TestBed.configureTestingModule({
      providers: [...projectProviders, { provide: Notices, useValue: { error: () => undefined, info: () => undefined } }],
    }),
  );

  it('imports what can be read as one step and names what cannot', async () => {
    const store = await openEmptyProject();
    const result = await TestBed.inject(ProjectTransfer).importFiles([
      file('ice.wav', wav),
      file('cut.wav', wav.slice(0, 30)),
      file('ridge.wav', wav),
    ]);
    expect(result.sources).toHaveLength(2);
    expect(result.failures).toEqual([{ file: 'cut.wav', reason: expect.stringContaining('“cut.wav”') }]);
    expect(store.project()?.sources.map((source) => source.name)).toEqual(['ice', 'ridge']);
    expect(store.undoLabel()).toBe('Import 2 sources');
    expect(await TestBed.inject(ProjectRepository).loadAudio(store.project()!.sources[0]!.audio)).toBeDefined();
  });

  it('shows what arrives before it is stored, and no more of what could not be read', async () => {
    await openEmptyProject();
    const transfer = TestBed.inject(ProjectTransfer);
    const seen: ReturnType<typeof transfer.arriving>[] = [];
    const save = jest.spyOn(TestBed.inject(ProjectRepository), 'saveAudio').mockImplementation(() => {
      seen.push(transfer.arriving());
      return Promise.resolve();
    });
    const many = Array.from({ length: 6 }, (_, n) => file(`more/${n}.wav`, wav));
    await transfer.importFiles([file('cut.wav', wav.slice(0, 30)), file('far/ice.wav', wav), ...many]);
    expect(seen[0]!.find(({ origin }) => origin.path === 'far/ice.wav')).toMatchObject({
      origin: { path: 'far/ice.wav' },
      preview: { seconds: 2_000 / 48_000, overview: { frames: 2_000 } },
    });
    // What is done makes room for those that come.
    expect(seen.at(-1)!.length).toBeLessThanOrEqual(3);
    expect(transfer.arriving()).toEqual([]);
    save.mockRestore();
  });

  it('lets the browser try formats that we do not know, and nothing else', async () => {
    const asked: number[] = [];
    class Decoder {
      decodeAudioData(bytes: ArrayBuffer): Promise<unknown> {
        asked.push(bytes.byteLength);
        const samples = new Float32Array(480).fill(0.25);
        return Promise.resolve({ length: 480, numberOfChannels: 1, getChannelData: () => samples });
      }
    }
    Object.assign(globalThis, { OfflineAudioContext: Decoder });
    try {
      const store = await openEmptyProject();
      // Format 7 of a WAV file is µ-law; a file of zero channels is damaged, whoever reads it.
      const muLaw = wav.slice();
      muLaw[20] = 7;
      const damaged = wav.slice();
      damaged[22] = 0;
      const files = [file('phone.wav', muLaw), file('damaged.wav', damaged)];
      const result = await TestBed.inject(ProjectTransfer).importFiles(files);
      expect(asked).toEqual([wav.length]);
      expect(store.project()!.sources.map(({ name, frames }) => [name, frames])).toEqual([['phone', 480]]);
      expect(result.failures.map(({ file: name }) => name)).toEqual(['damaged.wav']);
      expect(result.notes[0]).toContain('decoded by the browser');
    } finally {
      Reflect.deleteProperty(globalThis, 'OfflineAudioContext');
    }
  });

  it('cuts parts into sources that remember where they came from, and makes one mono', async () => {
    const store = await openEmptyProject();
    const transfer = TestBed.inject(ProjectTransfer);
    await transfer.importFiles([file('Halda day 2/ice.wav', wav)]);
    const ice = store.project()!.sources[0]!;
    expect(ice.tags).toEqual(['halda day 2']);
    await transfer.cutParts(ice, [{ name: 'ice · a', from: 0.01, to: 0.03 }], 'all');
    const cut = store.project()!.sources[1]!;
    expect(cut).toMatchObject({ name: 'ice · a', frames: 960, tags: ['halda day 2'] });
    expect(cut.origin.cutFrom).toEqual({ name: 'ice', audio: ice.audio, from: 0.01, to: 0.03 });
  });

  it('gives a source other audio', async () => {
    const store = await openEmptyProject();
    const transfer = TestBed.inject(ProjectTransfer);
    await transfer.importFiles([file('ice.wav', wav)]);
    const before = store.project()!.sources[0]!;
    await transfer.relink(before.id, file('ice take 2.wav', recording(9)).file);
    const after = store.project()!.sources[0]!;
    expect(after.audio).not.toBe(before.audio);
    expect(after).toMatchObject({ id: before.id, name: 'ice', origin: { file: 'ice take 2.wav' } });
    await expect(transfer.relink(before.id, file('none.wav', wav.slice(0, 9)).file)).rejects.toThrow('“none.wav”');
  });

  it('refuses a file that is too large before it is read', async () => {
    await openEmptyProject();
    const huge = { path: 'huge.wav', file: Object.defineProperty(new File([], 'huge.wav'), 'size', { value: 7 * 2 ** 30 }) };
    const { failures } = await TestBed.inject(ProjectTransfer).importFiles([huge]);
    expect(failures[0]!.reason).toContain('“huge.wav” has 7.0 GB');
  });

  it('an exported project opens elsewhere with its audio', async () => {
    const saved: Blob[] = [];
    jest.spyOn(saving, 'saveFile').mockImplementation((content) => void saved.push(new Blob([content])));
    const store = await openEmptyProject();
    const { id } = store.project()!;
    const transfer = TestBed.inject(ProjectTransfer);
    const shelf = TestBed.inject(ProjectShelf);
    // A recording that no other project has.
    await transfer.importFiles([file('ice.wav', recording(4))]);
    const exported = store.project();
    const repository = TestBed.inject(ProjectRepository);
    const [{ audio }] = exported!.sources as [Source];
    const known = await describeRecording(inMemory(readWav(recording(4)).audio));
    const waveform = measureOverview(readWav(recording(4)).audio);
    await repository.saveDerived({ hash: audio, overview: waveform, facts: known });
    await shelf.exportArchive(exported!);
    await store.flush();
    await repository.remove(id);
    expect(await repository.loadAudio(audio)).toBeUndefined();
    expect(await repository.loadDerived([audio])).toEqual([]);
    expect(await shelf.openArchive('Halda.choir', saved[0]!)).toBe(id);
    expect((await repository.load(id))?.project).toEqual(exported);
    expect(await repository.loadAudio(audio)).toBeDefined();
    // What was measured of it has come along.
    const [{ overview, facts }] = (await repository.loadDerived([audio])) as [Derived];
    expect(facts).toEqual(known);
    expect(overview).toEqual(waveform);
    // A second copy gets an id of its own instead of overwriting the first.
    expect(await shelf.openArchive('Halda.choir', saved[0]!)).not.toBe(id);
  });

  it('refuses a damaged archive and leaves the open project alone', async () => {
    const store = await openEmptyProject();
    const before = store.project();
    await expect(TestBed.inject(ProjectShelf).openArchive('x.choir', new Blob([new Uint8Array([1, 2, 3])]))).rejects.toThrow(
      '“x.choir” is not a .choir archive',
    );
    expect(store.project()).toBe(before);
  });
});
