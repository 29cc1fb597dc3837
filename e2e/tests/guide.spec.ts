import { expect, test } from '@playwright/test';
import { effectCatalogue, unpackArchive } from '@tangled-choir/core';
import { chromiumArguments, chromiumPath } from '../../scripts/chromium.mjs';
import { knock, wavFile } from '../recordings';
import { deliveredOriginal, download, exportProject, menuClosed, newProject, openDemo, openView, place, undoName } from '../steps';

test.use({
  permissions: ['microphone'],
  launchOptions: {
    executablePath: chromiumPath,
    args: [...chromiumArguments, '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'],
  },
});

test('the picture’s own sound is a guide: heard to the end of the picture, switched by one switch, never delivered', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'More for the picture' }).click();
  const movie = await download(page, () => page.getByRole('menuitem', { name: 'Export a movie with this sound' }).click());

  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([wavFile('Knock.wav', knock())]);
  await expect(page.getByText('1 of 1', { exact: true })).toBeVisible();
  await place(page, 'Knock');
  await page.getByTestId('picture-input').setInputFiles({ name: 'halda.webm', mimeType: 'video/webm', buffer: Buffer.from(movie) });
  await expect(page.getByRole('button', { name: 'More for the picture' })).toBeVisible();
  const before = await deliveredOriginal(page);

  await page.getByRole('button', { name: 'More for the picture' }).click();
  await page.getByRole('menuitem', { name: 'Hear its own sound as the guide' }).click();
  const guide = page.getByRole('region', { name: 'Guide' });
  await expect(guide).toContainText('halda');
  expect(await deliveredOriginal(page)).toEqual(before);

  // With the layer muted, only the guide is left to be heard; the meters of the sound tell nothing of it.
  await page.getByRole('button', { name: 'Mute Knock' }).click();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  const level = page.getByTestId('output-meter');
  await expect.poll(async () => Number(await level.getAttribute('aria-valuenow'))).toBeGreaterThan(-50);
  await expect(page.getByTestId('short-term')).toContainText('−∞');
  // Far behind the end of the knock.
  await expect(page.getByTestId('time')).toContainText(/00:0[3-9]/);
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await guide.getByRole('button', { name: 'Hear and seat the guide' }).click();
  await expect.poll(async () => Number(await level.getAttribute('aria-valuenow'))).toBeLessThan(-58);
  await expect(undoName(page)).toContainText('Guide off');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();

  // Moved by hand, and taken away; undo brings it back with its source.
  await guide.getByRole('button', { name: /^Guide halda/ }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(guide.getByRole('button', { name: /^Guide halda from 0\.1/ })).toBeVisible();
  await page.keyboard.press('Delete');
  await expect(guide).toHaveCount(0);
  await undoName(page).click();
  await expect(guide).toBeVisible();
});

test('a take is recorded along with the sound and lies where it was played', async ({ page }) => {
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([wavFile('Knock.wav', knock())]);
  await expect(page.getByText('1 of 1', { exact: true })).toBeVisible();
  await place(page, 'Knock');
  await page.getByTestId('picture-input').setInputFiles('demo/picture/halda-station.webm');
  await expect(page.getByRole('button', { name: 'More for the picture' })).toBeVisible();
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  const panel = page.locator('tc-record-panel');
  await expect(panel.getByLabel('Microphone')).toContainText(/Fake/);
  await panel.getByRole('button', { name: 'Record', exact: true }).click();
  // The picture plays meanwhile.
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).last()).toBeVisible();
  await expect(panel.getByRole('status')).toContainText(/^\s*[3-9]/);
  await panel.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Layer Take 1' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();

  const { project } = await unpackArchive(await exportProject(page), effectCatalogue);
  await menuClosed(page);
  const [, layer] = project.sounds[0]!.layers;
  const clip = layer!.clips[0]!;
  expect(clip.start).toBeGreaterThanOrEqual(0);
  expect(clip.start).toBeLessThan(3);
  // Either it begins at 0 and its beginning was recorded before anything played, or it begins later whole.
  expect(clip.start === 0 || clip.offset === 0).toBe(true);
  await undoName(page).click();
  await expect(page.getByRole('region', { name: 'Layer Take 1' })).toHaveCount(0);
  await openView(page, 'Gather');
  await expect(page.getByRole('listitem', { name: 'Take 1' })).toHaveCount(0);
});
