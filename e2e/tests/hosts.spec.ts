import { expect, test } from '@playwright/test';
import { residual, toneLevel } from '../measure';
import { wavFile } from '../recordings';
import { choose, addEffect, deliveredOriginal, menuClosed, newProject, openView, place, turn, undoName } from '../steps';

const rate = 48_000;
const frames = 4 * rate;
/** 100 Hz and 6 kHz, each at -20 dB. */
const twoTones = {
  sampleRate: rate,
  channels: [
    Float32Array.from(
      { length: frames },
      (_, i) => 0.1 * (Math.sin((2 * Math.PI * 100 * i) / rate) + Math.sin((2 * Math.PI * 6_000 * i) / rate)),
    ),
  ],
};
/** Noise of our own making for half a second, two seconds in. */
const call = {
  sampleRate: rate,
  channels: [Float32Array.from({ length: frames }, (_, i) => (i > 2 * rate && i < 2.5 * rate ? 0.5 * Math.sin(i * i * 0.01) : 0))],
};

test('bands within which lanes run side by side, moved by a tide and a rein, kept as a preset', async ({ page }) => {
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([wavFile('Drill hum.wav', twoTones, '32f')]);
  await place(page, 'Drill hum');
  await addEffect(page, 'Hosts', /^Bands/);
  const split = page.getByRole('slider', { name: 'Split 2' }).first();
  await split.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(split).toHaveAttribute('aria-valuetext', '2.08 kHz');

  // The top band gets two lanes; one of them is nearly taken away by a trim within it.
  await addEffect(page, 'Hosts', /^Side by side/, 'Add an effect to Band 3');
  await addEffect(page, 'Image', /^Trim/, 'Add an effect to Lane 1');
  await expect(page.getByRole('button', { name: 'Chain of Lane 1' })).toBeVisible();
  await turn(page, 'Gain', '-60');
  let samples = (await deliveredOriginal(page)).channels[0]!;
  expect(toneLevel(samples, 100, 2)).toBeCloseTo(-20, 1);
  // The other lane alone, 6 dB down.
  expect(Math.abs(toneLevel(samples, 6_000, 2) + 26)).toBeLessThan(0.2);

  await page.getByRole('button', { name: 'Back to Side by side' }).click();
  await turn(page, 'Gain of Lane 2', '-26');
  await page.getByRole('button', { name: 'Back to Bands' }).click();
  await page.getByRole('button', { name: 'Mute Band 1' }).click();
  samples = (await deliveredOriginal(page)).channels[0]!;
  expect(toneLevel(samples, 100, 2)).toBeLessThan(-26);
  await undoName(page).click();
  await expect(page.getByRole('button', { name: 'Mute Band 1' })).toHaveAttribute('aria-pressed', 'false');

  // A tide lifts and lowers the low band, a rein the lane two hosts further in.
  await page.getByRole('button', { name: 'Moves', exact: true }).click();
  await page.getByRole('button', { name: '+ Tide' }).click();
  await page.getByRole('button', { name: 'square' }).click();
  await turn(page, 'Smoothing', '0');
  await page.getByRole('button', { name: /Pull a property/ }).click();
  await page.getByRole('menuitem', { name: 'Bands · Band 1' }).click();
  await page.getByRole('menuitem', { name: 'Gain' }).last().click();
  await menuClosed(page);
  await turn(page, 'Drill hum · Bands · Band 1: gain', '6');
  await page.getByRole('button', { name: '+ Rein' }).click();
  await page.getByRole('button', { name: /Pull a property/ }).click();
  await page.getByRole('menuitem', { name: 'Side by side · Lane 2' }).click();
  await page.getByRole('menuitem', { name: 'Gain' }).last().click();
  await menuClosed(page);
  await turn(page, 'Drill hum · Side by side · Lane 2: gain', '10');
  await turn(page, 'Rein 1', '100');
  samples = (await deliveredOriginal(page)).channels[0]!;
  // What of 100 Hz lies in the band below 160 Hz follows the tide; the rest comes through the next one, in phase.
  const low = 1 / (1 + (100 / 160) ** 4);
  const swayed = (gain: number): number => -20 + 20 * Math.log10(low * 10 ** (gain / 20) + 1 - low);
  expect(Math.abs(toneLevel(samples, 100, 1) - swayed(6))).toBeLessThan(0.1);
  expect(Math.abs(toneLevel(samples, 100, 3) - swayed(-6))).toBeLessThan(0.1);
  const middle = 1 / (1 + (6_000 / 2_080) ** 4);
  const within = (gain: number): number => -20 + 20 * Math.log10((1 - middle) * 10 ** (gain / 20) + middle);
  expect(Math.abs(toneLevel(samples, 6_000, 2) - within(-16))).toBeLessThan(0.2);

  // The whole tree is one preset, which brings everything back that its steps held.
  await page.getByRole('button', { name: 'Moves', exact: true }).click();
  await page.getByRole('button', { name: 'Chains', exact: true }).click();
  await page.getByRole('button', { name: 'Save this chain…' }).click();
  const name = page.getByRole('textbox', { name: 'Name' });
  await name.fill('Split and doubled');
  await name.press('Enter');
  await page.getByRole('button', { name: 'Use Split and doubled' }).click();
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.getByRole('button', { name: 'Side by side', exact: true }).click();
  await expect(page.getByRole('slider', { name: 'Gain of Lane 2' })).toHaveAttribute('aria-valuetext', '−26.0 dB');
  // Without the tide and the rein, which pulled at the steps that have gone.
  samples = (await deliveredOriginal(page)).channels[0]!;
  expect(Math.abs(toneLevel(samples, 100, 1) + 20)).toBeLessThan(0.2);
  expect(Math.abs(toneLevel(samples, 6_000, 2) - within(-26))).toBeLessThan(0.4);
});

test('a layer gives way to another, and a recording sounds through another', async ({ page }) => {
  await newProject(page);
  const click = { sampleRate: rate, channels: [Float32Array.from({ length: 2_400 }, (_, i) => (i === 0 || i === 1_200 ? 0.5 : 0))] };
  await page
    .getByTestId('import-input')
    .setInputFiles([wavFile('Wind.wav', twoTones, '32f'), wavFile('Radio call.wav', call, '32f'), wavFile('Two clicks.wav', click, '32f')]);
  await place(page, 'Wind');
  const plain = (await deliveredOriginal(page)).channels[0]!;
  await openView(page, 'Gather');
  await place(page, 'Radio call');
  await page.keyboard.press('0');
  // A key is taken before the fader: the call itself is not heard.
  await page.getByRole('region', { name: 'Layer Radio call' }).getByRole('button', { name: 'Mute' }).click();
  await page.getByRole('region', { name: 'Layer Wind' }).locator('tc-clip').click();
  await addEffect(page, 'Dynamics', /^Ducker/);
  await choose(page.getByLabel('Makes room for'), 'Radio call');
  await expect(undoName(page)).toContainText('Ducker: makes room for');
  await turn(page, 'Depth', '-20');
  const ducked = (await deliveredOriginal(page)).channels[0]!;
  expect(Math.abs(toneLevel(ducked, 100, 1) + 20)).toBeLessThan(0.1);
  expect(Math.abs(toneLevel(ducked, 100, 2.3) + 40)).toBeLessThan(0.5);

  await page.getByRole('listitem', { name: /^Ducker/ }).focus();
  await page.keyboard.press('Delete');
  await addEffect(page, 'Time and space', /^Convolution/);
  await choose(page.getByRole('combobox', { name: /^Response/ }), 'Two clicks');
  await turn(page, 'Fade out', '0');
  await turn(page, 'Level', '0');
  const doubled = (await deliveredOriginal(page)).channels[0]!;
  const expected = plain.map((sample, i) => Math.SQRT1_2 * (sample + (plain[i - 1_200] ?? 0)));
  expect(residual(expected, doubled, 4_800, 180_000)).toBeLessThan(-90);
});
