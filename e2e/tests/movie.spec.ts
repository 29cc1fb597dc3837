import { expect, test } from '@playwright/test';
import { ALL_FORMATS, BufferSource, EncodedPacketSink, Input } from 'mediabunny';
import { readFileSync } from 'node:fs';
import { deliveredOriginal, download, openDemo, openView, riseIn, undoAndRedo } from '../steps';

async function packetTimes(bytes: Uint8Array): Promise<number[]> {
  const input = new Input({ formats: ALL_FORMATS, source: new BufferSource(bytes) });
  const track = (await input.getPrimaryVideoTrack())!;
  const times: number[] = [];
  for await (const packet of new EncodedPacketSink(track).packets()) times.push(packet.timestamp);
  return times;
}

test('a picture without a sound yet is exported as it is', async ({ page }) => {
  await openDemo(page);
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'New sound' }).click();
  await page.getByTestId('picture-input').setInputFiles('demo/picture/halda-station.webm');
  await page.getByRole('button', { name: 'More for the picture' }).click();
  const movie = await download(page, () => page.getByRole('menuitem', { name: 'Export a movie with this sound' }).click());
  const original = await packetTimes(new Uint8Array(readFileSync('demo/picture/halda-station.webm')));
  expect(await packetTimes(movie)).toHaveLength(original.length);
});

test('the picture is exported as a movie with the sound: every frame at its time, the sound in step', async ({ page }) => {
  await openDemo(page);
  const heard = await deliveredOriginal(page);
  // The picture begins half a second before the sound.
  await page.getByRole('button', { name: 'More for the picture' }).click();
  await page.getByRole('slider', { name: 'Picture begins at' }).focus();
  await page.keyboard.type('-0.5 s');
  await page.keyboard.press('Enter');
  const movie = await download(page, () => page.getByRole('menuitem', { name: 'Export a movie with this sound' }).click());
  const original = await packetTimes(new Uint8Array(readFileSync('demo/picture/halda-station.webm')));
  const copied = await packetTimes(movie);
  expect(copied).toHaveLength(original.length);
  // WebM counts milliseconds.
  expect(original.every((time, n) => Math.abs(copied[n]! - time) < 0.0011)).toBe(true);

  // Brought in again, its sound is what was delivered, as late as the picture began before it.
  const offset = 0.5;
  await openView(page, 'Gather');
  await page.getByTestId('import-input').setInputFiles({ name: 'preview.webm', mimeType: 'video/webm', buffer: Buffer.from(movie) });
  await expect(page.getByText('preview', { exact: true }).first()).toBeVisible();
  await openView(page, 'Loft');
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'New sound' }).click();
  await page.getByPlaceholder('Sources').fill('preview');
  await page.locator('[data-source]', { hasText: 'preview' }).first().focus();
  await page.keyboard.press('p');
  await expect(page.getByRole('region', { name: 'Layer preview' })).toBeVisible();
  const again = await deliveredOriginal(page);
  for (const [from, to] of [
    [0.3, 0.6],
    [1.9, 2.2],
  ] as const)
    expect(Math.abs(riseIn(again, from + offset, to + offset) - offset - riseIn(heard, from, to))).toBeLessThan(0.004);
  await undoAndRedo(page, 2);
});
