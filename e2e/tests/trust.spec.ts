import { expect, test } from '@playwright/test';
import { manifestSchema, readWav } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { hiss, knock, tap, wavFile } from '../recordings';
import { deliveredOriginal, download, handOffSound, menuClosed, newProject, openDemo, openView, place, undoName } from '../steps';

test('what is heard alone never reaches a file, a lamp says so, and a click on it lets everything be heard', async ({ page }) => {
  await openDemo(page);
  const whole = await deliveredOriginal(page);
  await page.getByRole('region', { name: 'Layer Slab body' }).getByRole('button', { name: /^Solo/ }).click();
  const lamp = page.getByTestId('listening-lamp');
  await expect(lamp).toContainText('Solo: “Slab body”');
  await handOffSound(page);
  await expect(page.getByText('That is only for listening')).toBeVisible();
  const soloed = await deliveredOriginal(page);
  expect(soloed).toEqual(whole);
  await lamp.click();
  await expect(lamp).toHaveCount(0);
  await expect(undoName(page)).toContainText('End all solos');
});

test('numbers mean what their field shows, limits are told, and effects are found by typing', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'Add an effect', exact: true }).click();
  await page.getByLabel('Find an effect').fill('thicker');
  await expect(page.locator('.offer').first()).toContainText('Detune');
  await page.keyboard.press('Enter');
  await menuClosed(page);
  await expect(page.getByRole('listitem', { name: /^Detune/ })).toBeVisible();
  const window = page.getByRole('slider', { name: 'Window' });
  await expect(window).toHaveAttribute('aria-valuetext', '40.0 ms');
  await window.focus();
  await page.keyboard.type('55');
  await page.keyboard.press('Enter');
  await expect(window).toHaveAttribute('aria-valuetext', '55.0 ms');
  await page.keyboard.type('9 s');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^at most /)).toBeVisible();
});

test('a day of work: a sound and its twin, repairs before it leaves, and undo that stays in sight', async ({ page }) => {
  await newProject(page);
  await page
    .getByTestId('import-input')
    .setInputFiles([wavFile('Knock.wav', knock()), wavFile('Hiss.wav', hiss()), wavFile('Tap.wav', tap())]);
  await expect(page.getByText('3 of 3', { exact: true })).toBeVisible();
  await place(page, 'Knock');
  await openView(page, 'Gather');
  await place(page, 'Hiss');
  const layers = page.getByRole('region', { name: /^Layer / });
  await expect(layers).toHaveCount(2);

  // A twin, made different.
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'Duplicate “Sound 1”' }).click();
  await menuClosed(page);
  await expect(page.getByRole('button', { name: /^Sound: Sound 1 copy/ })).toBeVisible();
  await layers.last().click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await expect(layers).toHaveCount(3);
  await page.getByRole('slider', { name: 'Layer gain' }).focus();
  await page.keyboard.type('24');
  await page.keyboard.press('Enter');

  // Undo goes to the twin before it changes it.
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'Sound 1', exact: true }).click();
  await menuClosed(page);
  await expect(layers).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(layers).toHaveCount(3);
  await expect(page.getByText(/Undone in “Sound 1 copy”/)).toBeVisible();
  await page.keyboard.press('Control+Shift+z');

  // What clips is asked about before it is written, and mended on a click.
  await handOffSound(page);
  await page.getByRole('button', { name: 'Write zip' }).click();
  await page.getByRole('heading', { name: 'One file has a fault' }).waitFor();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await page.getByRole('button', { name: /^Turn down by/ }).click();
  await expect(page.getByText(/samples clip/)).toHaveCount(0);
  await expect(undoName(page)).toContainText('Change the level');
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  const manifest = manifestSchema.parse(JSON.parse(new TextDecoder().decode(entries['manifest.json'])));
  expect(manifest.files[0]!.truePeakDbtp).toBeLessThan(-0.9);
  expect(truePeakBySomebodyElse(entries[manifest.files[0]!.file]!)).toBeLessThan(-0.8);
});

/** What ffmpeg says of the true peak of a file, in dBTP. */
function truePeakBySomebodyElse(wav: Uint8Array): number {
  const file = join(mkdtempSync(join(tmpdir(), 'halda-')), 'file.wav');
  writeFileSync(file, wav);
  try {
    execFileSync('ffmpeg', ['-version'], { stdio: 'ignore' });
  } catch {
    // Where it is not installed, the samples themselves have to do.
    return (
      20 *
      Math.log10(
        readWav(wav)
          .audio.channels.flatMap((channel) => [...channel])
          .reduce((most, x) => Math.max(most, Math.abs(x)), 0),
      )
    );
  }
  const told = execFileSync('sh', ['-c', `ffmpeg -nostats -i "${file}" -af ebur128=peak=true -f null - 2>&1`]).toString();
  const peaks = [...told.matchAll(/Peak:\s+(-?[\d.]+) dBFS/g)].map(([, value]) => Number(value));
  return peaks.at(-1)!;
}

test('Escape during a drag puts everything back, copies too', async ({ page }) => {
  await openDemo(page);
  const clip = page.getByRole('region', { name: 'Layer Sharp crack' }).locator('tc-clip').first();
  const clips = page.locator('tc-clip');
  await expect(clip).toHaveAttribute('aria-label', /at 0\.400 s/);
  const count = await clips.count();
  const drag = async (keys: readonly string[]): Promise<void> => {
    const box = (await clip.boundingBox())!;
    for (const key of keys) await page.keyboard.down(key);
    await page.mouse.move(box.x + 20, box.y + 8);
    await page.mouse.down();
    await page.mouse.move(box.x + 140, box.y + 8, { steps: 5 });
  };
  await drag([]);
  await expect(clip).not.toHaveAttribute('aria-label', /at 0\.400 s/);
  await page.keyboard.press('Escape');
  await expect(clip).toHaveAttribute('aria-label', /at 0\.400 s/);
  await page.mouse.move(300, 300);
  await page.mouse.up();
  await expect(clip).toHaveAttribute('aria-label', /at 0\.400 s/);
  await expect(clip).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('button', { name: /^Undo/ })).toBeDisabled();

  await drag(['Control']);
  await expect(clips).toHaveCount(count + 1);
  await page.keyboard.press('Escape');
  await page.keyboard.up('Control');
  await page.mouse.up();
  await expect(clips).toHaveCount(count);
});
