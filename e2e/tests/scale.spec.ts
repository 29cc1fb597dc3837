import { expect, test } from '@playwright/test';
import type { Layer, Project, Source } from '@tangled-choir/core';
import { createProject, createRandom, createSound, hashBytes, packArchive, plainStretch, writeWav } from '@tangled-choir/core';
import { openView, undoName } from '../steps';

const sourceCount = 5_000;
const layerCount = 200;
const clipsPerLayer = 10;

/** A project of 5,000 sources, which share one recording, and a sound of 200 layers with 2,000 clips. */
function largeProject(): Promise<Uint8Array> {
  const random = createRandom(4);
  const audio = {
    sampleRate: 48_000,
    channels: [Float32Array.from({ length: 24_000 }, (_, i) => Math.exp(-i / 5_000) * (2 * random.next() - 1) * 0.1)],
  };
  const wav = writeWav(audio, { encoding: '16' });
  const hash = hashBytes(wav);
  const sources = Array.from({ length: sourceCount }, (_, i): Source => {
    const folder = `day ${i % 40}`;
    const origin = { file: `${folder}/ice-${i}.wav`, sampleRate: 48_000, encoding: '16 bit' };
    const rest = { audio: hash, frames: 24_000, channels: 1, role: 'Grit' as const, notes: '', regions: [], cues: [], origin };
    return { kind: 'recording', id: `source-${i + 1}`, name: `Ice ${i}`, tags: ['ice', folder], ...rest };
  });
  let counter = sourceCount;
  const layers = Array.from({ length: layerCount }, (_, l): Layer => {
    const clips = Array.from({ length: clipsPerLayer }, (__, c) => ({
      id: `clip-${++counter}`,
      source: `source-${1 + l * clipsPerLayer + c}`,
      start: c * 2 + random.next(),
      offset: 0,
      length: 0.5,
      gain: 0,
      speed: 0,
      ...plainStretch,
      reversed: false,
      fadeIn: { length: 0, shape: 's-curve' as const },
      fadeOut: { length: 0.005, shape: 's-curve' as const },
      locked: false,
    }));
    const rest = { role: 'Grit' as const, gain: -20, pan: 0, muted: false, soloed: false, sends: [], overlaps: 'sum' as const, chain: [] };
    return { id: `layer-${++counter}`, name: `Layer ${l + 1}`, clips, ...rest };
  });
  const sound = { ...createSound(`sound-${++counter}`, 'Avalanche'), layers };
  const project: Project = { ...createProject('halda-large', 'Halda, large'), sources, sounds: [sound], counter };
  return packArchive(project, new Map([[hash, wav]]));
}

test('stays workable with 200 layers, 2,000 clips and 5,000 sources', async ({ page }) => {
  await page.goto('/');
  const file = { name: 'large.choir', mimeType: 'application/zip', buffer: Buffer.from(await largeProject()) };
  await page.getByTestId('archive-input').setInputFiles(file);
  await expect(page.locator('.lane')).toHaveCount(layerCount);
  // Only what is near the view is in the page, at the top and further down.
  expect(await page.locator('tc-clip').count()).toBeLessThan(400);
  await expect(page.getByRole('button', { name: 'Mute Layer 150' })).toHaveCount(0);
  await page.locator('tc-timeline .scroller').evaluate((scroller) => (scroller.scrollTop = 149 * 58));
  await expect(page.getByRole('button', { name: 'Mute Layer 150' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Mute Layer 1', exact: true })).toHaveCount(0);

  const clip = page.getByRole('region', { name: 'Layer Layer 150', exact: true }).locator('tc-clip').nth(2);
  const before = (await clip.boundingBox())!;
  await page.mouse.move(before.x + before.width / 2, before.y + 20);
  await page.mouse.down();
  await page.mouse.move(before.x + before.width / 2 + 40, before.y + 20, { steps: 8 });
  await page.mouse.up();
  await expect(undoName(page)).toContainText('Move “Ice 1492”');
  expect((await clip.boundingBox())!.x).toBeGreaterThan(before.x + 25);

  await openView(page, 'Gather');
  await expect(page.getByText('5000 of 5000')).toBeVisible();
  expect(await page.locator('.row').count()).toBeLessThan(60);
  await page.getByRole('searchbox', { name: 'Search sources' }).fill('day 7 ice 4967');
  await expect(page.getByText('1 of 5000')).toBeVisible();
  await expect(page.locator('.row')).toHaveCount(1);
});
