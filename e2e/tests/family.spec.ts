import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { readWav } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { graveFaults } from '../accessibility';
import { download, menuClosed, newProject, openDemo, openView, undoAndRedo, undoName } from '../steps';

const plan = (page: Page) => page.getByRole('group', { name: /^Map of the family/ });
const dots = (page: Page) => plan(page).getByRole('button');

async function openSnowStep(page: Page): Promise<void> {
  await openDemo(page);
  await openView(page, 'Kin');
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'Snow step' }).click();
  await expect(dots(page)).toHaveCount(16);
}

async function keepBest(page: Page, offer: string): Promise<void> {
  await page.getByRole('button', { name: 'Keep the best' }).click();
  await page.getByRole('menuitem', { name: offer }).click();
  await menuClosed(page);
}

test('the best of a family by ear: kept in one step, evened out, fired, and delivered', async ({ page }) => {
  await openSnowStep(page);
  await expect(page.getByText(/Nearest pair/)).toBeVisible();

  await keepBest(page, '6 of 16');
  await expect(page.getByText('6 kept')).toBeVisible();
  await expect(undoName(page)).toHaveAccessibleName(/Keep the best 6/);
  await expect(dots(page).filter({ visible: true })).toHaveCount(16);
  await expect(plan(page).getByRole('button', { name: /, kept/ })).toHaveCount(6);
  await undoAndRedo(page, 1);

  await test.step('their levels come together', async () => {
    await page.getByRole('slider', { name: 'Within' }).focus();
    await page.keyboard.type('0.2');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Even out' }).click();
    await expect(undoName(page)).toHaveAccessibleName(/Even out/);
    // The map is drawn anew once those are rendered that have changed.
    await expect(dots(page)).toHaveCount(16);
    const told = await page
      .locator('article.kept .facts')
      .evaluateAll((facts) => facts.map((each) => Number(/[−-]([\d.]+) LUFS/.exec(each.textContent)?.[1])));
    expect(told).toHaveLength(6);
    expect(Math.max(...told) - Math.min(...told)).toBeLessThanOrEqual(0.31);
  });

  await test.step('they are heard one after the other, until that is stopped', async () => {
    await page.keyboard.press('f');
    await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
    await expect.poll(async () => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'))).toBeGreaterThan(-50);
    await page.keyboard.press('f');
    await expect(page.getByRole('button', { name: 'Fire' })).toBeVisible();
  });

  await test.step('a click on the map chooses and plays one', async () => {
    await plan(page)
      .getByRole('button', { name: /^Sibling 7 on the map/ })
      .click();
    await expect(page.getByRole('heading', { name: 'Sibling 7' })).toBeVisible();
  });

  await openView(page, 'Hand-off');
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  const steps = Object.keys(entries).filter((name) => /snow.?step/i.test(name) && name.endsWith('.wav'));
  expect(steps.length).toBeGreaterThanOrEqual(6);
  const seen = new Set(steps.map((name) => readWav(entries[name]!).audio.channels[0]!.join(' ').slice(0, 20_000)));
  expect(seen.size).toBe(steps.length);
});

test('a family that does not vary is told to be one sound', async ({ page }) => {
  await newProject(page);
  await page.getByRole('button', { name: 'Make something' }).click();
  const dialog = page.getByRole('dialog', { name: 'Make a sound' });
  await dialog.getByRole('radio', { name: 'beacon', exact: true }).click();
  await dialog.getByRole('option', { name: /Beacon/ }).click();
  await dialog.getByRole('button', { name: 'Keep “Beacon” as a layer' }).click();
  await openView(page, 'Kin');
  await page.getByRole('button', { name: 'Make eight siblings' }).click();
  await expect(dots(page)).toHaveCount(8);
  await expect(page.getByText(/0\.0 dB, heard as the same/)).toBeVisible();
  await expect(plan(page).locator('.twins')).toHaveCount(28);
});

test('Kin with its map has no accessibility faults', async ({ page }) => {
  await openSnowStep(page);
  expect(await graveFaults(page)).toEqual([]);
});
