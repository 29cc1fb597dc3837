import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { toneLevel } from '../measure';
import { wavFile } from '../recordings';
import { choose, addEffect, deliveredOriginal, newProject, openView, place, riseIn, turn, undoAndRedo, undoName } from '../steps';

const rate = 48_000;

/** A tone with five partials that swings by nothing. */
function hum(frequency: number, level: number): Float32Array {
  const samples = new Float32Array(2 * rate);
  for (let p = 1; p <= 5; p++)
    for (let i = 0; i < samples.length; i++) samples[i]! += (level / p) * Math.sin((2 * Math.PI * frequency * p * i) / rate);
  return samples;
}

function file(name: string, samples: Float32Array) {
  return wavFile(`${name}.wav`, { sampleRate: rate, channels: [samples] }, '32f');
}

const layerOf = (page: Page, name: string) => page.getByRole('region', { name: `Layer ${name}` });

test('one layer is tuned to another, which is seen before it is heard, and stays so after a reload', async ({ page }) => {
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([file('Hum', hum(225, 0.2)), file('Drone', hum(331, 0.02))]);
  await place(page, 'Hum');
  await openView(page, 'Gather');
  await place(page, 'Drone');
  const before = (await deliveredOriginal(page)).channels[0]!;
  expect(toneLevel(before, 225, 1)).toBeGreaterThan(toneLevel(before, 165.5, 1) + 40);

  // The pitch is drawn over the clips, with its note; the panel tells it of the chosen clip.
  await page.keyboard.press('Shift+I');
  await expect(layerOf(page, 'Drone').locator('tc-clip-pitch small').first()).toHaveText('E4');
  await layerOf(page, 'Hum').locator('tc-clip').click();
  await expect(page.locator('tc-stretch-panel .pitch')).toContainText('A3 +39 ct · 225.0 Hz');
  await layerOf(page, 'Drone')
    .locator('tc-clip')
    .click({ modifiers: ['Control'] });
  await expect(page.getByText(/The two beat 1[23]\.\d times a second at (3:2|2:3)/)).toBeVisible();

  await layerOf(page, 'Hum').locator('tc-clip').click();
  await page.keyboard.press('i');
  const dialog = page.getByRole('dialog', { name: 'Tune' });
  await choose(dialog.getByRole('combobox', { name: 'To' }), 'Another layer');
  await expect(dialog.getByRole('status')).toContainText('to E3 +7 ct · 165.5 Hz');
  await dialog.getByRole('button', { name: 'Tune' }).click();
  await expect(page.locator('tc-stretch-panel .pitch')).toContainText('E3 +7 ct · 165.5 Hz');
  await expect(undoName(page)).toHaveAccessibleName(/Tune.*to “Drone”/);

  const inTune = async (): Promise<void> => {
    const heard = (await deliveredOriginal(page)).channels[0]!;
    expect(toneLevel(heard, 165.5, 1)).toBeGreaterThan(toneLevel(heard, 225, 1) + 40);
  };
  await inTune();
  await undoAndRedo(page, 1);
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  await inTune();
});

test('a note is typed, the key of the sound is offered, and noise is refused with the reason', async ({ page }) => {
  await newProject(page);
  let seed = 3;
  const noise = Float32Array.from({ length: rate }, () => ((seed = (seed * 16_807) % 2_147_483_647) / 2_147_483_647 - 0.5) * 0.4);
  await page.getByTestId('import-input').setInputFiles([file('Hum', hum(225, 0.2)), file('Hiss', noise)]);
  await place(page, 'Hum');
  const clip = layerOf(page, 'Hum').locator('tc-clip');
  await page.getByRole('button', { name: 'Tempo grid' }).click();
  await choose(page.getByLabel('Root of the key'), 'C');
  await expect(undoName(page)).toHaveAccessibleName(/Key C minor/);
  await page.keyboard.press('Escape');
  await clip.click();
  await page.keyboard.press('i');
  const dialog = page.getByRole('dialog', { name: 'Tune' });
  await choose(dialog.getByRole('combobox', { name: 'To' }), 'The key of the sound');
  await expect(dialog.getByRole('status')).toContainText('to A♯3 · 233.1 Hz');
  await choose(dialog.getByRole('combobox', { name: 'To' }), 'A note');
  await dialog.getByRole('slider', { name: 'Note' }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('d5');
  await page.keyboard.press('Enter');
  await expect(dialog.getByRole('status')).toContainText('to D4 · 293.7 Hz');
  await dialog.getByRole('checkbox', { name: 'In the nearest octave' }).uncheck();
  await expect(dialog.getByRole('status')).toContainText('to D5 · 587.3 Hz');
  await dialog.getByRole('button', { name: 'Tune' }).click();
  await expect(page.locator('tc-stretch-panel .pitch')).toContainText('D5 · 587.3 Hz');

  await openView(page, 'Gather');
  await place(page, 'Hiss');
  await layerOf(page, 'Hiss').locator('tc-clip').click();
  await expect(page.locator('tc-stretch-panel .pitch')).toContainText('no single pitch');
  await page.keyboard.press('i');
  await expect(dialog.getByRole('status')).toContainText(/No pitch to tune: \d+ % of what sounds here/);
  await expect(dialog.getByRole('button', { name: 'Tune' })).toBeDisabled();
});

test('a pitch shifter in the chain moves the pitch and not the time', async ({ page }) => {
  await newProject(page);
  const samples = hum(440, 0.2);
  samples.fill(0, 0, rate / 2);
  await page.getByTestId('import-input').setInputFiles([file('Hum', samples)]);
  await place(page, 'Hum');
  await addEffect(page, 'Pitch', /^Pitch shifter/);
  await turn(page, 'Pitch', '-12');
  const lower = (await deliveredOriginal(page)).channels[0]!;
  expect(Math.abs(toneLevel(lower, 220, 1.2) - toneLevel(samples, 440, 1.2))).toBeLessThan(0.5);
  // It lags by 88 ms; what is delivered begins where the sound does.
  expect(Math.abs(riseIn({ sampleRate: rate, channels: [lower] }, 0.3, 0.7) - 0.5)).toBeLessThan(0.04);

  await choose(page.getByRole('combobox', { name: 'Mode' }), 'quick');
  const quick = (await deliveredOriginal(page)).channels[0]!;
  expect(Math.abs(toneLevel(quick, 220, 1.2) - toneLevel(samples, 440, 1.2))).toBeLessThan(1.5);
  expect(Math.abs(riseIn({ sampleRate: rate, channels: [quick] }, 0.3, 0.7) - 0.5)).toBeLessThan(0.015);
  await undoAndRedo(page, 1);
});
