import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { toneLevel } from '../measure';
import { choose, deliveredOriginal, menuClosed, newProject, undoAndRedo, undoName } from '../steps';

/** A MIDI keyboard that is played by the test: `press(bytes)` in the page. */
async function plugInKeyboard(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const input: { name: string; state: string; onmidimessage?: (event: { data: Uint8Array }) => void } = {
      name: 'Small keyboard',
      state: 'connected',
    };
    const access = { inputs: new Map([['1', input]]) };
    Object.defineProperty(navigator, 'requestMIDIAccess', { value: () => Promise.resolve(access) });
    Object.defineProperty(window, 'midi', { value: (...bytes: number[]) => input.onmidimessage?.({ data: Uint8Array.from(bytes) }) });
  });
}

const midi = (page: Page, ...bytes: number[]): Promise<unknown> => page.evaluate(`window.midi(${bytes.join()})`);
const panel = (page: Page) => page.locator('tc-hands-panel');
const position = async (page: Page): Promise<number> => {
  const [minutes, seconds] = (await page.getByTestId('time').innerText()).split(':').map(Number);
  return minutes! * 60 + seconds!;
};
/** Waits until the sound has gone on by some seconds. What is shown may lag behind what is heard by a part of them. */
const later = async (page: Page, seconds: number): Promise<void> => {
  const from = await position(page);
  await expect.poll(() => position(page)).toBeGreaterThan(from + seconds);
};
const peak = async (page: Page): Promise<number> =>
  Number(await page.getByRole('meter', { name: 'Output level' }).getAttribute('aria-valuenow'));

test('a made layer is played by keys and by MIDI, recorded with the moves of its wheel, and delivered as it was played', async ({
  page,
}) => {
  await plugInKeyboard(page);
  await newProject(page);
  await page.getByRole('button', { name: 'Make something' }).click();
  const dialog = page.getByRole('dialog', { name: 'Make a sound' });
  await dialog.getByRole('radio', { name: 'beacon', exact: true }).click();
  await dialog.getByRole('option', { name: /Beacon/ }).click();
  await dialog.getByRole('button', { name: /^Keep/ }).click();
  await expect(page.locator('tc-clip').first()).toBeVisible();
  await page.keyboard.press('Shift+K');
  await expect(panel(page).getByText('Playing “Beacon”')).toBeVisible();

  await test.step('keys are heard while they are down, and do not do what they do elsewhere', async () => {
    const clips = await page.locator('tc-clip').count();
    await page.keyboard.down('KeyQ');
    await expect(panel(page).getByRole('button', { name: /^G4, key Q/ })).toHaveAttribute('aria-pressed', 'true');
    await expect.poll(() => peak(page)).toBeGreaterThan(-40);
    await page.keyboard.press('KeyB');
    await page.keyboard.press('KeyM');
    await page.keyboard.up('KeyQ');
    await expect.poll(() => peak(page)).toBeLessThan(-55);
    expect(await page.locator('tc-clip').count()).toBe(clips);
    await expect(undoName(page)).toHaveAccessibleName(/Made layer/);
  });

  await test.step('recorded along with the sound, notes lie where they were heard', async () => {
    await panel(page).getByRole('button', { name: 'Record notes' }).click();
    // What is shown runs ahead of what is heard, by as much as the loudspeakers are late.
    await expect.poll(() => position(page)).toBeGreaterThan(1.2);
    await page.keyboard.down('KeyQ');
    await later(page, 0.6);
    await page.keyboard.up('KeyQ');
    await expect(panel(page).getByText('1 note', { exact: true })).toBeVisible();
    await page.keyboard.press('Space');
    await expect(panel(page).getByRole('button', { name: 'Record notes' })).toBeVisible();
    await expect(undoName(page)).toHaveAccessibleName(/Record note/);
  });

  const field = page.getByRole('group', { name: 'Notes of Beacon. Double click adds one' });
  const noteAt = async (name: string): Promise<[number, number]> => {
    const label = (await field.getByRole('button', { name: new RegExp(`^${name} at`) }).getAttribute('aria-label'))!;
    const [, start, length] = /at ([\d.]+) s, ([\d.]+) s long/.exec(label)!;
    return [Number(start), Number(length)];
  };
  await panel(page).getByRole('button', { name: 'End playing by hand' }).click();
  await expect(panel(page)).toBeHidden();
  await page.getByRole('button', { name: 'Notes of Beacon', exact: true }).click();
  const [start, length] = await noteAt('G4');
  expect(length).toBeGreaterThan(0.2);
  const heard = (await deliveredOriginal(page)).channels[0]!;
  expect(start).toBeGreaterThan(0.3);
  expect(toneLevel(heard, 391.995, start + 0.05)).toBeGreaterThan(toneLevel(heard, 391.995, start - 0.15) + 30);

  await test.step('a MIDI keyboard, with a dial on its wheel', async () => {
    await page.keyboard.press('Shift+K');
    await panel(page).getByRole('button', { name: 'Connect a MIDI keyboard' }).click();
    await expect(panel(page).getByText('MIDI: Small keyboard')).toBeVisible();
    await page.getByRole('listitem', { name: /^Call\./ }).click();
    await page.locator('tc-lectern').getByRole('slider', { name: 'Level', exact: true }).click({ button: 'right' });
    await page.getByRole('menuitem', { name: 'Move it by the wheel' }).click();
    await menuClosed(page);
    await expect(panel(page).getByText(/Call: level/)).toBeVisible();
    await choose(panel(page).getByRole('combobox', { name: 'The wheel is moved by' }), 'modulation');
    await panel(page).getByRole('button', { name: 'Record notes' }).click();
    await expect.poll(() => position(page)).toBeGreaterThan(0.8);
    await midi(page, 0x90, 62, 127);
    await midi(page, 0xb0, 1, 127);
    // Only the modulation wheel moves it: neither this controller nor pressure.
    await midi(page, 0xb0, 7, 0);
    await midi(page, 0xd0, 0);
    await later(page, 0.7);
    await midi(page, 0xb0, 1, 0);
    await later(page, 0.7);
    await midi(page, 0x80, 62, 0);
    await panel(page).getByRole('button', { name: 'Stop' }).click();
    await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
    await expect(undoName(page)).toHaveAccessibleName(/Record/);
    await page.keyboard.press('Escape');
    const [from, long] = await noteAt('D4');
    expect(long).toBeGreaterThan(0.6);
    // Behind the end of the file there is silence, too: what is silent at the end of a sound is not written.
    const moved = new Float32Array(60 * 48_000);
    moved.set((await deliveredOriginal(page)).channels[0]!);
    // Loud with the wheel up, silent with the wheel down, while the note is held.
    expect(toneLevel(moved, 293.665, from + 0.2)).toBeGreaterThan(-20);
    expect(toneLevel(moved, 293.665, from + 0.2)).toBeGreaterThan(toneLevel(moved, 293.665, from + long - 0.1) + 30);
    await undoAndRedo(page, 1);
  });

  await test.step('the bend wheel bends the notes, and the bend is recorded as a lane', async () => {
    // The wheel was left where nothing is heard.
    await page.keyboard.press('Control+z');
    await expect(undoName(page)).not.toHaveAccessibleName(/moves/);
    await page.keyboard.press('Shift+K');
    await panel(page).getByRole('button', { name: 'Record notes' }).click();
    await expect.poll(() => position(page)).toBeGreaterThan(0.8);
    await midi(page, 0x90, 55, 127);
    await later(page, 0.4);
    await midi(page, 0xe0, 127, 127);
    await later(page, 0.7);
    await midi(page, 0x80, 55, 0);
    await panel(page).getByRole('button', { name: 'Stop' }).click();
    await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
    await page.keyboard.press('Escape');
    const [from, long] = await noteAt('G3');
    const bent = new Float32Array(60 * 48_000);
    bent.set((await deliveredOriginal(page)).channels[0]!);
    const late = from + long - 0.15;
    // Two semitones up: an A.
    expect(toneLevel(bent, 220, late)).toBeGreaterThan(toneLevel(bent, 195.998, late) + 20);
    expect(toneLevel(bent, 195.998, from + 0.15)).toBeGreaterThan(toneLevel(bent, 220, from + 0.15) + 20);
    await undoAndRedo(page, 1);
  });

  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Notes of Beacon', exact: true }).click();
  expect((await noteAt('G4'))[0]).toBeCloseTo(start, 3);
});
