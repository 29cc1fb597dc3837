import { TestBed } from '@angular/core/testing';
import { createRandom, measureOverview, readWav, writeWav } from '@tangled-choir/core';
import { ProjectRepository } from '../storage/project-repository';
import { AudioLibrary } from './audio-library';
import type { JobName } from '@tangled-choir/jobs';
import { projectProviders } from '../../testing/project';
import { ProjectJobs } from './project-jobs';

const part = 2 ** 18;
/** Long enough to be loaded in parts. */
const long = 2 ** 22 + 50_000;
const random = createRandom(1);
const noise = Float32Array.from({ length: 8_192 }, () => random.next() - 0.5);
const samplesOf = (frames: number): Float32Array => Float32Array.from({ length: frames }, (_, i) => noise[(i * 31) % 8_191]!);
const wavs = new Map<number, { wav: Blob; samples: Float32Array }>();

/** A recording of the database; those of the same length have the same samples under different names. */
async function recording(frames: number, name: number) {
  const bytes = wavs.has(frames) ? undefined : writeWav({ sampleRate: 48_000, channels: [samplesOf(frames)] }, { encoding: '16' });
  if (bytes) wavs.set(frames, { wav: new Blob([bytes]), samples: readWav(bytes).audio.channels[0]! });
  const { wav, samples } = wavs.get(frames)!;
  const audio = String(name).padStart(64, '0');
  await TestBed.inject(ProjectRepository).saveAudio(audio, wav);
  return { source: { audio, name: `wind ${name}`, frames }, samples };
}

describe('the recordings of a project', () => {
  let library: AudioLibrary;
  const reads: { readonly name: JobName; readonly input: unknown }[] = [];

  beforeEach(() => {
    TestBed.configureTestingModule({ providers: projectProviders });
    library = TestBed.inject(AudioLibrary);
    reads.length = 0;
    const pool = TestBed.inject(ProjectJobs);
    const run = pool.run.bind(pool);
    jest.spyOn(pool, 'run').mockImplementation((name, input, ...rest) => {
      reads.push({ name, input });
      return run(name, input, ...rest);
    });
  });

  it('are loaded whole when they are short, once for all who ask', async () => {
    const { source, samples } = await recording(5_000, 1);
    const [a, b] = await Promise.all([library.load(source, [{ from: 0, to: 0.01 }]), library.load(source)]);
    expect(a).toBe(b);
    expect(a.channels[0]).toEqual(samples);
    expect(library.audio(source.audio)).toBe(a);
    expect(reads).toHaveLength(1);
  });

  it('are loaded where they are needed when they are long', async () => {
    const { source, samples } = await recording(long, 2);
    const audio = await library.load(source, [{ from: 10, to: 11 }]);
    const first = Math.floor((10 * 48_000) / part) * part;
    expect(audio.channels[0]).toHaveLength(long);
    const loaded = audio.channels[0]!.slice(first, first + 2 * part);
    expect(Buffer.from(loaded.buffer).equals(Buffer.from(samples.slice(first, first + 2 * part).buffer))).toBe(true);
    expect(audio.channels[0]!.subarray(0, first).every((sample) => sample === 0)).toBe(true);
    // The rest comes into the same memory.
    expect(await library.load(source)).toBe(audio);
    expect(Buffer.from(audio.channels[0]!.buffer).equals(Buffer.from(samples.buffer))).toBe(true);
    const asked = reads.length;
    await library.load(source, [{ from: 50, to: 60 }]);
    expect(reads).toHaveLength(asked);
  });

  it('are drawn closely where they are loaded, from their samples', async () => {
    const { source, samples } = await recording(long, 3);
    const stretch = { from: 20, to: 21 };
    library.add(source, measureOverview({ sampleRate: 48_000, channels: [samples] }));
    expect(library.detail(source, stretch, 100)).toBeUndefined();
    await library.load(source, [stretch]);
    const { first, overview } = library.detail(source, stretch, 100)!;
    expect(first).toBe(960_000);
    const { framesPerColumn } = overview;
    expect(framesPerColumn).toBe(64);
    const seventh = samples.subarray(first + 6 * framesPerColumn, first + 7 * framesPerColumn);
    expect(overview.high[6]).toBe(Math.max(...seventh));
    expect(library.detail(source, stretch, 70)!.overview).toBe(overview);
    // Further away, its own waveform is fine enough; so long a stretch is nowhere close.
    expect(library.detail(source, stretch, 2_400)).toBeUndefined();
    expect(library.detail(source, { from: 0, to: 80 }, 100)).toBeUndefined();
    const { source: short, samples: all } = await recording(50_000, 4);
    await library.load(short);
    library.add(short, measureOverview({ sampleRate: 48_000, channels: [all] }));
    expect(library.detail(short, { from: 0, to: 0.1 }, 100)).toBeUndefined();
    expect(library.detail(short, { from: 0.1, to: 0.2 }, 1)!.overview.high).toEqual(all.subarray(4_800, 9_600));
  });

  it('are let go when no sound uses them and others need the room', async () => {
    const all = [];
    // 18 MB each, of which 256 MB are kept.
    for (let seed = 10; seed < 26; seed++) {
      const { source } = await recording(long, seed);
      await library.load(source);
      all.push(source);
    }
    expect(library.audio(all[0]!.audio)).toBeUndefined();
    expect(library.audio(all.at(-1)!.audio)).toBeDefined();
    expect((await library.load(all[0]!)).channels[0]).toHaveLength(long);
  });

  it('say why they cannot be had, and are had again once they are stored', async () => {
    const source = { audio: 'f'.repeat(64), name: 'gone', frames: 10 };
    await expect(library.load(source)).rejects.toThrow('The audio of “gone” is not in this browser');
    expect(library.missing().get(source.audio)).toContain('“gone”');
    library.add(source, { framesPerColumn: 1, frames: 0, low: new Float32Array(0), high: new Float32Array(0) });
    expect(library.missing().has(source.audio)).toBe(false);
  });
});
