import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { openDemo, undoName } from '../steps';

interface Drawn {
  readonly frame: number;
  readonly position: number;
}

/** What the monitor drew and where the sound was then, over some screen refreshes while it plays. */
function watch(page: Page, refreshes: number): Promise<Drawn[]> {
  return page.evaluate(async (count) => {
    const seen: { frame: number; position: number }[] = [];
    for (let i = 0; i < count; i++) {
      await new Promise(requestAnimationFrame);
      const { frame, position } = document.querySelector<HTMLElement>('tc-picture-monitor canvas')!.dataset;
      const last = seen.at(-1);
      if (Number(frame) !== last?.frame) seen.push({ frame: Number(frame), position: Number(position) });
    }
    return seen;
  }, refreshes);
}

test('the picture keeps step with the sound within a frame, at three speeds', { tag: '@alone' }, async ({ page }) => {
  await openDemo(page);
  const canvas = page.locator('tc-picture-monitor canvas');
  await expect(canvas).toHaveAttribute('data-frame', '0');
  // Measuring sources and motion keeps a small machine busy for a while after opening.
  await expect(page.getByRole('button', { name: /\d+ jobs?/ })).toBeHidden({ timeout: 240_000 });
  for (const speed of ['1', '½', '¼']) {
    await page.getByRole('button', { name: `Speed ${speed}` }).click();
    // Another try for machines that were busy with something else just then; the bound stays.
    await expect(async () => {
      await page.keyboard.press('Home');
      await page.getByRole('button', { name: 'Play', exact: true }).click();
      await expect.poll(async () => Number(await canvas.getAttribute('data-frame'))).toBeGreaterThan(0.2);
      const drawn = await watch(page, 60);
      await page.getByRole('button', { name: 'Stop', exact: true }).click();
      expect(drawn.length).toBeGreaterThan(2);
      for (let i = 1; i < drawn.length; i++) expect(drawn[i]!.frame).toBeGreaterThan(drawn[i - 1]!.frame);
      // A frame at 25 a second lasts 40 ms.
      const late = drawn.slice(1).filter(({ frame, position }) => position - frame < -0.001 || position - frame > 0.0401);
      expect(late.length / drawn.length).toBeLessThan(0.1);
    }).toPass({ timeout: 120_000 });
  }
});

test('the picture goes into a window of its own and follows there', async ({ page }) => {
  await openDemo(page);
  const canvas = page.locator('tc-picture-monitor canvas');
  await expect(canvas).toHaveAttribute('data-frame', '0');
  const opening = page.waitForEvent('popup');
  await page.getByRole('button', { name: 'More for the picture' }).click();
  await page.getByRole('menuitem', { name: 'In a window of its own' }).click();
  const view = await opening;
  const own = view.locator('canvas');
  await expect(own).toHaveAttribute('data-frame', '0');
  await page.bringToFront();
  await page.keyboard.press('>');
  await expect(own).toHaveAttribute('data-frame', '0.04');
  // It is the picture, not a blank: the frame has more than one colour.
  const colours = await own.evaluate((element) => {
    const drawn = element as HTMLCanvasElement;
    const { data } = drawn.getContext('2d')!.getImageData(0, 0, drawn.width, drawn.height);
    return new Set(Array.from({ length: 500 }, (_, i) => data[i * 4 * 97])).size;
  });
  expect(colours).toBeGreaterThan(3);
  await view.close();
  await page.getByRole('button', { name: 'More for the picture' }).click();
  await expect(page.getByRole('menuitem', { name: 'In a window of its own' }).locator('[data-mat-icon-name=check]')).toHaveCount(0);
});

test('at half speed the sound follows, or is silent if asked', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'Speed ½' }).click();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByTestId('short-term')).not.toContainText('∞', { timeout: 30_000 });
  await page.getByRole('button', { name: 'More for the picture' }).click();
  await page.getByRole('menuitem', { name: 'Sound follows at ½ and ¼' }).click();
  // It goes on without a sound.
  const canvas = page.locator('tc-picture-monitor canvas');
  const frame = Number(await canvas.getAttribute('data-frame'));
  await expect.poll(async () => Number(await canvas.getAttribute('data-frame'))).toBeGreaterThan(frame);
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
});

test('steps by frames, takes over moments as marks, and refuses what is no picture', async ({ page }) => {
  await openDemo(page);
  const canvas = page.locator('tc-picture-monitor canvas');
  await expect(canvas).toHaveAttribute('data-frame', '0');
  for (let i = 0; i < 11; i++) await page.keyboard.press('>');
  await page.keyboard.press('<');
  await expect(canvas).toHaveAttribute('data-frame', '0.4');
  await expect(page.locator('tc-picture-monitor .number').first()).toHaveText('00:00:00:10');

  // The flash of the crack is found on its frame and becomes a mark there.
  await page.getByRole('button', { name: 'Take over: Flash at 0.400 s' }).click();
  await expect(page.getByRole('button', { name: 'Mark Flash 1' })).toBeVisible();
  await expect(undoName(page)).toContainText('Mark “Flash 1”');
  await undoName(page).click();

  await page.getByTestId('picture-input').setInputFiles({ name: 'not.webm', mimeType: 'video/webm', buffer: Buffer.from('no picture') });
  await expect(page.getByText(/“not.webm” (is in no video format|cannot be decoded)/)).toBeVisible();
  await expect(canvas).toBeVisible();
});

test('frames count the time axis, and marks leave and return as files', async ({ page }) => {
  await openDemo(page);
  await page.getByLabel('How time is shown').click();
  await page.getByRole('menuitemradio', { name: 'frames' }).click();
  await page.keyboard.press('Escape');
  await expect(page.locator('tc-time-ruler .tick').nth(1)).toHaveText(/^00:00:0\d:\d\d$/);
  await page.getByRole('button', { name: 'Marks', exact: true }).click();
  const downloading = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Export marks as WebVTT' }).click();
  const path = await (await downloading).path();
  for (const name of ['Crack', 'Slab lets go', 'Water rises']) {
    await page.getByRole('button', { name: new RegExp(`^Mark ${name}`) }).focus();
    await page.keyboard.press('Delete');
  }
  await expect(page.locator('.flag')).toHaveCount(0);
  const { readFileSync } = await import('node:fs');
  await page.getByTestId('marks-input').setInputFiles({ name: 'marks.vtt', mimeType: 'text/vtt', buffer: readFileSync(path ?? '') });
  await expect(page.locator('.flag')).toHaveText(['Crack', 'Slab lets go', 'Water rises']);
});
