import { expect, test } from '@playwright/test';
import type { Audio } from '@tangled-choir/core';
import { chooseSource, deliveredOriginal, openDemo, openView, undoAndRedo, undoName } from '../steps';

/** RMS of the difference relative to the RMS of the reference, in dB. */
function residual(reference: Audio, actual: Audio): number {
  let difference = 0;
  let size = 0;
  reference.channels.forEach((channel, c) =>
    channel.forEach((sample, i) => {
      difference += (sample - (actual.channels[c]![i] ?? 0)) ** 2;
      size += sample ** 2;
    }),
  );
  return 10 * Math.log10(difference / size + 1e-30);
}

test('prints a layer without a change to what is heard, keeps its recipe, and prints takes', async ({ page }) => {
  await openDemo(page);
  const before = await deliveredOriginal(page);
  await page.getByRole('region', { name: 'Layer Slab body' }).locator('tc-clip').last().click();
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Print “Slab body”', exact: true }).click();
  const printed = page.getByRole('region', { name: 'Layer Slab body print' });
  await expect(printed.locator('tc-clip')).toHaveCount(1);
  await expect(page.getByRole('region', { name: 'Layer Slab body', exact: true })).toHaveCount(0);
  expect(residual(before, await deliveredOriginal(page))).toBeLessThan(-100);
  await undoAndRedo(page, 1);
  await undoName(page).click();
  await expect(page.getByRole('region', { name: 'Layer Slab body', exact: true })).toBeVisible();
  await page.getByRole('button', { name: /^Redo/ }).click();

  // The print leads back to what it was made of.
  await openView(page, 'Gather');
  await chooseSource(page, 'Slab body print');
  await expect(page.locator('dl')).toContainText('Slab break, Slab body');
  await page.getByRole('button', { name: 'More for this source' }).click();
  await page.getByRole('menuitem', { name: 'Open its recipe as a sound' }).click();
  await expect(page.getByRole('region', { name: 'Layer Slab body', exact: true })).toBeVisible();
  await expect(page.locator('.lane')).toHaveCount(1);

  // Takes draw the sways of their layer anew.
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'Snow step' }).click();
  await page.locator('tc-clip').first().click();
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  await page.getByRole('menuitem', { name: /^Print takes of/ }).click();
  await page.getByRole('slider', { name: 'Takes' }).focus();
  await page.keyboard.type('5');
  await page.keyboard.press('Enter');
  await page.getByRole('dialog').getByRole('button', { name: 'Print', exact: true }).click();
  await expect(page.getByText('5 takes are in Gather.')).toBeVisible();
  await openView(page, 'Gather');
  await page.getByRole('searchbox', { name: 'Search sources' }).fill('take');
  await expect(page.locator('.row')).toHaveCount(5);
  await undoAndRedo(page, 1);
});
