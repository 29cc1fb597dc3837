import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { createRandom, effectCatalogue, readWav, unpackArchive } from '@tangled-choir/core';
import { zipSync } from 'fflate';
import type { UploadFile } from '../recordings';
import { hiss, tap, wavFile } from '../recordings';
import { chooseSource, exportProject, newProject, openDemo, openView, undoAndRedo, undoName } from '../steps';

const formats = ['aiff', 'flac', 'ogg', 'opus', 'mp3'] as const;
const fixture = (format: string): Buffer => readFileSync(new URL(`../fixtures/tap.${format}`, import.meta.url));
const upload = (name: string, buffer: Buffer): UploadFile => ({ name, mimeType: 'application/octet-stream', buffer });

/** Largest normalised correlation of two signals over shifts up to 80 ms: codecs add a little silence in front. */
function likeness(a: Float32Array, b: Float32Array): number {
  let best = 0;
  for (let shift = -3_840; shift <= 3_840; shift++) {
    let product = 0;
    let powerA = 0;
    let powerB = 0;
    for (let i = Math.max(0, -shift); i < Math.min(a.length, b.length - shift); i += 3) {
      product += a[i]! * b[i + shift]!;
      powerA += a[i]! ** 2;
      powerB += b[i + shift]! ** 2;
    }
    if (powerA > 0 && powerB > 0) best = Math.max(best, product / Math.sqrt(powerA * powerB));
  }
  return best;
}

test('imports five formats, a zip with folders, and names what is wrong with the rest', async ({ page }) => {
  await newProject(page);
  const zip = zipSync({ 'Halda day 2/ice/hiss.wav': wavFile('', hiss()).buffer, 'Halda day 2/notes.txt': Buffer.from('cold') });
  await page
    .getByTestId('import-input')
    .setInputFiles([
      ...formats.map((format) => upload(`tap.${format}`, fixture(format))),
      upload('day 2.zip', Buffer.from(zip)),
      upload('letter.mp3', Buffer.from('Dear Halda, this is not a recording at all.')),
    ]);
  await expect(page.getByText('6 of 6')).toBeVisible();
  await expect(page.getByRole('alert')).toContainText('“letter.mp3” is in no format that can be read');
  await expect(undoName(page)).toContainText('Import 6 sources');
  // Folders became tags, and words find them.
  await page.getByRole('searchbox', { name: 'Search sources' }).fill('day 2 ice');
  await expect(page.locator('.row')).toHaveCount(1);
  await page.getByRole('searchbox', { name: 'Search sources' }).fill('');

  const { project, audio } = await unpackArchive(await exportProject(page), effectCatalogue);
  const original = tap().channels[0]!;
  for (const [i, format] of formats.entries()) {
    const source = project.sources[i]!;
    const samples = readWav(audio.get(source.audio)!).audio.channels[0]!;
    expect(source.origin.file).toBe(`tap.${format}`);
    // What is lossless comes in sample by sample; the others sound alike.
    if (format === 'aiff' || format === 'flac') expect(samples).toEqual(original);
    else expect(likeness(original, samples)).toBeGreaterThan(0.97);
  }
  expect(project.sources[5]).toMatchObject({ name: 'hiss', tags: ['halda day 2', 'ice'] });
});

/** A WAV file in µ-law (ITU-T G.711), which our own reader does not know. */
function muLawFile(samples: Float32Array): Buffer {
  const header = Buffer.alloc(44);
  header.write('RIFF', 0);
  header.writeUInt32LE(36 + samples.length, 4);
  header.write('WAVEfmt ', 8);
  header.writeUInt32LE(16, 16);
  header.writeUInt16LE(7, 20);
  header.writeUInt16LE(1, 22);
  header.writeUInt32LE(48_000, 24);
  header.writeUInt32LE(48_000, 28);
  header.writeUInt16LE(1, 32);
  header.writeUInt16LE(8, 34);
  header.write('data', 36);
  header.writeUInt32LE(samples.length, 40);
  const body = Uint8Array.from(samples, (sample) => {
    const sign = sample < 0 ? 0x80 : 0;
    const level = Math.min(32_635, Math.abs(Math.round(sample * 32_767))) + 132;
    const exponent = Math.floor(Math.log2(level)) - 7;
    return ~(sign | (exponent << 4) | ((level >> (exponent + 3)) & 15)) & 0xff;
  });
  return Buffer.concat([header, body]);
}

test('lets the browser read what our own readers do not know, and says so', async ({ page }) => {
  await newProject(page);
  const samples = tap().channels[0]!.slice(0, 2 * Math.floor(tap().channels[0]!.length / 2));
  await page.getByTestId('import-input').setInputFiles(upload('old phone.wav', muLawFile(samples)));
  await expect(page.getByText('1 of 1')).toBeVisible();
  await expect(page.getByText(/decoded by the browser/).first()).toBeVisible();
  const { project, audio } = await unpackArchive(await exportProject(page), effectCatalogue);
  expect(project.sources[0]!.origin).toMatchObject({ file: 'old phone.wav', encoding: 'decoded by the browser' });
  expect(likeness(samples, readWav(audio.get(project.sources[0]!.audio)!).audio.channels[0]!)).toBeGreaterThan(0.99);
});

test('lives through two hundred files that are cut off anywhere', async ({ page }) => {
  await newProject(page);
  const random = createRandom(31);
  const cut = (['wav', ...formats] as const).flatMap((format) =>
    Array.from({ length: 34 }, (_, i) => {
      const whole = fixture(format);
      return upload(`cut-${format}-${i}.${format}`, whole.subarray(0, Math.floor(random.next() * whole.length * 0.9)));
    }),
  );
  expect(cut.length).toBeGreaterThanOrEqual(200);
  await page.getByTestId('import-input').setInputFiles([...cut, wavFile('whole.wav', tap())]);
  // The intact one is in; of each other there is a source or a sentence.
  await expect(page.getByRole('progressbar', { name: 'Importing' })).toBeHidden({ timeout: 240_000 });
  const failures = await page.locator('.failure').count();
  const counted = /of (\d+)/.exec((await page.locator('.search .number').textContent()) ?? '');
  expect(failures + Number(counted![1])).toBe(cut.length + 1);
  expect(failures).toBeGreaterThan(10);
  for (const text of await page.locator('.failure').allTextContents()) expect(text).toMatch(/“cut-\w+-\d+\.\w+”/);
});

test('finds by character, shows and plays defects, and makes regions', async ({ page }) => {
  await openDemo(page);
  await openView(page, 'Gather');
  await expect(page.getByText(/measuring \d+ more/)).toBeHidden({ timeout: 120_000 });
  await page.getByRole('button', { name: 'slow', exact: true }).click();
  await page.getByRole('button', { name: 'dark', exact: true }).click();
  await expect(page.getByRole('listitem', { name: 'Wind over the ridge' })).toBeVisible();
  await expect(page.getByRole('listitem', { name: 'Crack, thin sheet' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Show all' }).click();

  // A box around the upper right corner of the map: bright and sharp.
  const map = (await page.locator('tc-character-map canvas').boundingBox())!;
  await page.mouse.move(map.x + map.width * 0.55, map.y + 4);
  await page.mouse.down();
  await page.mouse.move(map.x + map.width - 4, map.y + map.height * 0.3, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('listitem', { name: 'Crack, thin sheet' })).toBeVisible();
  await expect(page.getByRole('listitem', { name: 'Wind over the ridge' })).toHaveCount(0);
  await page.keyboard.press('Escape');

  // Another step in snow is more like a step in snow than a beacon is.
  await page.getByRole('listitem', { name: 'Heel crunch 01' }).click();
  await page.getByRole('button', { name: 'Alike', exact: true }).click();
  await expect(page.locator('.row').nth(1)).toHaveAttribute('aria-label', 'Heel crunch 02');
  await page.getByRole('button', { name: 'End the ranking' }).click();

  await chooseSource(page, 'camp');
  const defects = page.getByRole('region', { name: 'Defects' });
  await expect(defects.getByRole('button', { name: /click/ })).toHaveCount(3);
  await expect(defects.getByRole('button', { name: /50 Hz hum/ })).toBeVisible();
  await defects.getByRole('button', { name: /click/ }).first().click();
  await expect.poll(async () => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'))).toBeGreaterThan(-50);

  // Close up, a defect that is clicked comes into view; it is much too short to be seen in the whole.
  await page.keyboard.press('z');
  const closeUp = page.getByRole('region', { name: 'Close-up' });
  await expect(closeUp).toBeVisible();
  await page.keyboard.press('0');
  await expect(closeUp.locator('.picture .defect')).toHaveCount(3);
  await defects.getByRole('button', { name: /click/ }).nth(1).click();
  await expect(closeUp.locator('.picture .defect')).toHaveCount(1);
  const mark = (await closeUp.locator('.picture .defect').boundingBox())!;
  const shown = (await closeUp.locator('.picture').boundingBox())!;
  expect(Math.abs((mark.x + mark.width / 2 - shown.x) / shown.width - 0.5)).toBeLessThan(0.05);
  await page.getByRole('button', { name: 'Character map' }).click();

  const picture = (await page.locator('tc-source-picture').boundingBox())!;
  await page.mouse.move(picture.x + picture.width * 0.25, picture.y + 30);
  await page.mouse.down();
  await page.mouse.move(picture.x + picture.width * 0.5, picture.y + 30, { steps: 4 });
  await page.mouse.up();
  const regions = page.getByRole('region', { name: 'Regions' });
  await expect(regions.getByText('1.50–3.00')).toBeVisible();
  await page.getByRole('button', { name: 'More for this source' }).click();
  await page.getByRole('menuitem', { name: 'Make a source of each region' }).click();
  await expect(page.getByText('Cut from')).toHaveCount(0);
  await chooseSource(page, 'camp · part');
  await expect(page.locator('dl')).toContainText('1.50–3.00');
  await undoAndRedo(page, 2);
});

test('says that there is no microphone, and what to do', async ({ page }) => {
  await newProject(page);
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('There is no microphone: connect one');
  await expect(page.getByRole('button', { name: 'Try again' })).toBeVisible();
});
