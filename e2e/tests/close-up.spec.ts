import { expect, test } from '@playwright/test';
import type { Audio } from '@tangled-choir/core';
import { createRandom } from '@tangled-choir/core';
import { wavFile } from '../recordings';
import { deliveredOriginal, newProject, openView, undoAndRedo, undoName } from '../steps';

const sampleRate = 48_000;
const burst = { from: 3.25, to: 3.75 };

/** Eight seconds of nothing but half a second of noise. */
function recording(): Audio {
  const random = createRandom(12);
  const samples = new Float32Array(8 * sampleRate);
  for (let i = burst.from * sampleRate; i < burst.to * sampleRate; i++) samples[i] = Math.round((random.next() - 0.5) * 16_384) / 32_768;
  return { sampleRate, channels: [samples] };
}

test('a good part is found close up, its edges dragged, nudged and typed, and placed to the sample', async ({ page }) => {
  const audio = recording();
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles(wavFile('Slab scrape.wav', audio));
  await page.getByRole('listitem', { name: 'Slab scrape' }).click();
  await page.keyboard.press('z');
  const view = page.getByRole('region', { name: 'Close-up' });
  const picture = view.locator('.picture');
  const box = (await picture.boundingBox())!;
  const at = (time: number): number => box.x + (box.width * time) / 8;

  // The noise is to be seen in the spectrogram, and nothing beside it.
  const brightness = (time: number): Promise<number> =>
    view.locator('canvas').evaluate((canvas, share) => {
      if (!(canvas instanceof HTMLCanvasElement)) return 0;
      const x = Math.round(share * canvas.width);
      const { data } = canvas.getContext('2d')!.getImageData(x, Math.round(canvas.height / 2), 1, 1);
      return data[0]! + data[1]! + data[2]!;
    }, time / 8);
  await expect.poll(() => brightness(3.5)).toBeGreaterThan(300);
  expect(await brightness(6)).toBeLessThan(80);

  await page.mouse.move(at(2), box.y + 60);
  await page.mouse.down();
  await page.mouse.move(at(5), box.y + 60, { steps: 4 });
  await page.mouse.up();
  const start = view.getByRole('slider', { name: 'Start of Part 1' });
  const end = view.getByRole('slider', { name: 'End of Part 1' });
  const place = async (edge: typeof start): Promise<number> => Number(await edge.getAttribute('aria-valuenow'));
  await expect.poll(async () => Math.abs((await place(start)) - 2)).toBeLessThan(0.05);

  // The start is dragged by its edge, then typed; all of a drag is one step.
  const edge = (await start.boundingBox())!;
  await page.mouse.move(edge.x + edge.width / 2, box.y + 200);
  await page.mouse.down();
  await page.mouse.move(at(3), box.y + 200, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => Math.abs((await place(start)) - 3)).toBeLessThan(0.05);
  await undoName(page).click();
  await expect.poll(async () => Math.abs((await place(start)) - 2)).toBeLessThan(0.05);
  await page.getByRole('button', { name: /^Redo/ }).click();
  await view.getByRole('slider', { name: 'In', exact: true }).focus();
  await page.keyboard.type(String(burst.from));
  await page.keyboard.press('Enter');
  await expect(start).toHaveAttribute('aria-valuetext', '3.250 s');
  await view.getByRole('slider', { name: 'Out', exact: true }).focus();
  await page.keyboard.type('3.755');
  await page.keyboard.press('Enter');

  // Close enough to see single milliseconds, the end is nudged by keys.
  const pointer = Math.round(at(3.75));
  await page.mouse.move(pointer, box.y + 100);
  for (let n = 0; n < 12; n++) await page.mouse.wheel(0, -200);
  await end.focus();
  for (let n = 0; n < 5; n++) await page.keyboard.press('Shift+ArrowLeft');
  await expect(end).toHaveAttribute('aria-valuetext', '3.750 s');
  // What lay under the pointer still does; a pixel of the whole is 15 ms.
  const pointed = ((pointer - box.x) / box.width) * 8;
  const window = 8 / Math.exp((12 * 200) / 400);
  const wanted = pointer + ((3.75 - pointed) / window) * box.width;
  expect(Math.abs((await end.boundingBox())!.x + 5 - wanted)).toBeLessThan(3);
  await undoAndRedo(page, 5);

  await view.getByRole('button', { name: 'Place' }).click();
  await openView(page, 'Loft');
  await expect(page.locator('tc-clip')).toHaveCount(1);
  const rendered = (await deliveredOriginal(page)).channels[0]!;
  const original = audio.channels[0]!.subarray(burst.from * sampleRate, burst.to * sampleRate);
  // Beside the fades of a new clip, the samples of the recording.
  const fade = 0.01 * sampleRate;
  expect(Math.abs(rendered.findLastIndex((sample) => sample !== 0) - original.length)).toBeLessThan(3);
  let worst = 0;
  for (let i = fade; i < original.length - fade; i++) worst = Math.max(worst, Math.abs(rendered[i]! - original[i]!));
  expect(worst).toBeLessThan(1e-4);

  // In the Loft, the part is at hand below its source: by key on the selected layer, and dragged onto a new one.
  const part = page.getByRole('listitem', { name: /^Part 1 of Slab scrape/ });
  await part.focus();
  await page.keyboard.press('Shift+P');
  await expect(page.locator('tc-clip')).toHaveCount(2);
  await expect(undoName(page)).toContainText('Add clip “Slab scrape”');
  await part.dragTo(page.locator('.new-lane'));
  await expect(page.getByRole('region', { name: 'Layer Slab scrape · Part 1' })).toHaveCount(2);
  await undoAndRedo(page, 2);
});
