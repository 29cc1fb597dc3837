import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { wavFile } from '../recordings';
import { choose, deliveredOriginal, newProject, openDemo, riseIn, undoAndRedo, undoName } from '../steps';

const lane = (page: Page, name: string) => page.getByRole('region', { name: `Layer ${name}` });

async function addSound(page: Page): Promise<void> {
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'New sound' }).click();
  await expect(page.locator('.lane')).toHaveCount(0);
}

async function addLayer(page: Page, source: string): Promise<void> {
  await page.getByPlaceholder('Sources').fill(source);
  await page.locator('[data-source]', { hasText: source }).first().focus();
  await page.keyboard.press('p');
  await expect(lane(page, source)).toBeVisible();
}

/** Puts the playhead at a time by a click on the ruler. */
async function playheadAt(page: Page, time: number): Promise<void> {
  await page.keyboard.press('0');
  await page.waitForTimeout(200);
  const scroller = (await page.locator('tc-time-ruler').boundingBox())!;
  const ticks = page.locator('tc-time-ruler .tick');
  const first = (await ticks.nth(0).boundingBox())!;
  const second = (await ticks.nth(1).boundingBox())!;
  const step = Number(await ticks.nth(1).textContent()) - Number(await ticks.nth(0).textContent());
  await page.mouse.click(first.x + ((second.x - first.x) / step) * time, scroller.y + 34);
}

test('three layers land on the marks of the picture within a millisecond, and a riser ends on one', async ({ page }) => {
  await openDemo(page);
  await addSound(page);
  await page.getByTestId('picture-input').setInputFiles('demo/picture/halda-station.webm');
  await expect(page.locator('tc-picture-strip')).toBeVisible();
  const times = [0.4, 2, 4.2];
  const marks = `time,name,stage\n${times.map((time, i) => `${time},Moment ${i + 1},hit`).join('\n')}\n`;
  await page.getByTestId('marks-input').setInputFiles({ name: 'marks.csv', mimeType: 'text/csv', buffer: Buffer.from(marks) });
  await expect(page.locator('.flag')).toHaveCount(3);

  // Placed roughly, two steps before each mark; the key L does the rest.
  const sources = ['Crack, thin sheet', 'Slab knock, hollow', 'Crack, river ice'];
  for (const [i, source] of sources.entries()) {
    await playheadAt(page, times[i]! + 0.12);
    await addLayer(page, source);
    await page.keyboard.press('l');
    await expect(undoName(page)).toContainText('Land');
  }
  const heard = await deliveredOriginal(page);
  for (const time of times) expect(Math.abs(riseIn(heard, time - 0.1, time + 0.1) - time)).toBeLessThan(0.001);

  // Marks move a clip's sync point, whatever its kind: the end of a rise here.
  await page.getByRole('button', { name: 'Mute Slab knock, hollow' }).click();
  await page.getByRole('button', { name: 'Mute Crack, thin sheet' }).click();
  await page.getByRole('button', { name: 'Mute Crack, river ice' }).click();
  await playheadAt(page, 2.4);
  await addLayer(page, 'Fall sweep');
  await page.keyboard.press('l');
  await expect(page.locator('tc-selection-inspector')).toContainText('lands by its end of rise at 4.200 s');
  const swept = await deliveredOriginal(page);
  const level = (from: number, to: number): number => {
    let sum = 0;
    for (let i = Math.round(from * 48_000); i < Math.round(to * 48_000); i++) sum += swept.channels[0]![i]! ** 2;
    return 10 * Math.log10(sum / ((to - from) * 48_000));
  };
  // Loudest right before the mark, lower right behind it.
  expect(level(4.15, 4.2)).toBeGreaterThan(level(4.22, 4.27));
  expect(level(4.15, 4.2)).toBeGreaterThan(level(3.5, 3.6) + 3);
  await undoAndRedo(page, 8);
});

test('a speed curve bends the pitch of a clip, and its end runs down', async ({ page }) => {
  await newProject(page);
  const tone = Float32Array.from({ length: 96_000 }, (_, i) => 0.3 * Math.sin((2 * Math.PI * 1_000 * i) / 48_000));
  const audio = { sampleRate: 48_000, channels: [tone] };
  await page.getByTestId('import-input').setInputFiles([wavFile('Beacon tone.wav', audio, '32f')]);
  await page.getByRole('listitem', { name: 'Beacon tone' }).click();
  await page.keyboard.press('p');
  await page.locator('tc-clip').click();
  await page.getByRole('button', { name: 'Draw', exact: true }).click();
  // The last of the two points goes an octave down by its keys, the first one octave up by a drag.
  const points = page.locator('tc-clip-curve .point');
  await points.last().focus();
  for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowDown');
  await expect(points.last()).toHaveAttribute('aria-valuetext', '−12.0 st at 2.000 s');
  const graph = (await page.locator('tc-clip-curve .graph').boundingBox())!;
  const first = (await points.first().boundingBox())!;
  await page.mouse.move(first.x + 6, first.y + 6);
  await page.mouse.down();
  await page.mouse.move(first.x + 6, graph.y + graph.height * 0.04, { steps: 4 });
  await page.mouse.up();
  await expect(points.first()).toHaveAttribute('aria-valuetext', /^\+1[12]\.\d st at 0\.000 s$/);
  await expect(page.locator('tc-clip .badge')).toContainText('speed curve');

  const heard = (await deliveredOriginal(page)).channels[0]!;
  const pitchFrom = (at: number): number => {
    const from = Math.round(at * 48_000);
    let crossings = 0;
    for (let i = from; i < from + 4_800; i++) if (heard[i]! < 0 && heard[i + 1]! >= 0) crossings++;
    return crossings / 0.1;
  };
  // Straight in semitones over the content: 2 kHz at the beginning, 500 Hz at the end.
  expect(pitchFrom(0)).toBeGreaterThan(1_750);
  expect(pitchFrom(0)).toBeLessThan(2_050);
  expect(pitchFrom(heard.length / 48_000 - 0.11)).toBeLessThan(560);
  // The integral of 2^(-s/12) over both seconds from +1 to -1 octave: (2 - 1/2) / ln 2.
  expect(Math.abs(heard.length / 48_000 - 1.5 / Math.LN2)).toBeLessThan(0.05);
  await undoAndRedo(page, 3);
});

test('splits, groups, copies, repeats, chops and stutters with keys; every step can be undone', async ({ page }) => {
  await openDemo(page);
  await addSound(page);
  await addLayer(page, 'Crust tearing');
  const clips = page.locator('tc-clip');
  const before = await deliveredOriginal(page);
  await playheadAt(page, 0.8);
  await clips.first().focus();
  await page.keyboard.press('b');
  await expect(clips).toHaveCount(2);
  const whole = await deliveredOriginal(page);
  await undoName(page).click();
  await expect(clips).toHaveCount(1);
  // The split itself is not heard: the difference is far below what can be.
  let difference = 0;
  let size = 0;
  before.channels[0]!.forEach((value, i) => {
    difference += (value - whole.channels[0]![i]!) ** 2;
    size += value ** 2;
  });
  expect(10 * Math.log10(difference / size + 1e-30)).toBeLessThan(-110);

  await clips.first().focus();
  await page.keyboard.press('q');
  await page.getByRole('button', { name: 'Repeat', exact: true }).click();
  // Only clips near the view are in the page; the key shows the whole sound.
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('0');
  await expect(clips).toHaveCount(4);
  await page.keyboard.press('Control+a');
  await page.keyboard.press('g');
  await expect(undoName(page)).toContainText('Group 4 clips');
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await page.keyboard.press('0');
  await expect(clips).toHaveCount(8);
  await undoAndRedo(page, 3);
  for (let i = 0; i < 3; i++) await undoName(page).click();
  await expect(clips).toHaveCount(1);

  await clips.first().focus();
  await page.keyboard.press('c');
  await choose(page.getByLabel('Order'), 'shuffled');
  // 1.7 s in eighths at 120 bpm.
  await expect(page.locator('.preview')).toHaveText('7 slices');
  await page.getByRole('button', { name: 'Chop', exact: true }).last().click();
  await expect(clips).toHaveCount(7);
  const chopped = await deliveredOriginal(page);
  expect(Math.abs(chopped.channels[0]!.length - before.channels[0]!.length)).toBeLessThan(480);
  await undoName(page).click();

  await clips.first().focus();
  await page.keyboard.press('u');
  await page.getByRole('button', { name: 'Stutter', exact: true }).click();
  await expect.poll(() => clips.count()).toBeGreaterThan(8);
  await undoAndRedo(page, 1);
  await undoName(page).click();

  await clips.first().focus();
  await page.keyboard.press('v');
  await expect(page.locator('tc-clip .badge', { hasText: 'reversed' })).toBeVisible();
  await page.keyboard.press('k');
  await page.keyboard.press('Delete');
  await expect(page.getByText('is locked; unlock it first')).toBeVisible();
  await expect(clips).toHaveCount(1);
});

test('chooses with a lasso, drags many clips, copies with Ctrl and slips with Shift', async ({ page }) => {
  await openDemo(page);
  const row = (await lane(page, 'Answering cracks').boundingBox())!;
  await page.mouse.move(row.x + 900, row.y + 30);
  await page.mouse.down();
  await page.mouse.move(row.x + 130, row.y + 50, { steps: 5 });
  await page.mouse.up();
  const chosen = page.locator('tc-clip[aria-pressed="true"]');
  await expect(chosen).toHaveCount(3);
  const clip = lane(page, 'Answering cracks').locator('tc-clip').last();
  const start = (await clip.boundingBox())!;
  await page.mouse.move(start.x + 30, start.y + 16);
  await page.mouse.down();
  await page.mouse.move(start.x + 90, start.y + 16, { steps: 5 });
  await page.mouse.up();
  await expect(undoName(page)).toContainText('Move 3 clips');
  expect((await clip.boundingBox())!.x).toBeGreaterThan(start.x + 40);

  const count = await page.locator('tc-clip').count();
  await page.keyboard.down('Control');
  const now = (await clip.boundingBox())!;
  await page.mouse.move(now.x + 30, now.y + 16);
  await page.mouse.down();
  await page.mouse.move(now.x + 150, now.y + 16, { steps: 5 });
  await page.mouse.up();
  await page.keyboard.up('Control');
  await expect(page.locator('tc-clip')).toHaveCount(count + 3);
  await expect(undoName(page)).toContainText('Copy 3 clips');
  await undoName(page).click();
  await expect(page.locator('tc-clip')).toHaveCount(count);
});
