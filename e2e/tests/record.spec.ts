import { expect, test } from '@playwright/test';
import { effectCatalogue, readWav, unpackArchive } from '@tangled-choir/core';
import { chromiumArguments, chromiumPath } from '../../scripts/chromium.mjs';
import { choose, exportProject, newProject } from '../steps';

test.use({
  permissions: ['microphone'],
  launchOptions: {
    executablePath: chromiumPath,
    args: [...chromiumArguments, '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'],
  },
});

test('records a take, which is a source like any other', async ({ page }) => {
  await newProject(page);
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  const panel = page.locator('tc-record-panel');
  await expect(panel.getByLabel('Microphone')).toContainText(/Fake/);
  await choose(panel.getByLabel('Count-in in seconds'), '1 s');
  await panel.getByRole('button', { name: 'Record', exact: true }).click();
  // Long enough for several beeps of the fake device, however late the first comes.
  await expect(panel.getByRole('status')).toContainText(/^\s*[3-9]/);
  await panel.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(panel.getByText('Take 1')).toBeVisible();
  await expect(page.getByRole('listitem', { name: 'Take 1' })).toBeVisible();

  const { project, audio } = await unpackArchive(await exportProject(page), effectCatalogue);
  const [take] = project.sources;
  expect(take!.origin.date).toMatch(/^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d$/);
  const samples = readWav(audio.get(take!.audio)!).audio.channels[0]!;
  expect(samples.length).toBeGreaterThan(48_000);
  // The fake device beeps.
  expect(samples.some((sample) => Math.abs(sample) > 0.05)).toBe(true);

  await panel.getByRole('button', { name: 'Discard Take 1' }).click();
  await expect(page.getByRole('listitem', { name: 'Take 1' })).toHaveCount(0);
});
