import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { createRandom, effectCatalogue, readWav, unpackArchive } from '@tangled-choir/core';
import { wavFile } from '../recordings';
import { exportProject, newProject } from '../steps';

const rate = 48_000;

/** What ffmpeg makes of a WAV file, and what it reads out of that again, as 32 bit floats. */
function coded(folder: string, wav: Buffer, name: string, options: readonly string[]): { file: Buffer; decoded: Float32Array } {
  const path = `${folder}/${name}`;
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'wav', '-i', 'pipe:0', ...options, path], { input: wav });
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'f32le', '-ac', '1', 'pipe:1'], { maxBuffer: 2 ** 28 });
  return { file: readFileSync(path), decoded: new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length)) };
}

test('compressed files begin and end to the sample where an independent decoder has them', async ({ page }, testInfo) => {
  const folder = testInfo.outputPath();
  mkdirSync(folder, { recursive: true });
  const length = 54_441;
  const random = createRandom(3);
  let low = 0;
  // Low noise, so that every codec keeps all of it, in bursts, so that it is alike nowhere else.
  const samples = Float32Array.from({ length }, (_, i) => (low += (0.3 * Math.sin(i * i * 2e-8) * (2 * random.next() - 1) - low) * 0.2));
  const wav = wavFile('', { sampleRate: rate, channels: [samples] }).buffer;
  const files = {
    'lame.mp3': ['-c:a', 'libmp3lame', '-b:a', '192k'],
    'variable.mp3': ['-c:a', 'libmp3lame', '-q:a', '2'],
    'choir.opus': ['-c:a', 'libopus', '-b:a', '160k'],
    'choir.ogg': ['-c:a', 'libvorbis', '-q:a', '6'],
    'choir.m4a': ['-c:a', 'aac', '-b:a', '192k'],
    'choir.flac': ['-c:a', 'flac'],
  };
  const known = Object.entries(files).map(([name, options]) => ({ name, ...coded(folder, wav, name, options) }));
  await newProject(page);
  await page
    .getByTestId('import-input')
    .setInputFiles(known.map(({ name, file }) => ({ name, mimeType: 'application/octet-stream', buffer: file })));
  await expect(page.getByText('6 of 6')).toBeVisible();
  const archive = await exportProject(page);
  const { project, audio } = await unpackArchive(archive, effectCatalogue);
  for (const { name, decoded } of known) {
    const source = project.sources.find(({ origin }) => origin.file === name);
    const heard = source && 'audio' in source ? readWav(audio.get(source.audio)!).audio.channels[0]! : undefined;
    expect({ name, frames: heard?.length }).toEqual({ name, frames: decoded.length });
    let most = 0;
    for (const [i, sample] of decoded.entries()) most = Math.max(most, Math.abs(sample - heard![i]!));
    expect({ name, alike: most < 1e-3 }).toEqual({ name, alike: true });
    if (name !== 'choir.m4a') expect(decoded).toHaveLength(length);
  }
});
