import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Audio } from '@tangled-choir/core';
import { writeWav } from '@tangled-choir/core';
import type { Codecs } from '@tangled-choir/jobs';
import { runJob, WorkerPool } from '@tangled-choir/jobs';
import { encodeFile } from '@tangled-choir/encoders';
import { run } from '../run';

/** What tests of commands need: a folder for files, and commands that run in this thread. */

let folder: string;
/** A path in a folder of the test's own. */
export const inFolder = (...names: string[]): string => join(folder, ...names);

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'choir-cli-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

/** Does jobs in this thread; the built command line is tried in `built.spec.ts`. */
const pool = (): WorkerPool =>
  new WorkerPool((onAnswer) => ({ post: (message) => void runJob(message, onAnswer, codecs), terminate: () => undefined }), 2);
const refuse = (): Promise<never> => Promise.reject(new Error('There are no codecs here.'));
const codecs: Codecs = { openCompressed: refuse, measureMotion: refuse, makeMovie: refuse, encodeFile };

export async function choir(...args: string[]): Promise<{ code: number; out: string; errors: string[] }> {
  let out = '';
  const errors: string[] = [];
  const code = await run(args, pool, { out: (text) => (out += text), error: (line) => errors.push(line) });
  return { code, out, errors };
}

export function tone(level: number, seconds = 4, channels = 2): Audio {
  const samples = Float32Array.from({ length: 48_000 * seconds }, (_, i) => level * Math.sin((2 * Math.PI * 1_000 * i) / 48_000));
  return { sampleRate: 48_000, channels: Array.from({ length: channels }, () => samples) };
}

export function put(name: string, audio: Audio): string {
  writeFileSync(inFolder(name), writeWav(audio, { encoding: '32f' }));
  return inFolder(name);
}

export function putText(name: string, text: string): string {
  writeFileSync(inFolder(name), text);
  return inFolder(name);
}
