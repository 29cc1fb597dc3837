import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { readMidi, readWav, writeMidiFile } from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { graveFaults } from '../accessibility';
import { levelAt, toneLevel } from '../measure';
import { bellFile, silentFile, wavFile } from '../recordings';
import {
  choose,
  chooseSource,
  deliveredOriginal,
  download,
  handOffSound,
  menuClosed,
  newProject,
  openDemo,
  openView,
  place,
  turn,
  undoAndRedo,
  undoName,
} from '../steps';

const layerOf = (page: Page, name: string) => page.getByRole('region', { name: `Layer ${name}` });
const notesOf = (page: Page, name: string) => page.getByRole('group', { name: `Notes of ${name}. Double click adds one` });

/** Makes a sound of a kind, heard first, and keeps it as a layer. */
async function makeLayer(page: Page, kind: string, preset: string): Promise<void> {
  const dialog = page.getByRole('dialog', { name: 'Make a sound' });
  await dialog.getByRole('radio', { name: kind, exact: true }).click();
  await dialog.getByRole('option', { name: new RegExp(preset) }).click();
  await dialog.getByRole('button', { name: `Keep “${preset}” as a layer` }).click();
  await expect(layerOf(page, preset).locator('tc-clip').first()).toBeVisible();
}

test('a beacon from nothing: made, its notes edited, its patch turned, delivered, and there again after a reload', async ({ page }) => {
  await newProject(page);
  await page.getByRole('button', { name: 'Make something' }).click();
  await makeLayer(page, 'beacon', 'Beacon');
  await expect(undoName(page)).toHaveAccessibleName(/Made layer “Beacon”/);

  // It calls every second, at A5.
  let heard = (await deliveredOriginal(page)).channels[0]!;
  for (const second of [0, 1, 2]) expect(toneLevel(heard, 880, second + 0.1)).toBeGreaterThan(toneLevel(heard, 880, second + 0.7) + 40);

  await test.step('a chime in a fourth and a fifth, in one step', async () => {
    await layerOf(page, 'Beacon').locator('tc-clip').dblclick();
    const field = notesOf(page, 'Beacon');
    await expect(field.getByRole('button')).toHaveCount(3);
    await field.focus();
    await page.keyboard.press('Control+a');
    await page.getByRole('button', { name: 'Add an interval or a chord' }).click();
    await page.getByRole('menuitem', { name: 'Fourth and fifth' }).click();
    await menuClosed(page);
    await expect(field.getByRole('button')).toHaveCount(9);
    heard = (await deliveredOriginal(page)).channels[0]!;
    for (const hertz of [880, 880 * 2 ** (5 / 12), 880 * 2 ** (7 / 12)])
      expect(toneLevel(heard, hertz, 1.1)).toBeGreaterThan(toneLevel(heard, 1_000, 1.1) + 20);
    await undoAndRedo(page, 1);
  });

  await test.step('notes are added by a double click, moved by drags and keys, and deleted', async () => {
    const field = notesOf(page, 'Beacon');
    const first = field.getByRole('button', { name: /^A5 at 0\.000 s/ });
    const box = (await first.boundingBox())!;
    const pixelsPerSecond = (await field.getByRole('button', { name: /^A5 at 1\.000 s/ }).boundingBox())!.x - box.x;
    // A fourth below the others, half a second in.
    await page.mouse.dblclick(box.x + pixelsPerSecond / 2, box.y + box.height * 5.5);
    await expect(field.getByRole('button')).toHaveCount(10);
    const added = field.getByRole('button', { name: /^E5 at 0\.500 s/ });
    await expect(added).toHaveAttribute('aria-pressed', 'true');
    await added.focus();
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('Shift+ArrowUp');
    await page.keyboard.press('ArrowDown');
    const moved = field.getByRole('button', { name: /^E6 at 0\.500 s/ });
    await expect(moved).toBeVisible();
    heard = (await deliveredOriginal(page)).channels[0]!;
    expect(toneLevel(heard, 1_318.5, 0.6)).toBeGreaterThan(-40);
    const grip = (await moved.boundingBox())!;
    await page.mouse.move(grip.x + 4, grip.y + grip.height / 2);
    await page.mouse.down();
    await page.mouse.move(grip.x + 4 + pixelsPerSecond, grip.y + grip.height / 2, { steps: 6 });
    await page.mouse.up();
    await expect(field.getByRole('button', { name: /^E6 at 1\.500 s/ })).toBeVisible();
    await field.getByRole('button', { name: /^E6 at 1\.500 s/ }).focus();
    await page.keyboard.press('Delete');
    await expect(field.getByRole('button')).toHaveCount(9);
    await undoAndRedo(page, 3);
  });

  await test.step('the patch: a part is turned, one is added, one moves the phase of another', async () => {
    await page.getByRole('listitem', { name: /^Call\./ }).click();
    await turn(page, 'Tuning', '-12');
    heard = (await deliveredOriginal(page)).channels[0]!;
    expect(toneLevel(heard, 440, 1.1)).toBeGreaterThan(toneLevel(heard, 880, 1.1) + 10);
    await page.getByRole('button', { name: 'Part', exact: true }).click();
    await page.getByRole('menuitem', { name: /^Oscillator/ }).click();
    await menuClosed(page);
    await turn(page, 'Level', '-96');
    await turn(page, 'Ratio', '4');
    await page.getByRole('button', { name: 'Patch', exact: true }).click();
    await turn(page, 'Call moved by Oscillator', '2');
    await expect(undoName(page)).toHaveAccessibleName(/Modulation/);
    heard = (await deliveredOriginal(page)).channels[0]!;
    // The first sidebands of 440 Hz moved by 3520 Hz.
    expect(toneLevel(heard, 3_520 + 440, 1.1)).toBeGreaterThan(-45);
    await undoAndRedo(page, 2);
  });

  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  const again = (await deliveredOriginal(page)).channels[0]!;
  expect(again.length).toBe(heard.length);
  expect(toneLevel(again, 3_520 + 440, 1.1)).toBeCloseTo(toneLevel(heard, 3_520 + 440, 1.1), 3);
});

test('a sub is made under an imported hit, varies in a family, and is printed', async ({ page }) => {
  await newProject(page);
  const hit = new Float32Array(48_000);
  for (let i = 0; i < 4_800; i++) hit[24_000 + i] = 0.6 * Math.exp(-i / 900) * Math.sin(i * 0.9);
  await page.getByTestId('import-input').setInputFiles([wavFile('Hit.wav', { sampleRate: 48_000, channels: [hit] }, '32f')]);
  await place(page, 'Hit');
  await page.keyboard.press('Shift+M');
  await makeLayer(page, 'sub', 'Boom');
  // Landed on the attack of the hit.
  await page.locator('tc-selection-inspector').getByRole('slider', { name: 'Start', exact: true }).focus();
  await page.keyboard.type('500 ms');
  await page.keyboard.press('Enter');
  let heard = (await deliveredOriginal(page)).channels[0]!;
  expect(levelAt(heard, 0.45)).toBeLessThan(-90);
  expect(toneLevel(heard, 45, 0.7)).toBeGreaterThan(-30);

  await test.step('a family of eight, in which the patch varies', async () => {
    await page.getByRole('listitem', { name: /^Low\./ }).click();
    await page.locator('tc-lectern').getByRole('slider', { name: 'Tuning', exact: true }).click({ button: 'right' });
    await page.getByRole('menuitem', { name: 'Let it vary between siblings' }).click();
    await menuClosed(page);
    await openView(page, 'Kin');
    await expect(page.getByText(/Boom · Low/).first()).toBeVisible();
    await openView(page, 'Loft');
  });

  await test.step('printed, it is a recording that sounds the same', async () => {
    await layerOf(page, 'Boom').locator('tc-clip').click();
    await page.getByRole('button', { name: 'Print', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Print “Boom”' }).click();
    await expect(undoName(page)).toHaveAccessibleName(/Print/);
    const printed = (await deliveredOriginal(page)).channels[0]!;
    let most = 0;
    for (let i = 0; i < heard.length; i++) most = Math.max(most, Math.abs((printed[i] ?? 0) - heard[i]!));
    expect(most).toBeLessThan(1e-4);
    await undoAndRedo(page, 1);
  });

  await test.step('a part can play a source: the hit once more, from the beginning of the note on', async () => {
    await undoName(page).click();
    await layerOf(page, 'Boom').locator('tc-clip').click();
    const before = levelAt((await deliveredOriginal(page)).channels[0]!, 1.005);
    await page.getByRole('button', { name: 'Part', exact: true }).click();
    await page.getByRole('menuitem', { name: /^Take/ }).click();
    await menuClosed(page);
    await choose(page.locator('tc-part-editor').getByRole('combobox', { name: 'Source' }), 'Hit');
    // The note is an E1; the recording sounds as it is at C4.
    await turn(page, 'Tuning', '32');
    heard = (await deliveredOriginal(page)).channels[0]!;
    expect(levelAt(heard, 1.005)).toBeGreaterThan(before + 6);
    await undoAndRedo(page, 2);
  });
});

test('what is made can be printed as a source, whose recipe opens as a made layer', async ({ page }) => {
  await newProject(page);
  await page.getByRole('button', { name: 'Make something' }).click();
  const dialog = page.getByRole('dialog', { name: 'Make a sound' });
  await dialog.getByRole('radio', { name: 'drop', exact: true }).click();
  await dialog.getByRole('option', { name: /Calving drop/ }).click();
  // A double click prints it once.
  await dialog.getByRole('button', { name: 'Print it as a source' }).dblclick();
  await expect(page.getByText('“Calving drop” is in Gather.')).toBeVisible();
  await dialog.getByRole('button', { name: 'Close', exact: true }).click();
  await place(page, 'Calving drop');
  const printed = (await deliveredOriginal(page)).channels[0]!;
  // It has landed on its note after half a second; E1 sags by three semitones a second.
  expect(toneLevel(printed, 41.2 * 2 ** (-0.15 / 12), 0.55)).toBeGreaterThan(-20);
  await openView(page, 'Gather');
  await chooseSource(page, 'Calving drop');
  await page.getByRole('button', { name: 'More for this source' }).click();
  await page.getByRole('menuitem', { name: 'Open its recipe as a sound' }).click();
  await expect(layerOf(page, 'Calving drop').getByRole('button', { name: 'Notes of Calving drop' })).toBeVisible();
  const live = (await deliveredOriginal(page)).channels[0]!;
  // But for the edges of the printed clip, which are faded.
  let most = 0;
  for (let i = 480; i < 2 * 48_000; i++) most = Math.max(most, Math.abs((printed[i] ?? 0) - live[i]!));
  expect(most).toBeLessThan(1e-4);
});

test('notes come from MIDI files and go into them; what is no such file is told', async ({ page }) => {
  await newProject(page);
  await page.getByRole('button', { name: 'Make something' }).click();
  await makeLayer(page, 'chime', 'Small bar');
  await layerOf(page, 'Small bar').locator('tc-clip').dblclick();
  const field = notesOf(page, 'Small bar');
  const notes = [60, 64, 67].map((pitch, i) => ({ start: i / 2, length: 0.25, pitch, strength: 1 }));
  const file = writeMidiFile(notes, 120, [
    { time: 0.5, semitones: 5 },
    { time: 1, semitones: 0 },
  ]);
  await page.getByTestId('midi-input').setInputFiles({ name: 'Row.mid', mimeType: 'audio/midi', buffer: Buffer.from(file) });
  await expect(field.getByRole('button')).toHaveCount(4);
  await expect(field.getByRole('button', { name: /^G4 at 1\.000 s, 0\.250 s long/ })).toBeVisible();
  await page
    .getByTestId('midi-input')
    .setInputFiles({ name: 'Broken.mid', mimeType: 'audio/midi', buffer: Buffer.from(file.subarray(0, 40)) });
  await expect(page.getByText(/Broken\.mid ends at byte 40/)).toBeVisible();
  await page.getByRole('button', { name: 'More for the notes of Small bar' }).click();
  const written = await download(page, () => page.getByRole('menuitem', { name: 'Export as a MIDI file' }).click());
  expect(String.fromCharCode(...written.subarray(0, 4))).toBe('MThd');
  // One track, and of each of the four notes its beginning on the first channel.
  expect([...written.subarray(8, 12)]).toEqual([0, 0, 0, 1]);
  const begins = [60, 64, 67].filter((pitch) => written.some((byte, i) => byte === 0x90 && written[i + 1] === pitch));
  expect(begins).toEqual([60, 64, 67]);
  // Bent by a fourth for half a second, on a lane of its own; one step with the notes.
  const { bends } = readMidi(written, 'Row.mid');
  expect(bends.find(({ semitones }) => Math.abs(semitones - 5) < 0.01)).toBeDefined();
  expect(bends.at(-1)!.semitones).toBe(0);
  await menuClosed(page);
  await undoName(page).click();
  await expect(field.getByRole('button')).toHaveCount(1);
  await page.getByRole('button', { name: 'More for the notes of Small bar' }).click();
  const plain = await download(page, () => page.getByRole('menuitem', { name: 'Export as a MIDI file' }).click());
  expect(readMidi(plain, 'Row.mid').bends).toEqual([]);
});

test('notes, patches and “Make” have no accessibility faults', async ({ page }) => {
  await openDemo(page);
  await page.getByLabel('Choose a sound').click();
  await page.getByRole('menuitem', { name: 'Made stages' }).click();
  await menuClosed(page);
  await page.getByRole('button', { name: 'Notes of Beacon' }).click();
  await expect(notesOf(page, 'Beacon').getByRole('button')).toHaveCount(3);
  await page.getByRole('listitem', { name: /^Call\./ }).click();
  expect(await graveFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Patch', exact: true }).click();
  await expect(page.locator('tc-shared-editor')).toBeVisible();
  expect(await graveFaults(page)).toEqual([]);
  await page.keyboard.press('Shift+K');
  await expect(page.locator('tc-hands-panel')).toBeVisible();
  expect(await graveFaults(page, 'tc-hands-panel')).toEqual([]);
  await page.keyboard.press('Shift+K');
  await page.keyboard.press('Shift+M');
  await expect(page.getByRole('dialog', { name: 'Make a sound' })).toBeVisible();
  expect(await graveFaults(page)).toEqual([]);
});

test('a crackle goes with a tide, and eight siblings of it are eight sounds', async ({ page }) => {
  await newProject(page);
  await page.getByRole('button', { name: 'Make something' }).click();
  await makeLayer(page, 'electric', 'Spark gap');
  await page.getByRole('button', { name: 'Part', exact: true }).click();
  await page.getByRole('menuitem', { name: /^Noise/ }).click();
  await menuClosed(page);
  await choose(page.locator('tc-part-editor').getByRole('combobox', { name: 'Texture' }), 'crackle');
  await turn(page, 'Level', '-6');
  await page.locator('tc-part-editor').getByRole('slider', { name: 'Level', exact: true }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Pull it by' }).hover();
  await page.getByRole('menuitem', { name: 'A new tide' }).click();
  await menuClosed(page);
  await page.getByRole('button', { name: 'square' }).click();
  await turn(page, 'Round', '500 ms');
  await turn(page, 'Smoothing', '0');
  await turn(page, 'Spark gap · Noise: level', '18');
  const heard = (await deliveredOriginal(page)).channels[0]!;
  // Up in the first half of each round, down in the second.
  for (const round of [0, 0.5])
    expect(loudnessOf(heard, round + 0.05, round + 0.2)).toBeGreaterThan(loudnessOf(heard, round + 0.3, round + 0.45) + 6);

  await openView(page, 'Kin');
  await page.getByRole('button', { name: 'Make eight siblings' }).click();
  await page.getByRole('button', { name: 'Bold' }).click();
  await expect(page.locator('article .facts').filter({ hasText: 'LUFS' })).toHaveCount(8);
  await page.keyboard.press('Shift+K');
  await expect(page.getByText('8 kept')).toBeVisible();
  await handOffSound(page);
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  const siblings = Object.keys(entries)
    .filter((name) => name.endsWith('.wav'))
    .map((name) => readWav(entries[name]!).audio.channels[0]!);
  expect(siblings).toHaveLength(9);
  for (const [i, sibling] of siblings.entries())
    for (const other of siblings.slice(i + 1)) {
      const same = sibling.length === other.length && sibling.every((sample, at) => Math.abs(sample - other[at]!) < 1e-4);
      expect(same).toBe(false);
    }
});

test('a recording is mimicked: its modes become a made layer, which can be heard and kept', async ({ page }) => {
  await newProject(page);
  await page.getByTestId('import-input').setInputFiles([
    bellFile([
      [523, 0.3, 1.5],
      [1_274, 0.2, 0.9],
    ]),
    silentFile(),
  ]);
  const dialog = page.getByRole('dialog', { name: /^Mimic/ });
  const open = async (source: string): Promise<void> => {
    await chooseSource(page, source);
    await page.getByRole('button', { name: 'More for this source' }).click();
    await page.getByRole('menuitem', { name: 'Mimic…' }).click();
  };
  await open('Nothing');
  await expect(dialog.getByRole('alert')).toContainText('It is silent.');
  await dialog.getByRole('button', { name: 'Close', exact: true }).click();
  await open('Bell');
  await expect(dialog.getByText(/modes and noise/)).toBeVisible();
  await expect(dialog.getByText('It comes near.')).toBeVisible();
  await dialog.getByRole('button', { name: 'What was made' }).click();
  await expect.poll(async () => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'))).toBeGreaterThan(-40);
  await dialog.getByRole('button', { name: 'Keep it as a layer' }).click();
  await expect(layerOf(page, 'Bell, mimicked').locator('tc-clip')).toBeVisible();
  const heard = (await deliveredOriginal(page)).channels[0]!;
  for (const hertz of [523, 1_274]) expect(toneLevel(heard, hertz, 0.1)).toBeGreaterThan(toneLevel(heard, 900, 0.1) + 25);
  await undoAndRedo(page, 1);
});

/** Level of a stretch, in dB. */
function loudnessOf(samples: Float32Array, from: number, to: number): number {
  const part = samples.subarray(Math.round(from * 48_000), Math.round(to * 48_000));
  return 10 * Math.log10(part.reduce((sum, sample) => sum + sample * sample, 0) / part.length);
}
