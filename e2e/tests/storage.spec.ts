import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { effectCatalogue, unpackArchive } from '@tangled-choir/core';
import { download, openDemo, undoName } from '../steps';

test('says what is stored, and archives a project before it is removed', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('link', { name: 'All projects' }).click();
  await expect(page.getByText(/[\d.]+ MB of this browser’s storage used/)).toBeVisible();
  await page.getByRole('button', { name: 'Remove Halda Station' }).click();
  const archive = await download(page, () => page.getByRole('button', { name: 'Archive' }).click());
  const { project } = await unpackArchive(archive, effectCatalogue);
  expect(project.name).toBe('Halda Station');
  await expect(page.getByText('No project in this browser yet')).toBeVisible();
});

/** Lets the browser say what it says when its disk is full, as long as the test wants it to be. */
async function withFullDisk(page: Page): Promise<(full: boolean) => Promise<void>> {
  await page.addInitScript(() => {
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = function (...args) {
      if (localStorage.getItem('full') !== null) throw new DOMException('No room.', 'QuotaExceededError');
      return put.apply(this, args);
    };
  });
  return (full) => page.evaluate((is) => (is ? localStorage.setItem('full', '') : localStorage.removeItem('full')), full);
}

/** Opens the demo and mutes a layer while there is no room for it. */
async function editWithoutRoom(page: Page): Promise<(full: boolean) => Promise<void>> {
  const setFull = await withFullDisk(page);
  await openDemo(page);
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await setFull(true);
  await page.getByRole('button', { name: 'Mute Slab body' }).click();
  await expect(page.getByText('not saved')).toBeVisible();
  return setFull;
}

test('keeps edits for which there is no room, and stores them as soon as there is', async ({ page }) => {
  const setFull = await editWithoutRoom(page);
  await expect(page.getByText('storage is full')).toBeVisible();

  // Closed without room: to make some, somebody has to go to the other projects.
  await page.getByRole('link', { name: 'All projects' }).click();
  await expect(page.getByText('Its last edits are not stored yet')).toBeVisible();
  // Opened again, it goes on with its edits.
  await page.getByRole('link', { name: /^Halda Station \d/ }).click();
  await expect(undoName(page)).toContainText('Mute “Slab body”');
  await page.getByRole('link', { name: 'All projects' }).click();
  await expect(page.getByText('Its last edits are not stored yet')).toBeVisible();
  let asked = 0;
  page.on('dialog', (dialog) => {
    asked++;
    void dialog.dismiss();
  });
  await page.evaluate(() => location.reload());
  await expect.poll(() => asked).toBe(1);

  await setFull(false);
  await expect(page.getByText('“Halda Station” is stored now, with its last edits.')).toBeVisible();
  await expect(page.getByText('Its last edits are not stored yet')).toBeHidden();
  await page.reload();
  await page.getByRole('link', { name: /^Halda Station \d/ }).click();
  await expect(undoName(page)).toContainText('Mute “Slab body”');
  expect(asked).toBe(1);
});

test('a project with edits that had no room can be removed', async ({ page }) => {
  const setFull = await editWithoutRoom(page);
  await page.getByRole('link', { name: 'All projects' }).click();
  await expect(page.getByText('Its last edits are not stored yet')).toBeVisible();
  await page.getByRole('button', { name: 'Remove Halda Station' }).click();
  await page.getByRole('button', { name: 'Remove for good' }).click();
  await expect(page.getByText('No project in this browser yet')).toBeVisible();
  await setFull(false);
  await page.reload();
  await expect(page.getByText('No project in this browser yet')).toBeVisible();
});
