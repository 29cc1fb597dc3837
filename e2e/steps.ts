import { readFileSync } from 'node:fs';
import type { Locator, Page } from '@playwright/test';
import { expect } from '@playwright/test';
import type { Audio } from '@tangled-choir/core';
import { readWav } from '@tangled-choir/core';
import { unzipSync } from 'fflate';

/** Steps that several tests share. */
export async function openDemo(page: Page): Promise<void> {
  await page.goto('/demo');
  await expect(page.getByRole('region', { name: 'Layer Slab body' })).toBeVisible();
}

export async function newProject(page: Page): Promise<void> {
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await expect(page.getByText('Bring your recordings')).toBeVisible();
}

export async function download(page: Page, start: () => Promise<void>): Promise<Uint8Array> {
  const downloading = page.waitForEvent('download');
  await start();
  return new Uint8Array(readFileSync((await (await downloading).path()) ?? ''));
}

/** The open project as a `.choir` file. */
export async function exportProject(page: Page): Promise<Uint8Array> {
  await page.getByRole('button', { name: 'Project menu' }).click();
  return download(page, () => page.getByRole('menuitem', { name: 'Export as .choir' }).click());
}

/** Opens Hand-off for the sound that is worked on, with nothing to write but what the first delivery asks for. */
export async function handOffSound(page: Page): Promise<void> {
  await openView(page, 'Hand-off');
  await page.getByRole('radio', { name: 'This sound' }).click();
  const written = page.getByRole('checkbox', { name: /^Write “/ });
  for (const [index, box] of (await written.all()).entries()) await box.setChecked(index === 0);
  await page.getByRole('table', { name: 'Deliveries' }).getByRole('button').first().click();
}

/** The original of the open sound, as its written WAV file. */
export async function deliveredOriginal(page: Page): Promise<Audio> {
  await handOffSound(page);
  await choose(page.getByLabel('Depth'), '32 bit float');
  const entries = unzipSync(await download(page, () => page.getByRole('button', { name: 'Write zip' }).click()));
  const name = Object.keys(entries).find((entry) => entry.endsWith('.wav'))!;
  await openView(page, 'Loft');
  return readWav(entries[name]!).audio;
}

/** Chooses by name what a box of choices offers, of a group if some names are there in several. */
export async function choose(box: Locator, name: string, group?: string): Promise<void> {
  await box.click();
  const list = box.page().getByRole('listbox');
  const offers = group === undefined ? list : list.getByRole('group', { name: group, exact: true });
  await offers.getByRole('option', { name, exact: true }).click();
  await expect(box.page().getByRole('listbox')).toHaveCount(0);
}

/** Waits until a menu is gone: what it still covers takes no press of the bare mouse. */
export async function menuClosed(page: Page): Promise<void> {
  await expect(page.locator('.cdk-overlay-backdrop')).toHaveCount(0);
}

/** Name of the step that Undo would take back. */
export function undoName(page: Page) {
  return page.getByRole('button', { name: /^Undo/ });
}

/** Undoes `count` steps and makes them again; nothing may be left different. */
export async function undoAndRedo(page: Page, count: number): Promise<void> {
  const before = await undoName(page).textContent();
  for (let i = 0; i < count; i++) await undoName(page).click();
  for (let i = 0; i < count; i++) await page.getByRole('button', { name: /^Redo/ }).click();
  await expect(undoName(page)).toHaveText(before ?? '');
}

/** The first moment in a stretch at which a recording reaches a fifth of the stretch's peak, in seconds. */
export function riseIn(audio: Audio, from: number, to: number): number {
  const samples = audio.channels[0]!;
  const first = Math.round(from * audio.sampleRate);
  const last = Math.min(samples.length, Math.round(to * audio.sampleRate));
  let peak = 0;
  for (let i = first; i < last; i++) peak = Math.max(peak, Math.abs(samples[i]!));
  for (let i = first; i < last; i++) if (Math.abs(samples[i]!) >= peak / 5) return i / audio.sampleRate;
  return Number.NaN;
}

const views = {
  Gather: 'tc-gather-view',
  Loft: 'tc-loft-view',
  Kin: 'tc-kin-view',
  Conduct: 'tc-conduct-view',
  'Hand-off': 'tc-hand-off-view',
};

/** Goes to a view and waits until it is there: the one before has lists and fields of the same names. */
export async function openView(page: Page, view: keyof typeof views): Promise<void> {
  await page.getByRole('link', { name: view, exact: true }).click();
  await expect(page.locator(views[view])).toBeVisible();
}

/** Searches Gather, which must be open, for the one source that has these words, and chooses it. */
export async function chooseSource(page: Page, words: string): Promise<void> {
  await page.getByRole('searchbox', { name: 'Search sources' }).fill(words);
  const row = page.locator('.row');
  await expect(row).toHaveCount(1);
  await row.click();
}

/** Adds an effect by the menu of a button. */
export async function addEffect(page: Page, family: string, effect: RegExp, button = 'Add an effect'): Promise<void> {
  await page.getByRole('button', { name: button, exact: true }).click();
  await page.getByRole('menuitem', { name: family }).click();
  // Those of the family; the last used stand in the menu before it.
  const offer = page.getByRole('menu').last().locator('.offer').filter({ hasText: effect });
  const behind = page.locator('.cdk-overlay-backdrop');
  // A menu that is still opening on a busy machine can lose a press.
  await expect(async () => {
    if ((await behind.count()) > 0) await offer.click({ timeout: 5_000 });
    await expect(behind).toHaveCount(0, { timeout: 5_000 });
  }).toPass();
}

/** Puts a source of Gather onto a layer of its own. */
export async function place(page: Page, source: string): Promise<void> {
  await page.getByRole('listitem', { name: source }).click();
  await page.keyboard.press('p');
  await expect(page.locator('tc-clip').first()).toBeVisible();
}

/** Types a value into a dial of the lectern. */
export async function turn(page: Page, name: string, value: string): Promise<void> {
  await page.locator('tc-lectern').getByRole('slider', { name, exact: true }).focus();
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
}
