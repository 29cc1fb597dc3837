import { expect, test } from '@playwright/test';
import { effectCatalogue, manifestSchema, readWav, unpackArchive } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { residual } from '../measure';
import { choose, download, exportProject, handOffSound, openDemo, openView, undoAndRedo, undoName } from '../steps';

test('the loop doctor makes a seamless source of the wind', async ({ page }) => {
  await openDemo(page);
  await openView(page, 'Gather');
  await page.getByRole('listitem', { name: 'Wind over the ridge' }).click();
  await page.getByRole('button', { name: 'More for this source' }).click();
  await page.getByRole('menuitem', { name: 'Loop doctor…' }).click();
  const dialog = page.getByRole('dialog');
  for (const track of ['Level', 'Pitch', 'Colour']) await expect(dialog.getByRole('img', { name: new RegExp(`^${track}`) })).toBeVisible();
  await expect(dialog.getByRole('region', { name: 'Proposals' }).getByRole('button')).toHaveCount(6);
  await expect(dialog.getByRole('status')).toHaveText(/The seam changes no more than the rest does/);

  // A part by hand: its start typed, its crossfade too; the seam is measured anew.
  const from = dialog.getByRole('slider', { name: 'From' });
  await from.focus();
  await page.keyboard.type('0.5');
  await page.keyboard.press('Enter');
  await dialog.getByRole('slider', { name: 'Crossfade' }).focus();
  await page.keyboard.type('900 ms');
  await page.keyboard.press('Enter');
  await expect(dialog.getByRole('slider', { name: 'Crossfade' })).toHaveAttribute('aria-valuetext', '900 ms');
  await expect(dialog.getByRole('rowheader', { name: 'Level step' })).toBeVisible();
  await dialog.getByRole('button', { name: 'Listen to the seam' }).click();
  await expect.poll(async () => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'))).toBeGreaterThan(-45);
  // The best proposal again, and a source is made of it.
  await dialog.getByRole('region', { name: 'Proposals' }).getByRole('button').first().click();
  await expect(dialog.getByRole('status')).toHaveText(/The seam changes no more than the rest does/);
  await dialog.getByRole('button', { name: 'Make the source' }).click();
  await expect(page.getByRole('listitem', { name: 'Wind over the ridge loop' })).toHaveCount(1);
  await expect(undoName(page)).toContainText('Make “Wind over the ridge loop”');
  await undoAndRedo(page, 1);

  const { project, audio } = await unpackArchive(await exportProject(page), effectCatalogue);
  const made = project.sources.at(-1)!;
  expect(made.origin.cutFrom?.name).toBe('Wind over the ridge');
  const file = readWav(audio.get(made.audio)!);
  expect(file.details.loop).toEqual({ from: 0, to: made.frames });
  for (const channel of file.audio.channels) {
    const steps = channel.map((sample, i) => Math.abs(sample - channel.at(i - 1)!));
    expect(steps[0]).toBeLessThanOrEqual(steps.subarray(1).reduce((a, b) => Math.max(a, b)));
  }

  // Placed and delivered, it is the same loop to the last sample: nothing fades it, and the file says where it goes round.
  await openView(page, 'Loft');
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'New sound' }).click();
  await openView(page, 'Gather');
  await page.getByRole('button', { name: 'Place in Loft', exact: true }).click();
  await expect(page.locator('tc-clip')).toHaveCount(1);
  await handOffSound(page);
  await choose(page.getByLabel('Depth'), '32 bit float');
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  const [written] = manifestSchema.parse(JSON.parse(new TextDecoder().decode(entries['manifest.json']))).files;
  const delivered = readWav(entries[written!.file]!);
  expect(written!.loop).toEqual({ from: 0, to: made.frames });
  expect(delivered.details.loop).toEqual({ from: 0, to: made.frames });
  for (const [c, channel] of delivered.audio.channels.entries())
    expect(residual(file.audio.channels[c]!, channel, 0, made.frames)).toBeLessThan(-110);
});
