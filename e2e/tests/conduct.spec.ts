import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import type { LogEntry } from '@tangled-choir/core';
import { effectCatalogue, prepareHashing, readWav, unpackArchive } from '@tangled-choir/core';
import { graveFaults } from '../accessibility';
import { wavFile } from '../recordings';
import { choose, download, exportProject, menuClosed, newProject, openDemo, openView, undoAndRedo, undoName } from '../steps';

const call = (page: Page, name: string) => page.getByRole('button', { name: `Call ${name}`, exact: true });
const row = (page: Page, name: string) => page.getByRole('treeitem').filter({ has: page.getByText(name, { exact: true }) });

async function openConduct(page: Page): Promise<void> {
  await openDemo(page);
  await openView(page, 'Conduct');
  // What behaviours play is rendered first.
  await expect(page.getByRole('button', { name: 'Play Walk to the drill' })).toBeEnabled();
  await expect(page.getByRole('button', { name: 'Write the files for the game' })).toBeEnabled();
}

async function showLog(page: Page): Promise<void> {
  await page.getByRole('tab', { name: 'Log' }).click();
}

const logLines = (page: Page, kind: string) => page.getByRole('list', { name: 'Log' }).locator(`.${kind}`);

async function set(page: Page, name: string, value: string): Promise<void> {
  await page.getByRole('slider', { name, exact: true }).focus();
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
}

test('behaviours are tried, and what was heard is decided and sounds the same by the command line', async ({ page }, info) => {
  await openConduct(page);
  await showLog(page);
  await call(page, 'Wind').click();
  await expect(logLines(page, 'play').filter({ hasText: 'Ridge' })).toHaveCount(1);
  for (let step = 1; step <= 5; step++) {
    await call(page, 'Steps on snow').click();
    await expect(logLines(page, 'play').filter({ hasText: 'On crust' })).toHaveCount(step);
  }
  await set(page, 'Powder', '0.9');
  await set(page, 'Wind', '25');
  await call(page, 'Steps on snow').click();
  await expect(logLines(page, 'play').filter({ hasText: 'In powder' })).toHaveCount(1);
  await call(page, 'Core drill').click();
  await expect(logLines(page, 'play').filter({ hasText: /^[\d.]+ *play *Run/ })).toHaveCount(1);
  await expect.poll(async () => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'))).toBeGreaterThan(-50);
  await expect(page.getByTestId('short-term')).toHaveText(/^−\d/);
  await row(page, 'Steps on snow').click();
  await expect(page.getByTestId('repeats')).toContainText('6 played');
  await page.getByRole('button', { name: 'Stop Core drill' }).click();
  await expect(logLines(page, 'play').filter({ hasText: /play *Stop:/ })).toHaveCount(1);
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Run the simulator' })).toBeVisible();

  const log: unknown = JSON.parse(
    new TextDecoder().decode(await download(page, () => page.getByRole('button', { name: 'Save the log as JSON' }).click())),
  );
  await page.getByRole('button', { name: 'Keep these moves' }).click();
  await expect(undoName(page)).toHaveAccessibleName(/Keep script “Script 2”/);
  await page.getByRole('button', { name: 'Record Script 2' }).click();
  await expect(page.getByText('“Script 2” is in Gather.')).toBeVisible();

  const [file, out, wav] = ['halda.choir', 'log.json', 'heard.wav'].map((name) => info.outputPath(name));
  const archive = await exportProject(page);
  writeFileSync(file!, archive);
  execFileSync(process.execPath, ['scripts/choir.mjs', 'conduct', file!, '--script', 'Script 2', '--log', out!, '--out', wav!]);
  const again = JSON.parse(readFileSync(out!, 'utf8')) as LogEntry[];
  expect(again.length).toBeGreaterThan(20);
  expect(again).toEqual(log);

  // What was recorded in the browser is, sample by sample, what the command line hears.
  await prepareHashing();
  const { project, audio } = await unpackArchive(archive, effectCatalogue, 'halda.choir');
  const recorded = readWav(audio.get(project.sources.find(({ name }) => name === 'Script 2')!.audio)!).audio;
  const heard = readWav(new Uint8Array(readFileSync(wav!))).audio;
  expect(recorded.channels).toHaveLength(2);
  expect(recorded.channels[0]!.findIndex((sample) => Math.abs(sample) > 0.01)).toBeGreaterThanOrEqual(0);
  recorded.channels.forEach((samples, c) => {
    expect(samples.length).toBe(heard.channels[c]!.length);
    expect(samples.findIndex((sample, i) => sample !== heard.channels[c]![i])).toBe(-1);
  });
});

test('a tree is built, changed while it runs, and undone', async ({ page }) => {
  await newProject(page);
  const tone = (hertz: number) =>
    wavFile(`Tone ${hertz}.wav`, {
      sampleRate: 48_000,
      channels: [Float32Array.from({ length: 9_600 }, (_, i) => 0.25 * Math.sin((2 * Math.PI * hertz * i) / 48_000))],
    });
  for (const hertz of [400, 900]) {
    await page.getByTestId('import-input').setInputFiles([tone(hertz)]);
    await openView(page, 'Gather');
    await page.getByRole('listitem', { name: `Tone ${hertz}` }).click();
    if (hertz === 900) {
      await openView(page, 'Loft');
      await page.getByLabel('Choose a sound').click();
      await page.getByRole('menuitem', { name: 'New sound' }).click();
      await menuClosed(page);
      await openView(page, 'Gather');
      await page.getByRole('listitem', { name: `Tone ${hertz}` }).click();
    }
    await page.getByRole('button', { name: 'Place in Loft' }).first().click();
    await expect(page.locator('tc-clip')).toHaveCount(1);
    await openView(page, 'Gather');
  }
  await openView(page, 'Conduct');
  await expect(page.getByText('How should this sound in a game?')).toBeVisible();
  const add = async (button: string, ...items: (string | RegExp)[]): Promise<void> => {
    await page.getByRole('button', { name: button, exact: true }).click();
    for (const item of items) await page.getByRole('menuitem', { name: item }).click();
    await menuClosed(page);
  };
  await add('Behaviour', /^Pick/);
  await expect(row(page, 'Pick')).toHaveAttribute('aria-selected', 'true');
  for (const place of [0, 1]) {
    await page.getByRole('button', { name: 'into Pick', exact: true }).click();
    await page.getByRole('menuitem', { name: 'A sound of this project' }).click();
    await page.getByRole('menu').last().getByRole('menuitem').nth(place).click();
    await menuClosed(page);
  }
  await expect(page.getByRole('treeitem')).toHaveCount(3);
  const sounds = await page
    .locator('tc-behaviour-tree .title')
    .allTextContents()
    .then(([, ...names]) => names);
  await expect(page.getByRole('treeitem').nth(1)).toHaveAttribute('aria-level', '2');

  await showLog(page);
  for (let n = 1; n <= 4; n++) {
    await call(page, 'Pick').click();
    await expect(logLines(page, 'play')).toHaveCount(n);
  }
  await page.getByRole('button', { name: 'Hold the simulator' }).click();
  const texts = await logLines(page, 'play').allTextContents();
  const played = texts.map((text) => sounds.find((name) => text.includes(name)));
  // Never the same one twice in a row.
  for (let n = 1; n < 4; n++) expect(played[n]).not.toBe(played[n - 1]);

  await test.step('a change holds at once', async () => {
    await row(page, 'Pick').click();
    await page.getByRole('tab', { name: 'Settings' }).click();
    await set(page, 'Level', '-12');
    await showLog(page);
    await call(page, 'Pick').click();
    await expect(logLines(page, 'play').first()).toContainText('-12.0 dB');
  });

  await test.step('keys go through the rows, copy, move and remove', async () => {
    await row(page, 'Pick').click();
    await page.keyboard.press('ArrowDown');
    await expect(page.getByRole('treeitem').nth(1)).toHaveAttribute('aria-selected', 'true');
    await page.keyboard.press('Alt+ArrowDown');
    await expect(page.getByRole('treeitem').nth(2)).toContainText(sounds[0]!);
    await page.keyboard.press('Control+d');
    await expect(page.getByRole('treeitem')).toHaveCount(4);
    await page.keyboard.press('Delete');
    await expect(page.getByRole('treeitem')).toHaveCount(3);
    await undoAndRedo(page, 3);
    await undoName(page).click();
    await expect(page.getByRole('treeitem')).toHaveCount(4);
  });

  await test.step('a parameter that is removed leaves no curve behind', async () => {
    await page.getByRole('tab', { name: 'Parameters' }).click();
    await page.getByRole('button', { name: '+ Parameter' }).click();
    await row(page, 'Pick').click();
    await page.getByRole('tab', { name: 'Pulled' }).click();
    await page.getByRole('button', { name: '+ Draw a curve' }).click();
    const curve = page.getByRole('group', { name: 'Parameter 1 pulls level' });
    await expect(curve.getByRole('slider')).toHaveCount(2);
    await curve.getByRole('slider').first().focus();
    await page.keyboard.press('ArrowDown');
    await expect(undoName(page)).toHaveAccessibleName(/Pull Level of “Pick”/);
    await page.getByRole('tab', { name: 'Parameters' }).click();
    await page.getByRole('button', { name: 'Remove Parameter 1' }).click();
    await page.getByRole('tab', { name: 'Pulled' }).click();
    await expect(curve).toHaveCount(0);
    await undoName(page).click();
    await expect(curve).toBeVisible();
  });
});

test('the listener and what has a place are moved on the plan', async ({ page }) => {
  await openConduct(page);
  const listener = page.getByRole('button', { name: 'Listener' });
  const drill = page.getByRole('button', { name: /^Core drill, .* away$/ });
  await expect(drill).toHaveAccessibleName('Core drill, 13.0 m away');
  await listener.focus();
  // Two metres east: from (0, 0) to (2, 0), the drill at (11, 7).
  for (let step = 0; step < 4; step++) await page.keyboard.press('ArrowRight');
  await expect(drill).toHaveAccessibleName('Core drill, 11.4 m away');
  const box = (await drill.locator('.core').boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x - 30, box.y + 20, { steps: 4 });
  await page.mouse.up();
  await expect(undoName(page)).toHaveAccessibleName(/Place of “Core drill”/);
  await expect(drill).not.toHaveAccessibleName('Core drill, 11.4 m away');
  await undoName(page).click();
  await expect(drill).toHaveAccessibleName('Core drill, 11.4 m away');

  await test.step('and walk along a way that is drawn by keys or by hand', async () => {
    await page.getByRole('button', { name: 'Draw a way' }).click();
    await set(page, 'Metres a second', '40');
    await listener.focus();
    for (let step = 0; step < 3; step++) await page.keyboard.press('ArrowUp');
    await page.keyboard.press('Enter');
    // Three metres north of (2, 0).
    await expect(drill).toHaveAccessibleName('Core drill, 9.8 m away');
    await expect(listener).toHaveAccessibleDescription(/2\.0 m east, 3\.0 m north, facing 0°/);
    await choose(page.getByRole('combobox', { name: 'How the way is walked' }), 'round');
    const from = (await drill.locator('.core').boundingBox())!;
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
    await page.mouse.down();
    await page.mouse.move(from.x - 60, from.y + 30, { steps: 8 });
    await page.mouse.up();
    await expect(page.getByRole('button', { name: 'Stand still' })).toBeVisible();
    await expect(drill).not.toHaveAccessibleName('Core drill, 9.8 m away');
    // It is where it walks, not elsewhere in the document.
    await expect(undoName(page)).not.toHaveAccessibleName(/Place/);
    await page.getByRole('button', { name: 'Stand still' }).click();
    await expect(page.getByRole('button', { name: 'Stand still' })).toHaveCount(0);
    await page.getByRole('button', { name: 'Hold the simulator' }).click();
    await page.getByRole('button', { name: 'Keep these moves' }).click();
    await expect(undoName(page)).toHaveAccessibleName(/Keep script/);
  });

  await test.step('a room around a bus, its compressor, and how the drill falls off, are drawn and undone', async () => {
    await page.getByRole('tab', { name: 'Buses' }).click();
    await page.getByRole('button', { name: 'Room around Radio' }).click();
    await set(page, 'Decay of the room, Radio', '20');
    await expect(page.getByRole('slider', { name: 'Decay of the room, Radio' })).toHaveAttribute('aria-valuetext', /^12/);
    await page.getByRole('button', { name: 'Compressor of Outside' }).click();
    await set(page, 'Ratio of the compressor, Outside', '500');
    await expect(page.getByRole('slider', { name: 'Ratio of the compressor, Outside' })).toHaveAttribute('aria-valuetext', /^100/);
    await choose(page.getByRole('combobox', { name: 'Goes into, Radio' }), 'Outside');
    // It would come back to itself.
    await page.getByRole('combobox', { name: 'Goes into, Outside' }).click();
    await expect(page.getByRole('option')).toHaveText(['all']);
    await page.keyboard.press('Escape');
    await row(page, 'Core drill').click();
    await page.getByRole('tab', { name: 'Distance' }).click();
    await choose(page.getByRole('combobox', { name: 'Falls off' }), 'as it is drawn');
    const points = page.getByRole('group', { name: 'Level over distance' }).getByRole('slider');
    await expect(points).toHaveCount(6);
    await points.nth(2).focus();
    await page.keyboard.press('Delete');
    await expect(points).toHaveCount(5);
    await undoAndRedo(page, 6);
  });
});

test('Conduct has no accessibility faults', async ({ page }) => {
  await openConduct(page);
  expect(await graveFaults(page)).toEqual([]);
  for (const tab of ['Pulled', 'Distance', 'Parameters', 'Buses', 'Moods', 'Load groups', 'Log']) {
    await page.getByRole('tab', { name: tab }).click();
    expect(await graveFaults(page, 'tc-conduct-view')).toEqual([]);
  }
});
