import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { createRandom, effectCatalogue, readWav, unpackArchive } from '@tangled-choir/core';
import { wavFile } from '../recordings';
import { toneLevel } from '../measure';
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
    'choir.aifc': ['-c:a', 'pcm_f32be', '-f', 'aiff'],
  };
  const known = Object.entries(files).map(([name, options]) => ({ name, ...coded(folder, wav, name, options) }));
  await newProject(page);
  await page
    .getByTestId('import-input')
    .setInputFiles(known.map(({ name, file }) => ({ name, mimeType: 'application/octet-stream', buffer: file })));
  await expect(page.getByText('7 of 7')).toBeVisible();
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

test('FLAC at any rate comes in, and what cannot be read is called by its name', async ({ page }, testInfo) => {
  const folder = testInfo.outputPath();
  mkdirSync(folder, { recursive: true });
  const tone = Float32Array.from({ length: 24_000 }, (_, i) => 0.4 * Math.sin((2 * Math.PI * 440 * i) / rate));
  const wav = wavFile('', { sampleRate: rate, channels: [tone] }).buffer;
  const made = (name: string, options: readonly string[]) => ({
    name,
    mimeType: 'application/octet-stream',
    buffer: coded(folder, wav, name, options).file,
  });
  await newProject(page);
  const importing = page.getByTestId('import-input');
  await importing.setInputFiles([64_000, 192_000].map((hertz) => made(`tone ${hertz}.flac`, ['-ar', String(hertz), '-c:a', 'flac'])));
  await expect(page.getByText('2 of 2')).toBeVisible();
  const { project, audio } = await unpackArchive(await exportProject(page), effectCatalogue);
  for (const source of project.sources) {
    const heard = readWav(audio.get('audio' in source ? source.audio : '')!).audio.channels[0]!;
    expect(heard).toHaveLength(24_000);
    expect(toneLevel(heard, 440, 0.25)).toBeCloseTo(20 * Math.log10(0.4), 1);
  }
  for (const [name, options, words] of [
    ['tone.caf', ['-c:a', 'pcm_s24be'], 'a Core Audio file (CAF)'],
    ['tone.m4a', ['-c:a', 'alac'], 'Apple Lossless (ALAC)'],
    ['tone.wma', ['-c:a', 'wmav2'], 'a Windows Media file'],
  ] as const) {
    await importing.setInputFiles([made(name, options)]);
    await expect(page.getByRole('alert').filter({ hasText: `“${name}”` })).toContainText(words);
  }
  // What our own readers do not know, the browser may.
  await importing.setInputFiles([made('tone.oga', ['-c:a', 'flac', '-f', 'ogg'])]);
  await expect(page.getByText('3 of 3')).toBeVisible();
});
