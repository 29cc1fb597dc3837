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
  const session = await context.newCDPSession(page);
  await page.goto('/');
  const origin = new URL(page.url()).origin;
  const usage = (): Promise<number> => page.evaluate(async () => (await navigator.storage.estimate()).usage ?? 0);
  const recording = (name: string, seed: number) => {
    const random = createRandom(seed);
    const noise = Float32Array.from({ length: 48_000 * 20 }, () => random.next() - 0.5);
    const wav = writeWav({ sampleRate: 48_000, channels: [noise, noise] }, { encoding: '32f' });
    return { name, mimeType: 'audio/wav', buffer: Buffer.from(wav) };
  };
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles(recording('Snow grain.wav', 1));
  await expect(page.getByText('1 of 1')).toBeVisible();
  await expect(page.getByText(/measuring \d+ more/)).toBeHidden();
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  // Room for what is there, and for half of another recording. How much room it took settles some time after it was written.
  let used = 0;
  await expect.poll(async () => used === (used = await usage()) && used > 3_000_000, { intervals: [500] }).toBe(true);
  await session.send('Storage.overrideQuotaForOrigin', { origin, quotaSize: used + 2_500_000 });
  await page.getByTestId('import-input').setInputFiles(recording('Ice creak.wav', 2));
  await expect(page.getByText(/storage is full/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('1 of 1')).toBeVisible();

  await session.send('Storage.overrideQuotaForOrigin', { origin });
  await page.getByRole('button', { name: 'Dismiss' }).click();
  await page.getByTestId('import-input').setInputFiles(recording('Ice groan.wav', 3));
  await expect(page.getByText('Ice groan', { exact: true }).first()).toBeVisible();
  await expect(undoName(page)).toContainText('Import');
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.getByText('Snow grain', { exact: true }).first()).toBeVisible();
  await expect(page.getByText('Ice groan', { exact: true }).first()).toBeVisible();
});
