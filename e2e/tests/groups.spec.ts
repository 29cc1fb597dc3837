import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import type { Audio } from '@tangled-choir/core';
import { deliveredOriginal, openDemo, undoAndRedo, undoName } from '../steps';

const lane = (page: Page, name: string) => page.getByRole('region', { name: `Layer ${name}` });

async function addLayer(page: Page, source: string): Promise<void> {
  await page.getByPlaceholder('Sources').fill(source);
  await page.locator('[data-source]', { hasText: source }).first().focus();
  await page.keyboard.press('p');
  await expect(lane(page, source)).toBeVisible();
}

async function turn(page: Page, name: string, value: string): Promise<void> {
  await page.getByRole('slider', { name, exact: true }).focus();
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
}

/** Level in dB of what is left of a recording when expected samples are taken away, against the recording. */
function residual(expected: (i: number) => number, audio: Audio): number {
  let [left, whole] = [0, 0];
  const samples = audio.channels[0]!;
  for (let i = 0; i < samples.length; i++) {
    left += (samples[i]! - expected(i)) ** 2;
    whole += samples[i]! ** 2;
  }
  return 10 * Math.log10(left / whole);
}

test('layers are grouped, sent to a shared bus, soloed and named; the delivered file has what the faders say', async ({ page }) => {
  await openDemo(page);
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'New sound' }).click();
  for (const source of ['Sub boom', 'Slab knock, hollow', 'Crack, river ice']) await addLayer(page, source);
  const all = (await deliveredOriginal(page)).channels[0]!;

  await page.getByRole('button', { name: 'More for Sub boom', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Group this layer…' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Low end');
  await page.getByRole('button', { name: 'Group', exact: true }).click();
  await page.getByRole('button', { name: 'More for Slab knock, hollow', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Into a group' }).click();
  await page.getByRole('menuitem', { name: 'Low end' }).click();
  await expect(page.locator('.lane.grouped')).toHaveCount(2);

  // The group's mute leaves the third layer alone; its gain moves the other two.
  await page.getByRole('button', { name: 'Mute Low end' }).click();
  const crack = (await deliveredOriginal(page)).channels[0]!;
  await page.getByRole('button', { name: 'Mute Low end' }).click();
  await turn(page, 'Gain of Low end', '-12');
  const gain = 10 ** (-12 / 20);
  const rest = (i: number): number => crack[i] ?? 0;
  expect(residual((i) => rest(i) + gain * (all[i]! - rest(i)), await deliveredOriginal(page))).toBeLessThan(-90);

  // A layer that goes straight to the sound, sent besides to a bus that is 6 dB down.
  await page.getByRole('button', { name: 'More for Crack, river ice', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Send to' }).click();
  await page.getByRole('menuitem', { name: 'A new shared bus…' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Cavern');
  await page.getByRole('dialog').getByRole('button', { name: 'Make', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Bus Cavern' })).toBeVisible();
  await page.getByRole('region', { name: 'Bus Cavern' }).click({ position: { x: 600, y: 10 } });
  await expect(page.locator('tc-lectern .owner')).toContainText('Cavern');
  await turn(page, 'Gain of Cavern', '-6');
  await lane(page, 'Crack, river ice').click({ position: { x: 700, y: 10 } });
  await turn(page, 'To Cavern', '-3');
  const send = 10 ** (-9 / 20);
  expect(residual((i) => rest(i) * (1 + send) + gain * (all[i]! - rest(i)), await deliveredOriginal(page))).toBeLessThan(-90);

  // Solo is remembered while it is set aside.
  await page.getByRole('button', { name: 'Solo Crack, river ice' }).click();
  await expect(lane(page, 'Sub boom')).toHaveClass(/muted/);
  await page.getByRole('button', { name: 'Solo', exact: true }).click();
  await expect(lane(page, 'Sub boom')).not.toHaveClass(/muted/);
  await page.getByRole('button', { name: 'Solo', exact: true }).click();
  await expect(lane(page, 'Sub boom')).toHaveClass(/muted/);

  await page.getByRole('button', { name: 'More for Sub boom', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Name all layers by role' }).click();
  await expect(lane(page, 'Weight · Sub boom')).toBeVisible();
  await expect(undoName(page)).toContainText('Name layers by role');

  await page.getByRole('button', { name: 'Fold Low end' }).click();
  await expect(page.locator('.lane')).toHaveCount(1);
  await page.getByRole('button', { name: 'Unfold Low end' }).click();
  await undoAndRedo(page, 10);
});

test('a chain is saved as a template and taken over by another layer', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'More for Slab body', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Save as a template…' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Cold body');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const role = page.getByRole('button', { name: /^Role of Fall sweep/ });
  await page.getByRole('button', { name: 'More for Fall sweep', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Take over a template' }).click();
  await page.getByRole('menuitem', { name: 'Cold body' }).click();
  await expect(role).toHaveAccessibleName('Role of Fall sweep: Body');
  await undoAndRedo(page, 2);
});
