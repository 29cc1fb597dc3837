import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { manifestSchema, measure, readWav } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { hiss, knock, wavFile } from '../recordings';

/** Undo until nothing is left to undo. */
async function undoAll(page: Page): Promise<number> {
  const undo = page.getByRole('button', { name: 'Undo' });
  let count = 0;
  while (await undo.isEnabled()) {
    // After the last step the button may be switched off only after it was looked at.
    const clicked = await undo.click({ timeout: 3_000 }).then(
      () => true,
      () => false,
    );
    if (clicked) count++;
    expect(count).toBeLessThan(200);
  }
  return count;
}

const lane = (page: Page, name: string) => page.getByRole('region', { name: `Layer ${name}` });

test('from recordings to a family of files and back', async ({ page }) => {
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));
  page.on('console', (message) => message.type() === 'error' && problems.push(message.text()));

  await test.step('start empty', async () => {
    await page.goto('/');
    await expect(page.getByText('No project in this browser yet')).toBeVisible();
    await page.getByRole('button', { name: 'New project' }).click();
    await expect(page.getByText('Bring your recordings')).toBeVisible();
  });

  await test.step('import two recordings and one that is none', async () => {
    const text = { name: 'notes.wav', mimeType: 'audio/wav', buffer: Buffer.from('these are only notes') };
    await page
      .getByTestId('import-input')
      .setInputFiles([wavFile('slab_knock.wav', knock()), wavFile('snow-hiss.wav', hiss(), '24'), text]);
    await expect(page.getByRole('listitem', { name: 'slab knock' })).toBeVisible();
    await expect(page.getByRole('listitem', { name: 'snow hiss' })).toBeVisible();
    await expect(page.getByRole('alert')).toContainText('“notes.wav” is not a WAV file');
    await expect(page.getByRole('alert')).toContainText('Converted from 44100 to 48000 Hz');
    await page.getByRole('searchbox', { name: 'Search sources' }).fill('hiss');
    await expect(page.locator('.row')).toHaveCount(1);
    await page.getByRole('searchbox', { name: 'Search sources' }).fill('');
  });

  await test.step('place one as a layer by key, drag the other in', async () => {
    await page.getByRole('listitem', { name: 'slab knock' }).click();
    await page.keyboard.press('p');
    await expect(lane(page, 'slab knock')).toBeVisible();
    const shelf = page.locator('[data-source]', { hasText: 'snow hiss' });
    await shelf.dragTo(page.locator('.new-lane'), { targetPosition: { x: 300, y: 12 } });
    await expect(lane(page, 'snow hiss')).toBeVisible();
    await expect(page.locator('tc-clip')).toHaveCount(2);
  });

  await test.step('move, trim and fade with the pointer', async () => {
    const clip = lane(page, 'snow hiss').locator('tc-clip');
    const before = (await clip.boundingBox())!;
    await page.mouse.move(before.x + before.width / 2, before.y + 20);
    await page.mouse.down();
    await page.mouse.move(before.x + before.width / 2 - 100, before.y + 20, { steps: 6 });
    await page.mouse.up();
    const moved = (await clip.boundingBox())!;
    expect(moved.x).toBeLessThan(before.x - 60);
    await page.mouse.move(moved.x + moved.width - 3, moved.y + 20);
    await page.mouse.down();
    await page.mouse.move(moved.x + moved.width - 33, moved.y + 20, { steps: 4 });
    await page.mouse.up();
    expect((await clip.boundingBox())!.width).toBeLessThan(moved.width - 20);
    await expect(page.getByRole('button', { name: /^Undo/ })).toContainText('Trim end');
    // The start becomes exact by typing, with a unit or without.
    const start = page.getByRole('slider', { name: 'Start' });
    await start.focus();
    await page.keyboard.press('Enter');
    await page.keyboard.type('60 ms');
    await page.keyboard.press('Enter');
    await expect(start).toHaveAttribute('aria-valuetext', '60.0 ms');
    await page.getByRole('slider', { name: 'Fade in' }).focus();
    await page.keyboard.type('20');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('slider', { name: 'Fade in' })).toHaveAttribute('aria-valuetext', '20.0 ms');
  });

  await test.step('shape one layer with the EQ', async () => {
    await lane(page, 'slab knock').locator('tc-clip').click();
    await page.getByRole('button', { name: 'Add an effect' }).click();
    await page.getByRole('menuitem', { name: 'EQ and filters' }).click();
    await page.getByRole('menuitem', { name: /^EQ Removes/ }).click();
    const plot = page.getByLabel('EQ curve');
    const box = (await plot.boundingBox())!;
    // Unlike the bare mouse this waits until the menu has let go of the page.
    await plot.dblclick({ position: { x: box.width * 0.33, y: box.height * 0.5 } });
    const handle = page.getByRole('button', { name: /^Band 3/ });
    await expect(handle).toBeVisible();
    const at = (await handle.boundingBox())!;
    await page.mouse.move(at.x + 7, at.y + 7);
    await page.mouse.down();
    await page.mouse.move(at.x + 7, at.y - 40, { steps: 5 });
    await page.mouse.up();
    const gain = Number(await page.getByRole('slider', { name: 'Gain', exact: true }).getAttribute('aria-valuenow'));
    expect(gain).toBeGreaterThan(4);
  });

  await test.step('hear it: samples reach the worklet, and an edit is heard', async () => {
    const meter = page.getByTestId('output-meter');
    const level = async (): Promise<number> => Number(await meter.getAttribute('aria-valuenow'));
    await page.getByRole('button', { name: 'Loop', exact: true }).click();
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    await expect.poll(level).toBeGreaterThan(-30);
    await expect(page.locator('path.after')).toHaveAttribute('d', /^M/);
    await page.getByRole('button', { name: 'Mute slab knock' }).click();
    await page.getByRole('button', { name: 'Mute snow hiss' }).click();
    await expect.poll(level).toBeLessThan(-55);
    await page.getByRole('button', { name: 'Mute slab knock' }).click();
    await page.getByRole('button', { name: 'Mute snow hiss' }).click();
    await expect.poll(level).toBeGreaterThan(-30);
    await page.getByRole('button', { name: 'Stop', exact: true }).click();
    await page.getByRole('button', { name: 'Loop', exact: true }).click();
  });

  await test.step('make eight siblings and keep three', async () => {
    await page.getByRole('link', { name: 'Kin' }).click();
    await page.getByRole('button', { name: 'Make eight siblings' }).click();
    await page.getByRole('button', { name: 'Bold' }).click();
    await expect(page.getByRole('listitem', { name: /^Sibling/ })).toHaveCount(8);
    await expect(page.locator('article .facts')).toHaveCount(8);
    await expect
      .poll(async () => (await page.locator('article .facts').allTextContents()).filter((text) => text.includes('LUFS')).length)
      .toBe(8);
    await page.keyboard.press('2');
    await expect.poll(async () => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'))).toBeGreaterThan(-40);
    await page.keyboard.press('k');
    for (const index of [4, 7]) await page.getByRole('button', { name: `Keep sibling ${index}`, exact: true }).click();
    await page.getByRole('button', { name: 'Re-roll the rest' }).click();
    await expect(page.getByText('3 kept')).toBeVisible();
  });

  const zip = await test.step('hand off', async () => {
    await page.getByRole('link', { name: 'Hand-off' }).click();
    await page.getByRole('button', { name: 'Pre-flight' }).click();
    // Two siblings may be heard as the same, which is worth considering; nothing is to be mended.
    await expect(page.locator('.verdict')).toContainText(/all fine|to consider/);
    const downloading = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Write zip' }).click();
    return readFileSync((await (await downloading).path()) ?? '');
  });

  await test.step('the files hold what was built', () => {
    const entries = unzipSync(new Uint8Array(zip));
    const names = Object.keys(entries).sort();
    expect(names).toEqual([
      'New-project_Sound-1_01.wav',
      'New-project_Sound-1_02.wav',
      'New-project_Sound-1_03.wav',
      'New-project_Sound-1_04.wav',
      'manifest.json',
      'report.csv',
      'report.html',
    ]);
    const manifest = manifestSchema.parse(JSON.parse(new TextDecoder().decode(entries['manifest.json'])));
    expect(manifest.files.map((file) => file.variant)).toEqual(['original', 2, 4, 7]);
    const seen: Float32Array[] = [];
    for (const file of manifest.files) {
      const bytes = entries[file.file]!;
      const view = new DataView(bytes.buffer, bytes.byteOffset);
      expect(new TextDecoder().decode(bytes.subarray(0, 4))).toBe('RIFF');
      expect(view.getUint32(4, true)).toBe(bytes.length - 8);
      const { audio, encoding } = readWav(bytes);
      expect(encoding).toBe('24 bit');
      expect(audio.sampleRate).toBe(48_000);
      expect(audio.channels).toHaveLength(2);
      expect(audio.channels[0]).toHaveLength(file.frames);
      expect(file.seconds).toBeGreaterThan(0.35);
      expect(file.seconds).toBeLessThan(1);
      const measured = measure(audio);
      expect(Math.abs(measured.integratedLufs - file.integratedLufs!)).toBeLessThan(0.1);
      expect(measured.integratedLufs).toBeGreaterThan(-40);
      expect(measured.truePeakDbtp).toBeLessThan(6);
      const text = new TextDecoder().decode(bytes);
      expect(text).toContain(file.recipe);
      expect(text).toContain('slab knock');
      for (const other of seen) {
        let difference = 0;
        let size = 0;
        for (let i = 0; i < Math.min(other.length, audio.channels[0]!.length); i++) {
          difference += (other[i]! - audio.channels[0]![i]!) ** 2;
          size += other[i]! ** 2;
        }
        expect(10 * Math.log10(difference / size)).toBeGreaterThan(-20);
      }
      seen.push(audio.channels[0]!);
    }
    expect(new Set(manifest.files.map((file) => file.recipe)).size).toBe(4);
  });

  await test.step('a reload keeps the project and its undo steps; undo leads to the start', async () => {
    await expect(page.getByText('saved', { exact: true })).toBeVisible();
    await page.reload();
    await expect(page.getByText('4 files')).toBeVisible();
    const steps = await undoAll(page);
    expect(steps).toBeGreaterThan(12);
    await page.getByRole('link', { name: 'Gather' }).click();
    await expect(page.getByText('Bring your recordings')).toBeVisible();
    await page.getByRole('button', { name: /^Redo/ }).click();
    await expect(page.getByRole('listitem', { name: 'slab knock' })).toBeVisible();
    await expect(page.getByText('saved', { exact: true })).toBeVisible();
    await page.reload();
    await expect(page.getByRole('listitem', { name: 'slab knock' })).toBeVisible();
  });
  expect(problems).toEqual([]);
});
