import type { Locator, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { readWav } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { graveFaults } from '../accessibility';
import { levelAt, toneLevel } from '../measure';
import { tap, wavFile } from '../recordings';
import {
  deliveredOriginal,
  download,
  handOffSound,
  menuClosed,
  newProject,
  openDemo,
  openView,
  place,
  riseIn,
  undoAndRedo,
  undoName,
} from '../steps';

const rate = 48_000;
const strikes = [0.25, 0.75, 1.25];

/** Three short strikes of noise-like tones in 1.5 s. */
function pebbles(): Float32Array {
  const samples = new Float32Array(1.5 * rate);
  for (const at of strikes)
    for (let i = 0; i < 2_400; i++) samples[Math.round(at * rate) + i]! += 0.6 * Math.exp(-i / 300) * Math.cos(i * 0.9 + 0.0004 * i * i);
  return samples;
}

/** A tone of 110 Hz that resonates at 1 kHz. */
function vowel(): Float32Array {
  const samples = new Float32Array(2 * rate);
  for (let partial = 1; partial * 110 < 5_000; partial++) {
    const level = 0.2 / (1 + ((partial * 110 - 1_000) / 130) ** 2);
    for (let i = 0; i < samples.length; i++) samples[i]! += level * Math.sin((2 * Math.PI * 110 * partial * i) / rate + partial ** 2);
  }
  return samples;
}

async function start(page: Page, name: string, samples: Float32Array): Promise<Locator> {
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([wavFile(`${name}.wav`, { sampleRate: rate, channels: [samples] }, '32f')]);
  await place(page, name);
  // The first delivery chooses how files are written, which is a step of its own.
  await deliveredOriginal(page);
  const clip = page.locator('tc-clip');
  await clip.click();
  return clip;
}

async function setMarks(page: Page, times: readonly number[]): Promise<void> {
  const marks = `time,name,stage\n${times.map((time, i) => `${time},Moment ${i + 1},hit`).join('\n')}\n`;
  await page.getByTestId('marks-input').setInputFiles({ name: 'marks.csv', mimeType: 'text/csv', buffer: Buffer.from(marks) });
  await expect(page.locator('.flag')).toHaveCount(times.length);
}

async function type(page: Page, dial: string, value: string): Promise<void> {
  await page.locator('tc-stretch-panel').getByRole('slider', { name: dial, exact: true }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+a');
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
}

async function build(page: Page, clip: Locator, item: string): Promise<void> {
  await clip.click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Build' }).click();
  await page.getByRole('menuitem', { name: item }).click();
  await expect(page.getByRole('menu')).toHaveCount(0);
}

test('a clip fills the time between two marks, by a key and by dragging its end; it is as long after a reload', async ({ page }) => {
  const clip = await start(page, 'Pebbles', pebbles());
  await setMarks(page, [0.5, 3.5]);
  await clip.click();
  await page.keyboard.press('Shift+E');
  await expect(clip).toHaveAttribute('aria-label', /at 0\.500 s, 3\.000 s long/);
  const filled = await deliveredOriginal(page);
  expect(filled.channels[0]!.length).toBe(3.5 * rate);
  for (const at of strikes) expect(Math.abs(riseIn(filled, 0.5 + 2 * at - 0.1, 0.5 + 2 * at + 0.1) - (0.5 + 2 * at))).toBeLessThan(0.001);
  await undoName(page).click();
  await expect(clip).toHaveAttribute('aria-label', /at 0\.000 s, 1\.500 s long/);

  // Its right end, with Ctrl, onto the second mark.
  const flag = (await page.locator('.flag').last().boundingBox())!;
  const edge = (await clip.locator('.edge.end').boundingBox())!;
  await page.keyboard.down('Control');
  await page.mouse.move(edge.x + 3, edge.y + edge.height / 2);
  await page.mouse.down();
  await page.mouse.move(edge.x + 40, edge.y + edge.height / 2);
  await page.mouse.move(flag.x + 3, edge.y + edge.height / 2, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.up('Control');
  await expect(clip).toHaveAttribute('aria-label', /at 0\.000 s, 3\.500 s long/);
  await expect(undoName(page)).toContainText('Stretch');
  const dragged = await deliveredOriginal(page);
  for (const at of strikes) expect(Math.abs(riseIn(dragged, (7 / 3) * at - 0.1, (7 / 3) * at + 0.1) - (7 / 3) * at)).toBeLessThan(0.001);
  await undoAndRedo(page, 1);
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.locator('tc-clip')).toHaveAttribute('aria-label', /3\.500 s long/);
});

test('two pins put two strikes onto two marks; what lies before the first stays', async ({ page }) => {
  const clip = await start(page, 'Pebbles', pebbles());
  await setMarks(page, [1.1, 2.3]);
  await clip.click();
  await page.keyboard.press('Shift+P');
  const pins = page.locator('.pin');
  await expect(pins).toHaveCount(3);
  await page.keyboard.press('0');
  for (const [pin, flag] of [
    [2, 1],
    [1, 0],
  ] as const) {
    const from = (await pins.nth(pin).boundingBox())!;
    const to = (await page.locator('.flag').nth(flag).boundingBox())!;
    await page.mouse.move(from.x + 12, from.y + 6);
    await page.mouse.down();
    await page.mouse.move(from.x + 30, from.y + 6);
    await page.mouse.move(to.x + 1, from.y + 6, { steps: 6 });
    await page.mouse.up();
    await expect(undoName(page)).toContainText('Pin');
  }
  await expect(pins.nth(1)).toHaveAttribute('aria-valuetext', '1.100 s');
  await expect(pins.nth(2)).toHaveAttribute('aria-valuetext', '2.300 s');
  const heard = await deliveredOriginal(page);
  for (const [at, from] of [
    [0.25, 0.1],
    [1.1, 0.9],
    [2.3, 2.1],
  ] as const)
    expect(Math.abs(riseIn(heard, from, at + 0.1) - at)).toBeLessThan(0.001);
  await undoAndRedo(page, 3);
  // The keyboard moves a pin, and takes it away.
  await pins.nth(1).focus();
  await page.keyboard.press('ArrowRight');
  await expect(pins.nth(1)).toHaveAttribute('aria-valuetext', '1.110 s');
  await page.keyboard.press('Delete');
  await expect(pins).toHaveCount(2);
});

test('the demo’s bed, with pins and strain, has no accessibility faults', async ({ page }) => {
  await openDemo(page);
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'Aurora bed' }).click();
  await page
    .getByRole('region', { name: 'Layer Pebbles in time' })
    .locator('tc-clip')
    .click({ position: { x: 60, y: 20 } });
  await expect(page.locator('.pin')).toHaveCount(3);
  await expect(page.locator('tc-clip .badge.strain').first()).toBeVisible();
  expect(await graveFaults(page)).toEqual([]);
});

test('pitch moves without length, its formants kept or not; the interval may be typed in many ways', async ({ page }) => {
  const clip = await start(page, 'Voice', vowel());
  await type(page, 'Pitch', '110 > 164.81');
  await expect(clip).toContainText('pitch +7.0 st');
  const up = 110 * 2 ** (7 / 12);
  const moved = (await deliveredOriginal(page)).channels[0]!;
  expect(moved.length).toBe(2 * rate);
  // What resonated at 1 kHz does so a fifth higher: the ninth partial is stronger than the sixth.
  expect(toneLevel(moved, 9 * up, 1)).toBeGreaterThan(toneLevel(moved, 6 * up, 1) + 6);
  await page.getByLabel('Keep formants').check();
  await expect(clip).toContainText('formants kept');
  const kept = (await deliveredOriginal(page)).channels[0]!;
  expect(toneLevel(kept, 6 * up, 1)).toBeGreaterThan(toneLevel(kept, 9 * up, 1) + 6);
  await type(page, 'Pitch', '-50 ct');
  await expect(clip).toContainText('pitch −0.5 st');
  await undoAndRedo(page, 3);
});

test('strain is told where it is audible, with what helps', async ({ page }) => {
  const clip = await start(page, 'Pebbles', pebbles());
  await type(page, 'Stretch', '200%');
  await page.getByRole('radio', { name: 'tones', exact: true }).click();
  const panel = page.locator('tc-stretch-panel');
  await expect(clip.locator('.badge.strain')).toBeVisible();
  await expect(clip.locator('.strains span').first()).toBeVisible();
  await expect(panel).toContainText('Strain: smeared attacks');
  await panel.getByRole('button', { name: 'Keep attacks: hits' }).click();
  await expect(panel.getByRole('radio', { name: 'hits', exact: true })).toBeChecked();
  await expect(clip.locator('.badge.strain')).toHaveCount(0);
});

test('an octave stack, an echo that falls, and a swell that ends on the hit are one step each', async ({ page }) => {
  const clip = await start(page, 'Voice', vowel());
  await build(page, clip, 'Octave stack…');
  await page.getByRole('button', { name: 'Stack' }).click();
  await expect(page.getByRole('region', { name: /^Layer / })).toHaveCount(3);
  await page.getByRole('button', { name: 'Mute Voice', exact: true }).click();
  await page.getByRole('button', { name: 'Mute Voice +1 oct' }).click();
  const low = (await deliveredOriginal(page)).channels[0]!;
  // An octave lower its strongest partial, the ninth, lies at 495 Hz.
  expect(toneLevel(low, 495, 1)).toBeGreaterThan(toneLevel(low, 990, 1) + 20);
  for (let i = 0; i < 3; i++) await undoName(page).click();
  await expect(page.getByRole('region', { name: /^Layer / })).toHaveCount(1);

  await clip.first().click();
  await build(page, clip.first(), 'Echo down…');
  await page.getByRole('button', { name: 'Echo', exact: true }).click();
  await expect(undoName(page)).toContainText('Echo');
  await page.keyboard.press('0');
  await expect(clip).toHaveCount(5);
  await undoName(page).click();
  await expect(clip).toHaveCount(1);
});

test('a lead-in swell grows until the attack and ends there', async ({ page }) => {
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([wavFile('Tap.wav', tap())]);
  await place(page, 'Tap');
  await deliveredOriginal(page);
  const clip = page.getByRole('region', { name: 'Layer Tap', exact: true }).locator('tc-clip');
  await clip.click();
  await page.locator('tc-selection-inspector').getByRole('slider', { name: 'Start' }).focus();
  await page.keyboard.type('3 s');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Show the whole sound' }).click();
  await expect(clip).toHaveAttribute('aria-label', /at 3\.000 s/);
  await build(page, clip, 'Lead-in swell…');
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page.getByRole('region', { name: 'Layer Tap lead-in' })).toBeVisible();
  await expect(undoName(page)).toContainText('Add “Tap lead-in”');
  await page.getByRole('button', { name: 'Mute Tap', exact: true }).click();
  const swell = (await deliveredOriginal(page)).channels[0]!;
  // The tap strikes 50 ms after its beginning.
  const attack = 3.05;
  expect(levelAt(swell, attack - 0.03)).toBeGreaterThan(levelAt(swell, attack - 0.6) + 6);
  expect(levelAt(swell, attack - 0.6)).toBeGreaterThan(levelAt(swell, attack - 1.6));
  const rest = swell.subarray(Math.round((attack + 0.01) * rate));
  expect(Math.max(0, ...rest.map(Math.abs))).toBeLessThan(0.001);
  expect(levelAt(swell, attack - 0.012)).toBeGreaterThan(-60);
  await undoName(page).click();
  await undoName(page).click();
  await expect(page.getByRole('region', { name: /^Layer / })).toHaveCount(1);
});

test('stretch varies within a family', async ({ page }) => {
  await start(page, 'Pebbles', pebbles());
  await type(page, 'Stretch', '1.5');
  await page.locator('tc-stretch-panel').getByRole('slider', { name: 'Stretch', exact: true }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Let it vary between siblings' }).click();
  await menuClosed(page);
  await openView(page, 'Kin');
  await expect(page.locator('tc-kin-view')).toContainText('stretch');
  await page.getByRole('button', { name: 'Make eight siblings' }).click();
  await expect(page.getByRole('listitem', { name: /^Sibling/ })).toHaveCount(8);
  await page.keyboard.press('Shift+K');
  await handOffSound(page);
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  const lengths = Object.keys(entries)
    .filter((name) => name.endsWith('.wav'))
    .map((name) => readWav(entries[name]!).audio.channels[0]!.length);
  expect(lengths).toHaveLength(9);
  expect(new Set(lengths).size).toBeGreaterThan(6);
});

test('a stretch that takes long is heard while it is made, shows its progress and ends with its clip; the source can be removed meanwhile', async ({
  page,
}) => {
  const long = Float32Array.from({ length: 17 * rate }, (_, i) => 0.2 * Math.sin(0.03 * i) * Math.sin(0.000_3 * i));
  const clip = await start(page, 'Long drone', long);
  await page.locator('tc-stretch-panel').getByRole('radio', { name: 'vast' }).click();
  await type(page, 'Stretch', '200');
  await expect(clip).toHaveAttribute('aria-label', /3400\.000 s long/);
  await page.getByRole('button', { name: /Background work/ }).click();
  const treating = page.getByText('Treating a clip');
  await expect(treating).toBeVisible();
  await page.keyboard.press('Escape');
  // Far behind the end of the clip as it was, only a piece of what is being made can be heard.
  await page.keyboard.press('0');
  const ruler = (await page.locator('tc-time-ruler').boundingBox())!;
  await page.mouse.click(ruler.x + ruler.width / 2, ruler.y + 34);
  await page.keyboard.press('Space');
  const level = async (): Promise<number> => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'));
  await expect.poll(level).toBeGreaterThan(-50);
  await page.getByRole('button', { name: /Background work/ }).click();
  await expect(treating).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Space');
  // Nobody plays it any more: it is given up, and nothing fails.
  await page.keyboard.press('0');
  await page.locator('tc-clip').click();
  await page.keyboard.press('Delete');
  await expect(page.locator('tc-clip')).toHaveCount(0);
  await expect(page.getByRole('button', { name: /Background work: (idle|ready)/ })).toBeVisible();
  await openView(page, 'Gather');
  await page.getByRole('listitem', { name: 'Long drone' }).click();
  await page.keyboard.press('Delete');
  await expect(page.getByRole('listitem', { name: 'Long drone' })).toHaveCount(0);
  await expect(page.getByRole('alert')).toHaveCount(0);
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
});
