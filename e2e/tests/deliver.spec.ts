import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { conductFileSchema, manifestSchema, measure, readWav } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { graveFaults } from '../accessibility';
import { choose, download, menuClosed, openDemo, openView } from '../steps';

const folder = mkdtempSync(join(tmpdir(), 'halda-deliver-'));
const table = (page: Page) => page.getByRole('table', { name: 'Deliveries' });
const row = (page: Page, name: string) => table(page).getByRole('row').filter({ hasText: name });
const writeZip = async (page: Page) => unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
const manifestOf = (entries: Record<string, Uint8Array>) =>
  manifestSchema.parse(JSON.parse(new TextDecoder().decode(entries['manifest.json'])));

/** What somebody else finds in a file. */
function probe(name: string, bytes: Uint8Array): Record<string, string> {
  const file = join(folder, name.replaceAll('/', '_'));
  writeFileSync(file, bytes);
  const told = execFileSync('ffprobe', [
    '-v',
    'error',
    '-show_entries',
    'stream=codec_name,sample_rate,channels,bits_per_raw_sample',
    file,
  ]);
  return Object.fromEntries(
    told
      .toString()
      .trim()
      .split('\n')
      .filter((line) => line.includes('='))
      .map((line) => line.split('=') as [string, string]),
  );
}

test('the demo’s whole project is checked and handed off: stems, game files and behaviours, as others read them', async ({ page }) => {
  await openDemo(page);
  await openView(page, 'Hand-off');
  await expect(page.getByRole('heading', { name: '56 files in 3 deliveries' })).toBeVisible();
  await page.getByRole('button', { name: 'Pre-flight' }).click();
  // Three of the pebbles that the ice throws are heard as the same; everything else is fine.
  await expect(page.locator('.verdict')).toContainText('3 to consider');
  await expect(row(page, 'Game')).toContainText('fine');
  await expect(row(page, 'Mix of the slab')).toContainText('fine');
  await expect(row(page, 'Walk to the drill')).toContainText('3 to consider');

  // The second press of a double click stops nothing.
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).dblclick()));
  const manifest = manifestOf(entries);
  expect(manifest.files).toHaveLength(56);
  for (const entry of manifest.files) {
    const channels = entry.delivery === 'Mix of the slab' ? 2 : entry.delivery === 'Game' ? 1 : entry.channels;
    expect(probe(entry.file, entries[entry.file]!)).toMatchObject({
      codec_name: entry.delivery === 'Game' ? 'pcm_s16le' : 'pcm_s24le',
      sample_rate: entry.delivery === 'Game' ? '44100' : '48000',
      channels: String(channels),
    });
    expect(entry.bytes).toBe(entries[entry.file]!.length);
    const { audio, details } = readWav(entries[entry.file]!);
    const measured = measure(audio);
    expect(measured.frames).toBe(entry.frames);
    // Sixteen bits with their dither are as loud as what went into them.
    expect(Math.abs(measured.integratedLufs - entry.integratedLufs!)).toBeLessThan(0.1);
    expect(Math.abs(measured.truePeakDbtp - entry.truePeakDbtp!)).toBeLessThan(0.1);
    expect(details.loop).toEqual(entry.loop);
  }
  const game = conductFileSchema.parse(JSON.parse(new TextDecoder().decode(entries['Walk-to-the-drill/conduct.json'])));
  expect(Object.values(game.files).map(({ file, sha256 }) => [`Walk-to-the-drill/${file}`, sha256])).toEqual(
    manifest.files.filter(({ delivery }) => delivery === 'Walk to the drill').map(({ file, sha256 }) => [file, sha256]),
  );
  expect(Object.keys(entries)).toEqual(
    expect.arrayContaining([
      'report.html',
      'report.csv',
      'Mix-of-the-slab/cues/Slab-break_sound-25.otio',
      'Walk-to-the-drill/conduct.json',
    ]),
  );
  expect(await graveFaults(page)).toEqual([]);
});

test('a delivery is made, shaped and named: Opus at a loudness, FLAC, a sheet; what collides is told, and undo takes it back', async ({
  page,
}) => {
  await openDemo(page);
  await openView(page, 'Hand-off');
  for (const name of ['Mix of the slab', 'Game', 'Walk to the drill'])
    await page.getByRole('checkbox', { name: `Write “${name}”` }).uncheck();
  await expect(page.getByRole('button', { name: 'Write zip' })).toBeDisabled();

  await page.getByRole('button', { name: 'Delivery', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Web game' }).click();
  await menuClosed(page);
  await page.getByRole('button', { name: 'Which sounds' }).click();
  for (const sound of ['Snow step', 'Radio call']) await page.getByRole('menuitemcheckbox', { name: sound, exact: true }).click();
  await page.keyboard.press('Escape');
  await menuClosed(page);
  await expect(page.locator('.file')).toHaveText(['snow-step_01.opus', 'radio-call_01.opus']);
  await page.getByLabel('Naming template').fill('same');
  await expect(page.getByText('Another file has the same name').first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Write zip' })).toBeDisabled();
  await page.getByLabel('Naming template').fill('{role}/{sound}');
  await expect(page.locator('.file')).toHaveText([/^[a-z]+\/snow-step\.opus$/, /^[a-z]+\/radio-call\.opus$/]);

  const opus = await writeZip(page);
  for (const { file, channels, format, kilobits } of manifestOf(opus).files) {
    expect(probe(file, opus[file]!)).toMatchObject({ codec_name: 'opus', sample_rate: '48000', channels: String(channels) });
    expect([format, kilobits]).toEqual(['opus', 128]);
  }
  const radio = manifestOf(opus).files.find(({ sound }) => sound === 'Radio call')!;
  expect(radio.integratedLufs).toBeCloseTo(-23, 0);
  expect(radio.truePeakDbtp).toBeLessThanOrEqual(-0.99);

  await choose(page.getByLabel('Format'), 'FLAC');
  await choose(page.getByLabel('Depth'), '16 bit');
  const flac = await writeZip(page);
  for (const { file } of manifestOf(flac).files) {
    expect(probe(file, flac[file]!)).toMatchObject({ codec_name: 'flac', bits_per_raw_sample: '16' });
    execFileSync('flac', ['--test', '--silent', '--warnings-as-errors', join(folder, file.replaceAll('/', '_'))]);
  }
  await choose(page.getByLabel('Format'), 'Ogg Vorbis');
  await choose(page.getByLabel('Rate'), '22.05 kHz');
  const vorbis = await writeZip(page);
  for (const { file } of manifestOf(vorbis).files)
    expect(probe(file, vorbis[file]!)).toMatchObject({ codec_name: 'vorbis', sample_rate: '22050' });

  await page.getByRole('checkbox', { name: 'All in one sheet' }).check();
  const sheet = await writeZip(page);
  expect(Object.keys(sheet).filter((name) => name.endsWith('.ogg'))).toHaveLength(1);
  expect(manifestOf(sheet).files[0]!.parts!.map(({ sound }) => sound)).toEqual(['Snow step', 'Radio call']);

  await page.keyboard.press('Control+z');
  await expect(page.getByRole('checkbox', { name: 'All in one sheet' })).not.toBeChecked();
  await page.getByRole('button', { name: 'Remove this delivery' }).click();
  await expect(row(page, 'Web game')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(row(page, 'Web game')).toHaveCount(1);
});

test('what a game plays is coded as its delivery says, from Conduct, too', async ({ page }) => {
  await openDemo(page);
  await openView(page, 'Hand-off');
  for (const name of ['Mix of the slab', 'Game']) await page.getByRole('checkbox', { name: `Write “${name}”` }).uncheck();
  await row(page, 'Walk to the drill').click();
  await choose(page.getByLabel('Format'), 'Ogg Opus');
  await page.getByRole('slider', { name: 'kbit/s a channel' }).focus();
  await page.keyboard.type('48');
  await page.keyboard.press('Enter');
  await expect(page.locator('.file').first()).toHaveText(/\.opus$/);
  await openView(page, 'Conduct');
  await expect(page.getByTitle(/files: Opus 96 kbit\/s, 48 kHz/).first()).toBeVisible();
  const game = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write the files for the game' }).click()));
  const { files, takes, sampleRate } = conductFileSchema.parse(JSON.parse(new TextDecoder().decode(game['conduct.json'])));
  expect(sampleRate).toBe(48_000);
  const entries = new Map(manifestOf(game).files.map((entry) => [entry.key, entry]));
  expect(Object.keys(files).sort()).toEqual([...entries.keys()].sort());
  for (const { original, family } of Object.values(takes))
    for (const { asset, frames } of original ? [original, ...family] : family) {
      expect(entries.get(asset)!.frames).toBe(frames);
      const { file, bytes } = files[asset]!;
      expect(game[file]!.length).toBe(bytes);
      expect(probe(file, game[file]!)['codec_name']).toBe('opus');
    }
});

test('into a folder only what has changed is written; a folder that may not be written to is told', async ({ page }) => {
  // The browser’s own folder stands for one of the disk, because nobody can press the button of its dialog here.
  await page.addInitScript(() => {
    (window as { showDirectoryPicker?: () => Promise<FileSystemDirectoryHandle> }).showDirectoryPicker = async () => {
      const root = await navigator.storage.getDirectory();
      return root.getDirectoryHandle('delivered', { create: true });
    };
  });
  await openDemo(page);
  await openView(page, 'Hand-off');
  for (const name of ['Mix of the slab', 'Walk to the drill']) await page.getByRole('checkbox', { name: `Write “${name}”` }).uncheck();
  const write = async (): Promise<void> => {
    await page.getByRole('button', { name: 'Other ways to write' }).click();
    await page.getByRole('menuitem', { name: /^Into a folder/ }).click();
    await menuClosed(page);
  };
  await write();
  await expect(page.getByText('13 files were written to “delivered”.')).toBeVisible();
  await write();
  await expect(page.getByText('3 files were written to “delivered”, 10 were as they should be.')).toBeVisible();
  await row(page, 'Game').getByRole('button').click();
  await page.getByRole('checkbox', { name: 'Block DC' }).uncheck();
  await write();
  await expect(page.getByText('13 files were written to “delivered”.')).toBeVisible();
  const names = await page.evaluate(async () => {
    const root = await (await navigator.storage.getDirectory()).getDirectoryHandle('delivered');
    const found: string[] = [];
    for await (const name of (root as unknown as { keys(): AsyncIterable<string> }).keys()) found.push(name);
    return found.sort();
  });
  expect(names).toContain('manifest.json');
  expect(names.filter((name) => name.endsWith('.wav'))).toHaveLength(10);

  await page.evaluate(() => {
    FileSystemFileHandle.prototype.createWritable = () => Promise.reject(new DOMException('no', 'QuotaExceededError'));
  });
  await page.getByRole('checkbox', { name: 'Block DC' }).check();
  await write();
  await expect(page.getByText(/could not be written: the disk is full/)).toBeVisible();
});

test('the server makes what it is sent while work goes on, and hands out its zip', async ({ page }) => {
  await openDemo(page);
  await openView(page, 'Hand-off');
  await page.getByRole('checkbox', { name: 'Write “Mix of the slab”' }).uncheck();
  const send = async (): Promise<void> => {
    await page.getByRole('button', { name: 'Other ways to write' }).click();
    await page.getByRole('menuitem', { name: /^On the server/ }).click();
    await menuClosed(page);
  };
  await send();
  await openView(page, 'Loft');
  await openView(page, 'Hand-off');
  const entries = unzipSync(await download(page, () => page.getByRole('link', { name: 'Save zip' }).click()));
  const names = manifestOf(entries).files.map(({ file }) => file);
  expect(names.filter((name) => name.startsWith('Game/'))).toHaveLength(10);
  expect(names.filter((name) => name.startsWith('Walk-to-the-drill/'))).toHaveLength(35);
  expect(Object.keys(entries)).toContain('Walk-to-the-drill/conduct.json');
  // The same recipes as here, because it is the same code.
  expect(manifestOf(await writeZip(page)).files.map(({ file, recipe }) => [file, recipe])).toEqual(
    manifestOf(entries).files.map(({ file, recipe }) => [file, recipe]),
  );
  await page.getByRole('button', { name: 'Forget it' }).click();
  await expect(page.getByText('On the server: Halda Station')).toHaveCount(0);

  // One that is stopped goes away, and the next takes its place.
  await send();
  await page.getByRole('button', { name: 'Stop it' }).click();
  await expect(page.getByText('On the server: Halda Station')).toHaveCount(0);
  await send();
  await expect(page.getByText(/^On the server: /)).toBeVisible();
  await expect(page.getByText('is being sent')).toHaveCount(0);
  // A page that is loaded anew finds it again.
  await page.reload();
  await expect(page.getByRole('link', { name: 'Save zip' })).toBeVisible();
});
