import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import type { Audio } from '@tangled-choir/core';
import { addEffect, deliveredOriginal, menuClosed, openDemo, undoAndRedo, undoName } from '../steps';

const layer = 'Wind over the ridge';
const strip = (page: Page) => page.getByRole('group', { name: `Automation of ${layer}: gain` });
const points = (page: Page) => page.locator('tc-automation-strip .point');

/** Gain in dB between two renders of the same recording around a moment. */
function gainAt(before: Audio, after: Audio, time: number): number {
  const from = Math.round((time - 0.004) * 48_000);
  const to = Math.round((time + 0.004) * 48_000);
  let [own, moved] = [0, 0];
  for (let i = from; i < to; i++) {
    own += before.channels[0]![i]! ** 2;
    moved += after.channels[0]![i]! ** 2;
  }
  return 10 * Math.log10(moved / own);
}

/** What the handles say: “−12.0 dB at 1.250 s”. */
async function readPoints(page: Page): Promise<{ time: number; gain: number }[]> {
  const titles = await points(page).evaluateAll((all) => all.map((point) => point.getAttribute('title') ?? ''));
  return titles.map((title) => {
    const match = /^([+−]?)([\d.]+) dB at ([\d.]+) s$/.exec(title)!;
    return { gain: Number(match[2]) * (match[1] === '−' ? -1 : 1), time: Number(match[3]) };
  });
}

async function windAlone(page: Page): Promise<void> {
  await openDemo(page);
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'New sound' }).click();
  await page.getByPlaceholder('Sources').fill(layer);
  await page.locator('[data-source]', { hasText: layer }).first().focus();
  await page.keyboard.press('p');
  await expect(page.getByRole('region', { name: `Layer ${layer}` })).toBeVisible();
  await page.keyboard.press('0');
}

test('a gain moves along a lane that is drawn with the pointer, in the delivered file too', async ({ page }) => {
  await windAlone(page);
  const before = await deliveredOriginal(page);
  await page.getByRole('button', { name: `Automation of ${layer}` }).click();
  await page.getByRole('menuitem', { name: 'Gain' }).click();
  await menuClosed(page);
  const box = (await strip(page).boundingBox())!;
  await page.mouse.dblclick(box.x + 200, box.y + 40);
  await page.mouse.dblclick(box.x + 400, box.y + 65);
  await expect(points(page)).toHaveCount(3);
  // A double click on the curve itself gives one point, and one on a point takes it away.
  const first = (await points(page).nth(0).boundingBox())!;
  await page.mouse.dblclick(box.x + 40, first.y + first.height / 2 + 1);
  await expect(points(page)).toHaveCount(4);
  await page.waitForTimeout(700);
  await points(page).nth(1).dblclick();
  await expect(points(page)).toHaveCount(3);
  // The curve itself can be taken hold of and dragged away.
  const handle = (await points(page).nth(2).boundingBox())!;
  await page.mouse.move(handle.x + 5, handle.y + 5);
  await page.mouse.down();
  await page.keyboard.down('Alt');
  await page.mouse.move(handle.x + 45, handle.y - 15, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  await expect(undoName(page)).toContainText('Move a point');
  const drawn = await readPoints(page);
  expect(drawn).toHaveLength(3);

  const after = await deliveredOriginal(page);
  const [, second, third] = drawn as [(typeof drawn)[0], (typeof drawn)[0], (typeof drawn)[0]];
  const middle = (second.time + third.time) / 2;
  expect(Math.abs(gainAt(before, after, second.time) - second.gain)).toBeLessThan(0.3);
  expect(Math.abs(gainAt(before, after, middle) - (second.gain + third.gain) / 2)).toBeLessThan(0.3);
  expect(Math.abs(gainAt(before, after, third.time + 0.5) - third.gain)).toBeLessThan(0.3);

  // The dial of an automated gain moves the whole lane.
  const dial = page.getByRole('slider', { name: `Gain of ${layer}` });
  const shown = Number((await dial.getAttribute('aria-valuenow')) ?? '0');
  await dial.focus();
  await page.keyboard.type(`${(shown - 6).toFixed(2)}`);
  await page.keyboard.press('Enter');
  await expect(undoName(page)).toContainText('Trim');
  const trimmed = await deliveredOriginal(page);
  expect(Math.abs(gainAt(after, trimmed, middle) + 6)).toBeLessThan(0.1);
  await undoAndRedo(page, 5);
});

test('a tide goes round faster by a rein that pulls at its length, in the delivered file too', async ({ page }) => {
  await windAlone(page);
  const before = await deliveredOriginal(page);
  await page.getByRole('button', { name: 'Moves', exact: true }).click();
  await page.getByRole('button', { name: '+ Tide' }).click();
  await page.getByRole('button', { name: 'triangle', exact: true }).click();
  const type = async (name: string, text: string): Promise<void> => {
    await page.getByRole('slider', { name, exact: true }).focus();
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  };
  await type('Smoothing', '0');
  await type('Round', '2');
  await page.getByRole('button', { name: `Pull a property of “${layer}”` }).click();
  await page.getByRole('menuitem', { name: 'Gain' }).click();
  await menuClosed(page);
  const gain = page.getByRole('slider', { name: `${layer}: gain` });
  await expect(gain).toHaveAttribute('aria-valuetext', '+3.0 dB');
  // A quarter of a round is its height, three quarters its depth, an eighth half of it.
  const expectRounds = (delivered: Audio, seconds: number): void => {
    for (const [round, height] of [
      [0.25, 3],
      [0.75, -3],
      [1.125, 1.5],
    ] as const)
      expect(Math.abs(gainAt(before, delivered, round * seconds) - height)).toBeLessThan(0.15);
  };
  expectRounds(await deliveredOriginal(page), 2);

  await page.getByRole('slider', { name: 'Round', exact: true }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Pull it by' }).click();
  // Tides do not pull at each other.
  await expect(page.getByRole('menuitem', { name: 'A new tide' })).toHaveCount(0);
  await page.getByRole('menuitem', { name: 'A new rein' }).click();
  await menuClosed(page);
  await type('Tide · Tide 1: round', '-50');
  await type('Rein 1', '100');
  expectRounds(await deliveredOriginal(page), 1);
  await undoAndRedo(page, 4);
});

test('a switch is thrown along a lane, and names its stages', async ({ page }) => {
  await windAlone(page);
  const before = await deliveredOriginal(page);
  await page.getByRole('region', { name: `Layer ${layer}` }).click({ position: { x: 600, y: 10 } });
  await addEffect(page, 'Image', /^Trim/);
  await page.getByRole('button', { name: `Automation of ${layer}` }).click();
  await page.getByRole('menuitem', { name: 'Trim' }).click();
  await page.getByRole('menuitem', { name: 'Flip left' }).click();
  await menuClosed(page);
  // The lane is brought into view, whatever was there before.
  const flip = page.getByRole('group', { name: `Automation of ${layer} · Trim: flip left` });
  await expect(flip).toBeInViewport();
  const box = (await flip.boundingBox())!;
  await page.mouse.dblclick(box.x + 200, box.y + 30);
  await expect(page.locator('tc-automation-strip .stage')).toHaveText(['off', 'on']);
  const [, thrown] = await points(page).evaluateAll((all) => all.map((point) => point.getAttribute('title') ?? ''));
  const time = Number(/^on at ([\d.]+) s$/.exec(thrown!)![1]);
  const after = await deliveredOriginal(page);
  const turned = (at: number): number => {
    let sum = 0;
    for (let i = Math.round(at * 48_000); i < (at + 0.05) * 48_000; i++) sum += before.channels[0]![i]! * after.channels[0]![i]!;
    return Math.sign(sum);
  };
  expect([turned(time - 0.08), turned(time + 0.03)]).toEqual([1, -1]);
  await undoAndRedo(page, 2);
});

test('an LFO shape, a stroke and their edits change the sound; each can be undone', async ({ page }) => {
  await windAlone(page);
  const before = await deliveredOriginal(page);
  await page.getByRole('button', { name: `Automation of ${layer}` }).click();
  await page.getByRole('menuitem', { name: 'Gain' }).click();
  const more = page.getByRole('button', { name: `More for the automation of ${layer}: gain` });
  await more.click();
  await page.getByRole('menuitem', { name: 'Draw an LFO shape…' }).click();
  const dialog = page.getByRole('dialog');
  for (const [name, value] of [
    ['Rate at the start', '1'],
    ['Rate at the end', '1'],
    ['Lowest', '-24'],
    ['Highest', '0'],
  ] as const) {
    await dialog.getByRole('slider', { name }).focus();
    await page.keyboard.type(value);
    await page.keyboard.press('Enter');
  }
  await dialog.getByRole('button', { name: 'Draw', exact: true }).click();
  await expect(undoName(page)).toContainText('Draw an LFO shape');
  const waved = await deliveredOriginal(page);
  // One swing a second, from the lowest value up and back.
  for (const second of [1, 2, 3]) {
    expect(Math.abs(gainAt(before, waved, second) + 24)).toBeLessThan(0.6);
    expect(Math.abs(gainAt(before, waved, second + 0.5))).toBeLessThan(0.6);
    expect(Math.abs(gainAt(before, waved, second + 0.25) + 12)).toBeLessThan(0.6);
  }

  // A stroke with the pen over a part of it.
  await menuClosed(page);
  await page.getByRole('button', { name: `Draw ${layer}: gain` }).click();
  const box = (await strip(page).boundingBox())!;
  await page.mouse.move(box.x + 100, box.y + 60);
  await page.mouse.down();
  await page.mouse.move(box.x + 300, box.y + 60, { steps: 10 });
  await page.mouse.up();
  await expect(undoName(page)).toContainText('Draw: ');
  await page.getByRole('button', { name: `Draw ${layer}: gain` }).click();
  await more.click();
  await page.getByRole('menuitem', { name: 'Scale the movement…' }).click();
  await dialog.getByRole('slider', { name: 'Movement' }).focus();
  await page.keyboard.type('0');
  await page.keyboard.press('Enter');
  await dialog.getByRole('button', { name: 'Scale', exact: true }).click();
  await expect(undoName(page)).toContainText('Scale');
  // Flattened: the same gain everywhere.
  const flat = await deliveredOriginal(page);
  const level = gainAt(before, flat, 1);
  for (const time of [2, 3.3, 4.7]) expect(Math.abs(gainAt(before, flat, time) - level)).toBeLessThan(0.1);
  await undoAndRedo(page, 4);
});
