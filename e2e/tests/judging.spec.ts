import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { effectCatalogue, packArchive, unpackArchive } from '@tangled-choir/core';
import { readFileSync } from 'node:fs';
import { graveFaults } from '../accessibility';
import { knock, wavFile } from '../recordings';
import { levelAt, toneLevel } from '../measure';
import {
  choose,
  addEffect,
  deliveredOriginal,
  exportProject,
  menuClosed,
  newProject,
  openDemo,
  openView,
  place,
  turn,
  undoName,
} from '../steps';

/** A steady tone of 200 Hz, 4 s in mono at 48 kHz. */
const tone = (level: number) => ({
  sampleRate: 48_000,
  channels: [Float32Array.from({ length: 192_000 }, (_, i) => level * Math.sin((2 * Math.PI * 200 * i) / 48_000))],
});

test('change meters, even compare, hearing only the change, presets and saved chains', async ({ page }) => {
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([wavFile('Drill hum.wav', tone(0.2), '32f')]);
  await place(page, 'Drill hum');
  await addEffect(page, 'Image', /^Trim/);
  await turn(page, 'Gain', '-12');
  await page.keyboard.press('r');
  await page.keyboard.press('Space');
  const meter = page.locator('.tile tc-change-bars').first();
  // Only the level changes, which is no change at the same loudness.
  await expect(meter).toHaveAttribute('aria-label', /^No audible change at the same loudness; −12\.0 dB/);

  // B without the chain is 12 dB louder, and is turned down by that much.
  await page.keyboard.press('y');
  const gain = page.getByTestId('matched-gain');
  await expect(gain).toHaveText(/^B −12\.\d dB$/);
  await expect(page.getByRole('group', { name: 'Even compare' }).getByRole('button', { name: 'B' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.getByRole('button', { name: 'What is compared' }).click();
  await page.getByRole('menuitem', { name: 'Blind' }).click();
  await expect(gain).toHaveText('blind');
  await page.getByRole('button', { name: 'What is compared' }).click();
  await page.getByRole('menuitem', { name: 'End the comparison' }).click();
  await menuClosed(page);

  await addEffect(page, 'Drive', /^Drive/);
  const drive = page.locator('.tile').nth(1);
  await expect(drive.locator('tc-change-bars')).toHaveAttribute('aria-label', /^Changes the sound by/);
  await page.keyboard.press('h');
  await expect(drive.getByRole('button', { name: 'Hear what Drive changes' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('h');
  await page.keyboard.press('Space');

  // A preset sets all values at once; the chain is saved, exported, removed and imported again.
  await page.getByRole('button', { name: 'Presets of Drive' }).click();
  await page.getByRole('menuitem', { name: 'Broken speaker' }).click();
  await expect(page.getByRole('slider', { name: 'Drive', exact: true })).toHaveAttribute('aria-valuetext', '+30.0 dB');
  await expect(undoName(page)).toContainText('Preset “Broken speaker”');
  await menuClosed(page);
  await page.getByRole('button', { name: 'Chains', exact: true }).click();
  await page.getByRole('button', { name: 'Save this chain…' }).click();
  const name = page.getByRole('textbox', { name: 'Name' });
  await name.fill('Worn loudspeaker #machine');
  await name.press('Enter');
  await expect(page.getByRole('listitem', { name: 'Worn loudspeaker' })).toContainText('Trim → Drive');
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export 1' }).click();
  const text = readFileSync((await (await downloading).path()) ?? '', 'utf8');
  expect(text).toContain('"effect": "drive"');
  await page.getByRole('button', { name: 'Remove Worn loudspeaker' }).click();
  await page.getByTestId('preset-input').setInputFiles({ name: 'presets.json', mimeType: 'application/json', buffer: Buffer.from('{}') });
  await expect(page.getByText('“presets.json” does not fit')).toBeVisible();
  await page.getByTestId('preset-input').setInputFiles({ name: 'presets.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await page.getByRole('searchbox', { name: 'Search chains' }).fill('machine');
  await page.getByRole('button', { name: 'Use Worn loudspeaker' }).click();
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await expect(page.locator('.tile')).toHaveCount(2);
});

test('a tide and a rein move what they pull, in the exported samples', async ({ page }) => {
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([wavFile('Drill hum.wav', tone(0.2), '32f')]);
  await place(page, 'Drill hum');
  const plain = levelAt((await deliveredOriginal(page)).channels[0]!, 2);
  await page.getByRole('button', { name: 'Moves', exact: true }).click();
  await page.getByRole('button', { name: '+ Tide' }).click();
  await page.getByRole('button', { name: 'square' }).click();
  await turn(page, 'Smoothing', '0');
  await page.getByRole('button', { name: /Pull a property/ }).click();
  await page.getByRole('menuitem', { name: 'Gain' }).click();
  await menuClosed(page);
  await turn(page, 'Drill hum: gain', '6');
  const swelled = (await deliveredOriginal(page)).channels[0]!;
  // A square of four seconds: up in its first half, down in the second.
  expect(Math.abs(levelAt(swelled, 1) - plain - 6)).toBeLessThan(0.1);
  expect(Math.abs(levelAt(swelled, 3) - plain + 6)).toBeLessThan(0.1);

  await page.getByRole('button', { name: 'Remove Tide 1' }).click();
  await page.getByRole('button', { name: '+ Rein' }).click();
  await page.getByRole('button', { name: /Pull a property/ }).click();
  await page.getByRole('menuitem', { name: 'Gain' }).click();
  await menuClosed(page);
  await turn(page, 'Drill hum: gain', '-12');
  await turn(page, 'Rein 1', '50');
  const reined = (await deliveredOriginal(page)).channels[0]!;
  expect(Math.abs(levelAt(reined, 2) - plain + 6)).toBeLessThan(0.1);

  // The same rein takes the clip down by an octave, as its badge says.
  await page.getByRole('button', { name: /Pull a property/ }).click();
  await page.getByRole('menuitem', { name: 'Its clip' }).click();
  await page.getByRole('menuitem', { name: 'Pitch' }).click();
  await menuClosed(page);
  await turn(page, 'Drill hum: pitch', '-24');
  await expect(page.getByRole('button', { name: /^Clip Drill hum/ })).toContainText('pitch −12.0 st');
  const lower = (await deliveredOriginal(page)).channels[0]!;
  expect(toneLevel(lower, 100, 2) - toneLevel(reined, 200, 2)).toBeCloseTo(0, 0);
  expect(toneLevel(lower, 200, 2)).toBeLessThan(toneLevel(lower, 100, 2) - 40);
});

test('seating names who hides whom, and a remedy makes room', async ({ page }) => {
  await newProject(page);
  const hum = tone(0.5);
  await page.getByTestId('import-input').setInputFiles([wavFile('Boom.wav', hum, '32f'), wavFile('Knock.wav', knock())]);
  await place(page, 'Boom');
  await openView(page, 'Gather');
  await place(page, 'Knock');
  await page.getByRole('button', { name: 'Seating', exact: true }).click();
  const findings = page.getByRole('region', { name: 'What hides what' });
  await expect(findings.getByRole('article').first()).toContainText('Boom covers Knock');
  await expect(page.getByRole('button', { name: 'Knock, partly covered by Boom' })).toBeVisible();
  await findings
    .getByRole('button', { name: /^Cut Boom at/ })
    .first()
    .click();
  await expect(undoName(page)).toContainText('Make room in “Boom”');
  // The sound as it was is kept as the other side of an even comparison.
  await expect(page.getByRole('group', { name: 'Even compare' })).toBeVisible();
  await page.getByRole('region', { name: 'Layer Boom' }).locator('tc-clip').click();
  await expect(page.locator('.tile').first()).toContainText('EQ');
  await undoName(page).click();
  await expect(page.locator('.tile')).toHaveCount(0);

  // Another remedy ducks it only while the other sounds.
  await findings.getByRole('button', { name: 'Duck Boom under Knock' }).first().click();
  await expect(undoName(page)).toContainText('Duck “Boom” under “Knock”');
  await page.getByRole('button', { name: 'Seating', exact: true }).click();
  await expect(page.getByRole('combobox', { name: 'Makes room for' })).toHaveText('Knock');

  // A guide is seated beside the layers and can be hidden like them.
  await page.getByRole('region', { name: 'Layer Knock' }).locator('tc-clip').click();
  await page.keyboard.press('Delete');
  await page.getByRole('button', { name: 'Seating', exact: true }).click();
  await choose(findings.getByLabel('Guide'), 'Knock');
  await expect(undoName(page)).toContainText('Guide “Knock”');
  await expect(findings.getByRole('article').first()).toContainText('Boom covers Knock');
  await expect(findings.getByRole('button', { name: 'Duck Boom under Knock' })).toHaveCount(0);
});

test('meters show what is heard, what dynamics take away and a reference; one band of the EQ is heard alone', async ({ page }) => {
  await newProject(page);
  // A busy machine may freeze the layer, whose compressor then takes nothing away live.
  await page.addLocatorHandler(page.getByRole('button', { name: /is frozen\. Keep it live$/ }), (snow) => snow.click());
  await page
    .getByTestId('import-input')
    .setInputFiles([wavFile('Drill hum.wav', tone(0.5), '32f'), wavFile('Slab knock.wav', knock(), '24')]);
  await place(page, 'Drill hum');
  await addEffect(page, 'Dynamics', /^Compressor/);
  await turn(page, 'Threshold', '-30');
  await page.getByRole('button', { name: 'Meters', exact: true }).click();
  await expect(page.getByText('Play to see what is heard.')).toBeVisible();
  await choose(page.getByLabel('Reference spectrum'), 'Slab knock');
  await page.keyboard.press('r');
  await page.keyboard.press('Space');
  // A steady tone: all loudnesses are one, the field is mono.
  await expect(page.getByTestId('reading-correlation')).toHaveText('+1.00');
  const reading = async (id: string): Promise<number> =>
    Number((await page.getByTestId(`reading-${id}`).textContent())!.replace('−', '-').split(' ')[0]);
  await expect.poll(async () => Math.abs((await reading('momentary')) - (await reading('short-term')))).toBeLessThan(0.3);
  for (const line of ['average-line', 'peak-line', 'reference-line']) await expect(page.getByTestId(line)).toHaveAttribute('d', /^M/);
  const row = page.getByRole('button', { name: /^Compressor of Drill hum: −\d/ });
  await expect(row).toBeVisible();
  await row.click();
  await expect(page.locator('tc-compressor-editor')).toBeVisible();

  await addEffect(page, 'EQ and filters', /^EQ/);
  const plot = (await page.locator('tc-eq-editor .plot svg').boundingBox())!;
  await page.locator('tc-eq-editor .plot svg').dblclick({ position: { x: plot.width * 0.85, y: plot.height * 0.4 } });
  const before = await outputLevel(page);
  await page.getByRole('button', { name: 'Hear only this band' }).click();
  // Next to nothing of 200 Hz is left around 7 kHz.
  await expect.poll(() => outputLevel(page)).toBeLessThan(before - 25);
  await page.getByRole('button', { name: /^Band 3: / }).press('h');
  await expect.poll(() => outputLevel(page)).toBeGreaterThan(before - 3);
  await page.keyboard.press('Space');
});

/** The output meter, in dB. */
async function outputLevel(page: Page): Promise<number> {
  return Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'));
}

/** The open project once more, with the only step of its only layer as often as a chain may have one. */
async function withLongChain(page: Page): Promise<void> {
  const { project, audio } = await unpackArchive(await exportProject(page), effectCatalogue);
  const [sound] = project.sounds;
  const [layer] = sound!.layers;
  const [step] = layer!.chain;
  const chain = Array.from({ length: 64 }, (_, n) => ({
    ...step!,
    parameters: { ...step!.parameters, gain: 0 },
    id: `step-${project.counter + 1 + n}`,
  }));
  const sounds = [{ ...sound!, layers: [{ ...layer!, chain }] }];
  const longer = { ...project, id: 'halda-long-chain', name: 'Halda, long chain', sounds, counter: project.counter + 64 };
  const archive = { name: 'long-chain.choir', mimeType: 'application/zip', buffer: Buffer.from(await packArchive(longer, audio)) };
  await page.goto('/');
  await page.getByTestId('archive-input').setInputFiles(archive);
  await expect(page.getByText('Halda, long chain')).toBeVisible();
}

test('a layer too heavy to be computed live is frozen, and thawed by a change', { tag: '@alone' }, async ({ page }) => {
  test.setTimeout(180_000);
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([wavFile('Drill hum.wav', tone(0.2), '32f')]);
  await place(page, 'Drill hum');
  // Limiters leave this tone as it is, but look at it four times as closely.
  await addEffect(page, 'Dynamics', /^Limiter/);
  await withLongChain(page);
  await page.locator('tc-clip').click();
  await page.keyboard.press('r');
  await page.keyboard.press('Space');
  const snow = page.getByRole('button', { name: 'Drill hum is frozen. Keep it live' });
  await expect(snow).toBeVisible({ timeout: 60_000 });
  await expect(page.getByTestId('chain-cost')).toHaveText('frozen');
  // It sounds on, and its fader is not frozen.
  await expect.poll(() => outputLevel(page)).toBeGreaterThan(-30);
  const gain = page.getByRole('slider', { name: 'Gain of Drill hum' });
  await gain.focus();
  await page.keyboard.type('-30');
  await page.keyboard.press('Enter');
  await expect.poll(() => outputLevel(page)).toBeLessThan(-40);
  await expect(snow).toBeVisible();
  await page.keyboard.press('Control+z');
  await turn(page, 'Mix', '50');
  await expect(snow).toBeHidden();
  await page.keyboard.press('Space');
});

test('the lectern with seating and movers has no accessibility faults', async ({ page }) => {
  await openDemo(page);
  const check = async (view: string): Promise<void> => {
    expect(await graveFaults(page, 'tc-lectern'), view).toEqual([]);
  };
  await page.getByRole('button', { name: 'Seating', exact: true }).click();
  await expect(page.locator('tc-seating-view article').first()).toBeVisible();
  await check('Seating');
  await page.getByRole('button', { name: 'Moves', exact: true }).click();
  await page.getByRole('button', { name: '+ Walk' }).click();
  await page.getByRole('button', { name: '+ Tide' }).click();
  await check('Moves');
  await page.getByRole('button', { name: 'Meters', exact: true }).click();
  await page.locator('tc-stereo-fan').waitFor();
  await check('Meters');
  await addEffect(page, 'Time and space', /^Reverb/);
  await check('Chain');
});
