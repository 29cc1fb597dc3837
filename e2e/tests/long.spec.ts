import { expect, test } from '@playwright/test';
import type { Audio } from '@tangled-choir/core';
import { createRandom } from '@tangled-choir/core';
import { wavFile } from '../recordings';
import { deliveredOriginal, newProject, openView } from '../steps';

const sampleRate = 48_000;
const seconds = 240;
const burst = { from: 180, to: 186 };

/** Four minutes of nothing but six seconds of noise: long enough to be loaded only where it is used. */
function longRecording(): Audio {
  const random = createRandom(77);
  const samples = new Float32Array(seconds * sampleRate);
  for (let i = burst.from * sampleRate; i < burst.to * sampleRate; i++) samples[i] = Math.round((random.next() - 0.5) * 16_384) / 32_768;
  return { sampleRate, channels: [samples] };
}

test('a long recording is heard, seen and placed where it is used, sample by sample', async ({ page }) => {
  const recording = longRecording();
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles(wavFile('Halda night.wav', recording));
  await expect(page.getByText('1 of 1')).toBeVisible();
  await expect(page.getByText(/measuring \d+ more/)).toBeHidden({ timeout: 60_000 });
  const facts = page.locator('tc-source-inspector dl');
  await expect(facts).toContainText('4:00.000');
  // Silence in front of the noise and behind it, each more than two minutes or across a border of what is measured at a time.
  const defects = page.getByRole('region', { name: 'Defects' });
  await expect(defects.getByRole('button', { name: /180\.0 s of silence/ })).toBeVisible();
  await expect(defects.getByRole('button', { name: /54\.0 s of silence/ })).toBeVisible();

  // A click on the picture plays from there on.
  const level = async (): Promise<number> => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'));
  const picture = (await page.locator('tc-source-picture').boundingBox())!;
  const at = (time: number): number => picture.x + (picture.width * time) / seconds;
  await page.mouse.click(at(182), picture.y + 30);
  await expect.poll(level).toBeGreaterThan(-20);
  await page.keyboard.press('Space');

  await page.mouse.move(at(178), picture.y + 30);
  await page.mouse.down();
  await page.mouse.move(at(190), picture.y + 30, { steps: 4 });
  await page.mouse.up();
  const regions = page.getByRole('region', { name: 'Regions' });
  await regions
    .getByRole('button', { name: /^Place/ })
    .first()
    .click();
  await openView(page, 'Loft');
  await expect(page.locator('tc-clip')).toHaveCount(1);

  const rendered = (await deliveredOriginal(page)).channels[0]!;
  const original = recording.channels[0]!;
  // The region was drawn by hand, so the noise is looked for; from there on it must be the recording's.
  const start = rendered.findIndex((sample) => sample !== 0);
  expect(start).toBeGreaterThan(sampleRate);
  const first = original.findIndex((sample) => sample !== 0);
  let worst = 0;
  for (let i = 0; i < (burst.to - burst.from) * sampleRate; i++)
    worst = Math.max(worst, Math.abs(rendered[start + i]! - original[first + i]!));
  expect(worst).toBeLessThan(1e-6);
});
