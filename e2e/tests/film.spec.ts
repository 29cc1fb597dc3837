import { expect, test } from '@playwright/test';
import { createRandom, manifestSchema, readWav } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { UploadFile } from '../recordings';
import { hiss, knock, tap, wavFile } from '../recordings';
import { download, handOffSound, menuClosed, newProject, openView, undoName } from '../steps';

/** Ten grains of snow, each its own. */
function grains(): UploadFile[] {
  return Array.from({ length: 10 }, (_, n) => {
    const random = createRandom(100 + n);
    const samples = Float32Array.from(
      { length: 9_600 + 480 * n },
      (_, i) => 0.3 * Math.exp(-i / (900 + 200 * n)) * (2 * random.next() - 1),
    );
    return wavFile(`Snow grain ${String(n + 1).padStart(2, '0')}.wav`, { sampleRate: 48_000, channels: [samples] });
  });
}

test('a film of the work: thirteen files, four layers, a guide, a loop, a twin, a family, repairs, two deliveries', async ({ page }) => {
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));
  const layers = page.getByRole('region', { name: /^Layer / });

  await test.step('thirteen files, sorted together', async () => {
    await newProject(page);
    const files = [wavFile('Knock.wav', knock()), wavFile('Hiss.wav', hiss()), wavFile('Tap.wav', tap()), ...grains()];
    await page.getByTestId('import-input').setInputFiles(files);
    await expect(page.getByText('13 of 13', { exact: true })).toBeVisible();
    await page.getByRole('searchbox', { name: 'Search sources' }).fill('grain');
    await expect(page.locator('.row')).toHaveCount(10);
    await page.getByRole('listitem', { name: 'Snow grain 01' }).click();
    await page.keyboard.press('Control+a');
    await expect(page.getByText('10 sources chosen')).toBeVisible();
    await page.getByLabel('Add tags').fill('snow, step');
    await page.getByLabel('Add tags').press('Enter');
    await expect(undoName(page)).toContainText('Tags of 10 sources');
    await page.getByRole('searchbox', { name: 'Search sources' }).fill('');
  });

  await test.step('four layers at once', async () => {
    await page.getByRole('listitem', { name: 'Knock' }).click();
    await page.getByRole('listitem', { name: 'Tap' }).click({ modifiers: ['Control'] });
    await page.getByRole('listitem', { name: 'Snow grain 01' }).click({ modifiers: ['Control'] });
    await page.getByRole('listitem', { name: 'Snow grain 02' }).click({ modifiers: ['Control'] });
    await expect(page.getByText('4 sources chosen')).toBeVisible();
    await page.getByRole('button', { name: 'Place each' }).click();
    await expect(layers).toHaveCount(4);
    await expect(page.locator('tc-clip')).toHaveCount(4);
  });

  await test.step('a guide to work along with', async () => {
    await page.getByPlaceholder('Sources').fill('hiss');
    await page.locator('tc-source-shelf .row').first().focus();
    await page.keyboard.press('g');
    await expect(page.getByRole('region', { name: 'Guide' })).toContainText('Hiss');
    await page.getByPlaceholder('Sources').fill('');
  });

  await test.step('one clip loops, another is ducked so that the knock comes through', async () => {
    await page.getByRole('region', { name: 'Layer Snow grain 02' }).locator('tc-clip').click();
    await page.keyboard.press('e');
    await page.getByRole('button', { name: 'Loop', exact: true }).last().click();
    await expect(undoName(page)).toContainText(/[Ll]oop/);
    await page.getByRole('region', { name: 'Layer Knock' }).locator('tc-clip').click();
    await page.keyboard.press('o');
    const depth = page.getByRole('slider', { name: 'Depth' });
    await depth.focus();
    await page.keyboard.type('-12');
    await page.keyboard.press('Enter');
    await expect(depth).toHaveAttribute('aria-valuetext', '−12.0 dB');
    await page.getByRole('button', { name: 'Carve', exact: true }).last().click();
    await expect(undoName(page)).toContainText('Carve');
    await expect(page.getByText('−12.0 dB').first()).toBeVisible();
  });

  await test.step('a twin, made different: a band lifted and its output matched', async () => {
    await page.getByLabel('Choose a sound').click();
    await page.getByRole('menuitem', { name: 'Duplicate “Sound 1”' }).click();
    await menuClosed(page);
    await expect(page.getByRole('button', { name: /^Sound: Sound 1 copy/ })).toBeVisible();
    await page.getByRole('region', { name: 'Layer Knock' }).click();
    await page.getByRole('button', { name: 'Add an effect', exact: true }).click();
    await page.getByLabel('Find an effect').fill('drive');
    await page.keyboard.press('Enter');
    await menuClosed(page);
    await expect(page.getByRole('img', { name: 'What comes out for what goes in' })).toBeVisible();
    await page.getByRole('button', { name: 'Match output' }).click();
    await expect(page.locator('tc-output-match')).toContainText(/was [+−]\d|equally loud/);
    // By the menu of its dial, the gain of a layer is let vary.
    await page.getByRole('slider', { name: 'Layer gain' }).click({ button: 'right' });
    await page.getByRole('menuitem', { name: 'Let it vary between siblings' }).click();
    await expect(undoName(page)).toContainText('vary');
  });

  await test.step('a family of the twin, all kept', async () => {
    await openView(page, 'Kin');
    await page.getByRole('button', { name: 'Make eight siblings' }).click();
    await page.getByRole('button', { name: 'Clear', exact: true }).click();
    await expect(page.locator('article .facts')).toHaveCount(8);
    await page.keyboard.press('Shift+K');
    await expect(page.getByText('8 kept')).toBeVisible();
  });

  const family = await test.step('the family is delivered', async () => {
    await handOffSound(page);
    return unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  });

  const single = await test.step('the first sound clips, is repaired and delivered', async () => {
    await openView(page, 'Loft');
    await page.getByLabel('Choose a sound').click();
    await page.getByRole('menuitem', { name: 'Sound 1', exact: true }).click();
    await menuClosed(page);
    await page.getByRole('region', { name: 'Layer Tap' }).click();
    await page.getByRole('slider', { name: 'Layer gain' }).focus();
    await page.keyboard.type('24');
    await page.keyboard.press('Enter');
    await handOffSound(page);
    await page.getByRole('button', { name: 'Pre-flight' }).click();
    await page.getByRole('button', { name: /^Turn down by/ }).click();
    await expect(page.getByText(/samples clip/)).toHaveCount(0);
    return unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  });

  await test.step('outside readers agree with what the manifests say', () => {
    const read = (entries: Record<string, Uint8Array>) => ({
      entries,
      manifest: manifestSchema.parse(JSON.parse(new TextDecoder().decode(entries['manifest.json']))),
    });
    const [first, second] = [read(family), read(single)];
    expect(first.manifest.files.length).toBe(9);
    expect(second.manifest.files.length).toBe(1);
    for (const { entries, manifest } of [first, second])
      for (const file of manifest.files) {
        const { audio } = readWav(entries[file.file]!);
        expect(audio.channels[0]).toHaveLength(file.frames);
        expect(seconds(entries[file.file]!)).toBeCloseTo(file.seconds, 2);
        // The guide is in none of them: its 0.4 s of hiss would be heard on both sides and differently.
        expect(audio.channels[0]!.some((sample) => Math.abs(sample) > 0.01)).toBe(true);
        expect(difference(audio.channels)).toBeLessThan(1e-6);
      }
    expect(second.manifest.files[0]!.truePeakDbtp).toBeLessThan(-0.9);
  });
  expect(problems).toEqual([]);
});

/** The largest difference between both sides: everything here but the guide is mono in the middle. */
function difference([left, right]: readonly Float32Array[]): number {
  return left!.reduce((most, sample, i) => Math.max(most, Math.abs(sample - right![i]!)), 0);
}

/** How long a file is, in the words of sox where it is installed. */
function seconds(wav: Uint8Array): number {
  const file = join(mkdtempSync(join(tmpdir(), 'halda-')), 'file.wav');
  writeFileSync(file, wav);
  try {
    return Number(execFileSync('soxi', ['-D', file], { stdio: ['ignore', 'pipe', 'ignore'] }).toString());
  } catch {
    const { audio } = readWav(wav);
    return audio.channels[0]!.length / audio.sampleRate;
  }
}
