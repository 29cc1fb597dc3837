import type { ChildProcess } from 'node:child_process';
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { EditArguments, EditName, History } from '@tangled-choir/core';
import {
  applyEdit,
  createProject,
  deliveryKinds,
  editNamed,
  effectCatalogue,
  hashBytes,
  packArchive,
  prepareHashing,
  startHistory,
  writeWav,
} from '@tangled-choir/core';

const root = resolve(__dirname, '../..');
let folder: string;
let project: string;
let port: number;
const running = new Set<ChildProcess>();

/** Eight sounds, each with a file of its own, in two forms; and what a game plays. */
async function packed(): Promise<string> {
  await prepareHashing();
  const samples = Float32Array.from({ length: 48_000 }, (_, i) => 0.2 * Math.sin(i / 7) + 0.1 * Math.sin(i * i * 1e-6));
  const wav = writeWav({ sampleRate: 48_000, channels: [samples, samples] }, { encoding: '24' });
  let history: History = startHistory(createProject('halda', 'Halda Station'));
  const make = <N extends EditName>(edit: N, args: EditArguments<N>): void => {
    history = applyEdit(history, editNamed(edit), args, effectCatalogue);
  };
  const origin = { file: 'ice.wav', sampleRate: 48_000, encoding: '24 bit' };
  const shape = { kind: 'recording' as const, audio: hashBytes(wav), frames: 48_000, channels: 2 };
  make('addSources', { sources: [{ ...shape, name: 'Ice', tags: [], notes: '', regions: [], cues: [], origin }] });
  for (let n = 1; n <= 8; n++) {
    make('addSound', { name: `Ice ${n}` });
    const { id } = history.project.sounds.at(-1)!;
    make('addLayer', { sound: id, source: history.project.sources[0]!.id, start: 0 });
    make('setValues', { sound: id, values: { 'sound/gain': -n }, label: 'Level' });
  }
  // Every encoder, as it is bundled.
  make('addDelivery', { name: 'Web', settings: deliveryKinds['Web game']! });
  make('addDelivery', { name: 'Archive', settings: deliveryKinds['Archive, FLAC']! });
  make('addDelivery', { name: 'Vorbis', settings: { ...deliveryKinds['Web game']!, format: 'vorbis' } });
  make('addDelivery', { name: 'Sheet', settings: deliveryKinds['Short sounds in one sheet']! });
  make('addBehaviour', { kind: 'one', name: 'Ice', sound: history.project.sounds[0]!.id });
  make('addDelivery', { name: 'Behaviours', settings: deliveryKinds['Behaviours for a game']! });
  const file = join(folder, 'ice.choir');
  writeFileSync(file, await packArchive(history.project, new Map([[hashBytes(wav), wav]])));
  return file;
}

function freePort(): Promise<number> {
  return new Promise((found) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => found(typeof address === 'object' && address ? address.port : 0));
    });
  });
}

interface Running {
  readonly process: ChildProcess;
  /** Resolves when it has said so many lines that match. */
  says(text: RegExp, times?: number): Promise<void>;
  readonly ended: Promise<{ readonly code: number | null; readonly errors: string }>;
}

function start(command: string, args: readonly string[]): Running {
  const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'] });
  running.add(child);
  let [out, errors] = ['', ''];
  const heard = new Set<() => void>();
  child.stdout.on('data', (text: Buffer) => {
    out += text.toString();
    for (const look of heard) look();
  });
  child.stderr.on('data', (text: Buffer) => (errors += text.toString()));
  const ended = new Promise<{ code: number | null; errors: string }>((resolve) =>
    child.on('close', (code) => {
      running.delete(child);
      resolve({ code, errors });
    }),
  );
  const says = (text: RegExp, times = 1): Promise<void> =>
    new Promise((resolve) => {
      const look = (): void => {
        if (out.split('\n').filter((line) => text.test(line)).length < times) return;
        heard.delete(look);
        resolve();
      };
      heard.add(look);
      look();
    });
  return { process: child, says, ended };
}

async function startRedis(): Promise<Running> {
  const redis = start('redis-server', ['--port', String(port), '--save', '', '--appendonly', 'no', '--dir', folder, '--bind', '127.0.0.1']);
  await redis.says(/Ready to accept connections/);
  return redis;
}

const address = (): string => `redis://127.0.0.1:${port}`;
const choir = (...args: string[]): Running => start(process.execPath, [join(folder, 'dist/choir.mjs'), ...args]);
const worker = (): Running => choir('worker', '--redis', address(), '--workers', '1');
const deliver = (to: string, ...args: string[]): Running => choir('deliver', project, '--out', join(folder, to), ...args);
const farmed = (to: string): Running => deliver(to, '--redis', address());

async function stop(...all: Running[]): Promise<void> {
  for (const { process: child } of all) child.kill('SIGTERM');
  await Promise.all(all.map(({ ended }) => ended));
}

function contents(name: string): Map<string, string> {
  const files = readdirSync(join(folder, name), { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile());
  return new Map(
    files
      .map(({ parentPath, name: file }) => join(parentPath, file))
      .sort()
      .map((file) => [file.slice(join(folder, name).length), hashBytes(new Uint8Array(readFileSync(file)))]),
  );
}

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'choir-farm-'));
  execFileSync(process.execPath, ['scripts/build-command-line.mjs', join(folder, 'dist')], { cwd: root });
  project = await packed();
  port = await freePort();
  expect((await deliver('local').ended).code).toBe(0);
});

afterEach(() => {
  for (const child of running) child.kill('SIGKILL');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('a farm', () => {
  it('gives the files of a local run, bit by bit, and does the same work once', async () => {
    const redis = await startRedis();
    const workers = [worker(), worker()];
    expect(await farmed('two').ended).toEqual({ code: 0, errors: '' });
    expect(contents('two')).toEqual(contents('local'));
    expect(contents('two').size).toBeGreaterThan(36);
    const endings = new Set([...contents('two').keys()].map((file) => file.replace(/^.*\./, '')));
    expect([...endings].sort()).toEqual(['csv', 'flac', 'html', 'json', 'ogg', 'opus', 'wav']);
    // Nobody is there to do it again.
    await stop(...workers);
    expect((await farmed('again').ended).code).toBe(0);
    expect(contents('again')).toEqual(contents('local'));
    await stop(redis);
  });

  it('loses nothing when a worker is killed in the middle of its work', async () => {
    const redis = await startRedis();
    const [first, delivery] = [worker(), farmed('killed')];
    await first.says(/^ice/i, 2);
    first.process.kill('SIGKILL');
    const second = worker();
    expect(await delivery.ended).toEqual({ code: 0, errors: '' });
    expect(contents('killed')).toEqual(contents('local'));
    await stop(second, redis);
  });

  it('goes on when its Redis was away, and came back without anything', async () => {
    const redis = await startRedis();
    const [first, delivery] = [worker(), farmed('away')];
    await first.says(/^ice/i, 2);
    redis.process.kill('SIGKILL');
    await redis.ended;
    const back = await startRedis();
    expect(await delivery.ended).toEqual({ code: 0, errors: '' });
    expect(contents('away')).toEqual(contents('local'));
    await stop(first, back);
  });

  it('says so where there is none, or where its address is none', async () => {
    const nobody = await freePort();
    const lost = deliver('lost', '--redis', `redis://:secret@127.0.0.1:${nobody}`);
    expect(await lost.ended).toEqual({ code: 1, errors: `There is no answer from Redis at redis://127.0.0.1:${nobody}.\n` });
    expect((await deliver('lost', '--redis', 'somewhere').ended).errors).toContain('--redis is an address such as');
    expect((await choir('worker').ended).errors).toContain('Which queue?');
  });
});
