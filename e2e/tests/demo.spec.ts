import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { effectCatalogue, manifestSchema, planSound, readWav, unpackArchive, renderContext, renderItem } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { graveFaults } from '../accessibility';
import { knock, wavFile } from '../recordings';
import { choose, download, handOffSound, menuClosed, openDemo, openView } from '../steps';

test('the demo opens with its layers and renders in the browser as it does on the command line', async ({ page }) => {
  await openDemo(page);
  expect(await page.locator('.lane').count()).toBeGreaterThanOrEqual(8);
  await expect(page.locator('.flag')).toHaveText([/Crack/, /Slab lets go/, /Water rises/]);

  await handOffSound(page);
  await choose(page.getByLabel('Depth'), '32 bit float');
  const zip = await download(page, () => page.getByRole('button', { name: 'Write zip' }).click());
  const entries = unzipSync(zip);
  const manifest = manifestSchema.parse(JSON.parse(new TextDecoder().decode(entries['manifest.json'])));
  const browser = readWav(entries[manifest.files[0]!.file]!).audio;

  const { project, audio } = await unpackArchive(
    new Uint8Array(readFileSync(new URL('../../dist/halda-station.choir', import.meta.url))),
    effectCatalogue,
  );
  const library = new Map([...audio].map(([hash, wav]) => [hash, readWav(wav).audio]));
  const settings = { ...project.deliveries[0]!, encoding: '32f' as const };
  const item = planSound(project, project.sounds[0]!, settings, effectCatalogue)[0]!;
  const node = renderItem(item, settings, renderContext(project, library)).audio;
  // Twice the same, bit for bit.
  expect(renderItem(item, settings, renderContext(project, library)).audio.channels).toEqual(node.channels);
  expect(manifest.files[0]!.recipe).toBe(item.recipe);
  expect(browser.channels[0]).toHaveLength(node.channels[0]!.length);
  let difference = 0;
  let size = 0;
  node.channels.forEach((channel, c) => {
    for (let i = 0; i < channel.length; i++) {
      difference += (channel[i]! - browser.channels[c]![i]!) ** 2;
      size += channel[i]! ** 2;
    }
  });
  expect(10 * Math.log10(difference / size + 1e-30)).toBeLessThan(-120);
});

test('a project leaves as a .choir file and comes back; damaged files are refused by name', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'Mute Boom' }).click();
  await page.getByRole('button', { name: 'Project menu' }).click();
  const archive = await download(page, () => page.getByRole('menuitem', { name: 'Export as .choir' }).click());
  await page.getByRole('link', { name: 'All projects' }).first().click();
  await expect(page.getByRole('listitem')).toHaveCount(1);

  const input = page.getByTestId('archive-input');
  const file = (name: string, bytes: Uint8Array) => ({ name, mimeType: 'application/zip', buffer: Buffer.from(bytes) });
  const damaged = archive.slice();
  damaged[Math.floor(damaged.length / 2)]! ^= 0xff;
  for (const [name, bytes, message] of [
    ['text.choir', new TextEncoder().encode('no archive at all, just text'), '“text.choir” is not a .choir archive'],
    ['cut.choir', archive.slice(0, 5_000), 'cut.choir'],
    ['damaged.choir', damaged, 'was altered'],
  ] as const) {
    await input.setInputFiles(file(name, bytes));
    await expect(page.locator('mat-snack-bar-container').last()).toContainText(message);
    await page.getByRole('button', { name: 'Dismiss' }).click();
    await expect(page.getByRole('listitem')).toHaveCount(1);
  }

  await input.setInputFiles(file('halda.choir', archive));
  await expect(page.getByRole('button', { name: 'Mute Boom' })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('link', { name: 'All projects' }).first().click();
  await expect(page.getByRole('listitem')).toHaveCount(2);
});

test('every file that cannot be imported is named with its reason, the rest is imported', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  const good = wavFile('“ice” 🧊 /crack.wav', knock());
  const named = (name: string, buffer: Buffer) => ({ name, mimeType: 'audio/wav', buffer });
  const zeroChannels = Buffer.from(good.buffer);
  zeroChannels.writeUInt16LE(0, 22);
  await page
    .getByTestId('import-input')
    .setInputFiles([
      good,
      named('empty.wav', Buffer.alloc(0)),
      named('cut.wav', good.buffer.subarray(0, 40)),
      named('zero.wav', zeroChannels),
      named('half.wav', good.buffer.subarray(0, 20_000)),
      named(`${'long'.repeat(60)}.wav`, good.buffer),
    ]);
  const report = page.getByRole('alert');
  await expect(report).toContainText('“empty.wav” is empty');
  await expect(report).toContainText('“cut.wav” has no “data” chunk');
  await expect(report).toContainText('“zero.wav” declares zero channels');
  await expect(report).toContainText('half.wav: The header promises');
  await expect(page.locator('.row')).toHaveCount(3);
});

test('keys alone: build, undo, and find the shortcuts', async ({ page }) => {
  await openDemo(page);
  const clip = page.locator('[aria-label^="Clip Fall sweep"]');
  await clip.focus();
  const before = Number(/at ([\d.]+) s/.exec((await clip.getAttribute('aria-label')) ?? '')?.[1]);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(clip).toHaveAttribute('aria-label', new RegExp(`at ${(before + 0.011).toFixed(3)} s`));
  await page.keyboard.press('d');
  await expect(page.locator('[aria-label^="Clip Fall sweep"]')).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(clip).toHaveAttribute('aria-label', new RegExp(`at ${before.toFixed(3)} s`));
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeHidden();
  await page.keyboard.press('Alt+3');
  await expect(page.getByRole('button', { name: 'Re-roll the rest' })).toBeVisible();
});

test('drags: lanes into another order, tiles along the chain, files into Gather', async ({ page }) => {
  await openDemo(page);
  const lanes = async (): Promise<string[]> =>
    page.locator('.lane').evaluateAll((all) => all.map((lane) => lane.getAttribute('aria-label') ?? ''));
  const before = await lanes();
  await page
    .getByRole('button', { name: /^Role of Sharp crack/ })
    .dragTo(page.getByRole('region', { name: 'Layer Ice shimmer' }), { targetPosition: { x: 600, y: 10 } });
  await expect.poll(async () => (await lanes())[0]).toBe('Layer Sharp crack');
  await page.keyboard.press('Control+z');
  await expect.poll(lanes).toEqual(before);

  await page.getByRole('region', { name: 'Layer Slab body' }).click({ position: { x: 700, y: 10 } });
  const tile = page.locator('.tile');
  await expect(tile.first()).toContainText('EQ');
  const from = (await tile.nth(1).boundingBox())!;
  const to = (await tile.first().boundingBox())!;
  await page.mouse.move(from.x + 50, from.y + 18);
  await page.mouse.down();
  await page.mouse.move(from.x + 30, from.y + 18, { steps: 4 });
  await page.mouse.move(to.x + 5, to.y + 18, { steps: 10 });
  await page.mouse.up();
  await expect(tile.first()).toContainText('Compressor');

  await openView(page, 'Gather');
  const file = wavFile('dropped-knock.wav', knock());
  const data = await page.evaluateHandle(
    (bytes) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([new Uint8Array(bytes)], 'dropped-knock.wav', { type: 'audio/wav' }));
      return transfer;
    },
    [...file.buffer],
  );
  await page.locator('tc-gather-view').dispatchEvent('dragover', { dataTransfer: data });
  await expect(page.getByText('Drop to import')).toBeVisible();
  await page.locator('tc-gather-view').dispatchEvent('drop', { dataTransfer: data });
  await expect(page.getByText('25 of 25')).toBeVisible();
});

for (const colorScheme of ['dark', 'light'] as const) {
  test(`the views have no accessibility faults in the ${colorScheme} theme`, async ({ page }) => {
    await page.emulateMedia({ colorScheme });
    await openDemo(page);
    const check = async (view: string): Promise<void> => {
      expect(await graveFaults(page), view).toEqual([]);
    };
    await check('Loft');
    // With everything open that can be: a group, a shared bus, a lane with points and bends.
    await page.getByRole('button', { name: 'More for Sharp crack', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Group this layer…' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill('Cracks');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'More for Ice shimmer', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Send to' }).click();
    await page.getByRole('menuitem', { name: 'A new shared bus…' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill('Cavern');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Automation of Ice shimmer' }).click();
    await page.getByRole('menuitem', { name: 'Gain', exact: true }).click();
    await menuClosed(page);
    const strip = (await page.getByRole('group', { name: 'Automation of Ice shimmer: gain' }).boundingBox())!;
    await page.mouse.dblclick(strip.x + 300, strip.y + 60);
    await expect(page.locator('tc-automation-strip .point')).toHaveCount(2);
    await check('Loft with groups and lanes');
    await page.getByLabel('Choose a sound').click();
    await page.getByRole('menuitem', { name: 'Snow step' }).click();
    await openView(page, 'Gather');
    await expect(page.locator('.row').first()).toBeVisible();
    await check('Gather');
    await page.keyboard.press('z');
    const picture = (await page.locator('tc-close-up .picture').boundingBox())!;
    await page.mouse.move(picture.x + 100, picture.y + 60);
    await page.mouse.down();
    await page.mouse.move(picture.x + 200, picture.y + 60, { steps: 3 });
    await page.mouse.up();
    await expect(page.getByRole('slider', { name: 'Start of Part 1' })).toBeVisible();
    await check('Gather with a close-up');
    await openView(page, 'Kin');
    await expect(page.getByRole('listitem', { name: /^Sibling/ })).toHaveCount(16);
    await check('Kin');
    await openView(page, 'Hand-off');
    await expect(page.getByText('Halda-Station_Slab-break_whole.wav')).toBeVisible();
    await check('Hand-off');
  });
}
