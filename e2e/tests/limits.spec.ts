import { expect, test } from '@playwright/test';
import { createRandom, writeWav } from '@tangled-choir/core';
import { mkdtempSync, openSync, closeSync, ftruncateSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { newProject, openDemo, openView, undoName } from '../steps';

/** A file of some gigabytes that takes no room on the disk. */
function sparseFile(name: string, gigabytes: number): { path: string; remove: () => void } {
  const folder = mkdtempSync(join(tmpdir(), 'choir-'));
  const path = join(folder, name);
  const file = openSync(path, 'w');
  ftruncateSync(file, gigabytes * 2 ** 30 + 1_000);
  closeSync(file);
  return { path, remove: () => rmSync(folder, { recursive: true }) };
}

test('sound files and pictures that are too large or no such files are refused by name, and nothing else happens', async ({ page }) => {
  const wav = sparseFile('Whole winter.wav', 6.5);
  const empty = sparseFile('Two gigabytes of nothing.wav', 2);
  const video = sparseFile('Whole winter.webm', 2);
  try {
    await openDemo(page);
    await page.getByTestId('picture-input').setInputFiles(video.path);
    await expect(page.getByText('“Whole winter.webm” has 2.0 GB; pictures up to 2 GB can be loaded.')).toBeVisible();
    await page.getByRole('button', { name: 'Dismiss' }).click();
    await openView(page, 'Gather');
    const count = await page.getByText(/^\d+ of \d+$/).textContent();
    await page.getByTestId('import-input').setInputFiles([wav.path, empty.path]);
    await expect(
      page.getByText('“Whole winter.wav” has 6.5 GB; files up to 6.0 GB can be imported. Cut it into parts first.'),
    ).toBeVisible();
    await expect(page.getByText('“Two gigabytes of nothing.wav” is not a WAV file')).toBeVisible();
    await expect(page.getByText(/^\d+ of \d+$/)).toHaveText(count ?? '');
  } finally {
    wav.remove();
    empty.remove();
    video.remove();
  }
});

test('a full storage is told, keeps what was there, and lets work go on once there is room', async ({ page, context }) => {
  // Each takes up to 10 MB, less where a browser packs what it stores.
  const random = createRandom(1);
  const noise = Float32Array.from({ length: 48_000 * 25 }, () => random.next() - 0.5);
  const recording = (name: string, first: number) => {
    noise[0] = first;
    const wav = writeWav({ sampleRate: 48_000, channels: [noise, noise] }, { encoding: '32f' });
    return { name, mimeType: 'audio/wav', buffer: Buffer.from(wav) };
  };
  // Before anything is stored: for a while a browser goes by the room that it found then.
  const session = await context.newCDPSession(page);
  await page.goto('/');
  const origin = new URL(page.url()).origin;
  await session.send('Storage.overrideQuotaForOrigin', { origin, quotaSize: 20_000_000 });
  await newProject(page);
  const full = page.getByText(/storage is full/);
  const count = (n: number) => page.getByText(`${n} of ${n}`, { exact: true });
  let stored = 0;
  while (!(await full.isVisible())) {
    expect(stored).toBeLessThan(5);
    await page.getByTestId('import-input').setInputFiles(recording(`Snow grain ${stored + 1}.wav`, 0.1 + stored / 10));
    await expect(full.or(count(stored + 1))).toBeVisible();
    if (await count(stored + 1).isVisible()) stored++;
  }
  expect(stored).toBeGreaterThan(0);
  await expect(count(stored)).toBeVisible();

  await session.send('Storage.overrideQuotaForOrigin', { origin });
  await page.getByRole('button', { name: 'Dismiss' }).click();
  await page.getByTestId('import-input').setInputFiles(recording('Ice groan.wav', 0.9));
  await expect(page.getByText('Ice groan', { exact: true }).first()).toBeVisible();
  await expect(undoName(page)).toContainText('Import');
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.getByText('Snow grain 1', { exact: true }).first()).toBeVisible();
  await expect(page.getByText('Ice groan', { exact: true }).first()).toBeVisible();
});
