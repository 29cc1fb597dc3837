import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { createProject, createSound, hashBytes, packArchive, plainStretch, writeWav } from '@tangled-choir/core';
import type { Project, Sway } from '@tangled-choir/core';

const root = resolve(__dirname, '../..');
let folder: string;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'choir-built-'));
  execFileSync(process.execPath, ['scripts/build-command-line.mjs', join(folder, 'dist')], { cwd: root });
});
afterAll(() => rmSync(folder, { recursive: true }));

function run(...args: string[]): string {
  return execFileSync(process.execPath, [join(folder, 'dist/choir.mjs'), ...args], { encoding: 'utf8' });
}

/** A project with one sound of one clip at its own speed, whose gain and speed sway. */
async function projectFile(): Promise<string> {
  const samples = Float32Array.from({ length: 24_000 }, (_, i) => 0.25 * Math.sin(i / 7));
  const wav = writeWav({ sampleRate: 48_000, channels: [samples] }, { encoding: '24' });
  const audio = hashBytes(wav);
  const fade = { length: 0.01, shape: 'linear' as const };
  const source = {
    kind: 'recording' as const,
    id: 'source-1',
    name: 'Ice',
    audio,
    frames: 24_000,
    channels: 1,
    tags: [],
    notes: '',
    regions: [],
    cues: [],
    origin: { file: 'ice.wav', sampleRate: 48_000, encoding: '24 bit' },
  };
  const clip = {
    id: 'clip-3',
    source: 'source-1',
    start: 0,
    offset: 0,
    length: 0.5,
    gain: 0,
    speed: -5,
    ...plainStretch,
  };
  const layer = {
    id: 'layer-2',
    name: 'Ice',
    role: 'Body' as const,
    gain: 0,
    pan: 0,
    muted: false,
    soloed: false,
    sends: [],
    overlaps: 'sum' as const,
  };
  const clips = [{ ...clip, reversed: false, locked: false, fadeIn: fade, fadeOut: fade }];
  const sway: Sway = { kind: 'range', id: 'sway-5', address: 'layer/layer-2/gain', low: -6, high: 6, locked: false };
  const faster: Sway = { ...sway, id: 'sway-6', address: 'layer/layer-2/clip/clip-3/speed', low: -3, high: 3 };
  const sound = {
    ...createSound('sound-4', 'Slab'),
    layers: [{ ...layer, chain: [], clips }],
    family: { seed: 7, sways: [sway, faster], siblings: [] },
  };
  const project: Project = { ...createProject('p', 'Halda'), counter: 9, sources: [source], sounds: [sound] };
  const file = join(folder, 'halda.choir');
  writeFileSync(file, await packArchive(project, new Map([[audio, wav]])));
  return file;
}

describe('the built command line', () => {
  it('lists the effects', () => {
    expect((JSON.parse(run('effects', '--json')) as { id: string }[]).map(({ id }) => id)).toContain('eq');
  });

  it('renders a family on worker threads, in its order and each time the same', async () => {
    const file = await projectFile();
    const render = (name: string): Buffer[] => {
      const out = join(folder, name);
      const printed = run('render', file, '--sound', 'Slab', '--family', '6', '--out', out).trim().split('\n');
      expect(printed).toEqual(
        readdirSync(out)
          .sort()
          .map((each) => join(out, each)),
      );
      return printed.map((each) => readFileSync(each));
    };
    const [first, second] = [render('a'), render('b')];
    expect(first).toHaveLength(6);
    expect(new Set(first!.map((bytes) => bytes.toString('base64'))).size).toBe(6);
    first!.forEach((bytes, n) => expect(bytes.equals(second![n]!)).toBe(true));
  });

  it('says in one line what is wrong, and ends with 2', () => {
    try {
      run('render', 'nowhere.choir', '--sound', 'x');
      throw new Error('It ended well.');
    } catch (error) {
      expect(error).toMatchObject({ status: 2, stderr: 'There is no file nowhere.choir.\n' });
    }
  });
});
