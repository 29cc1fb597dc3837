import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { effectCatalogue, unpackArchive } from '@tangled-choir/core';
import { download, menuClosed, newProject, openDemo, undoName } from '../steps';

/** The browser’s own folder stands for one of the disk, because nobody can press the button of its dialog here. */
async function offerFolder(page: Page): Promise<void> {
  await page.addInitScript(() => {
    (window as { showDirectoryPicker?: () => Promise<FileSystemDirectoryHandle> }).showDirectoryPicker = async () =>
      (await navigator.storage.getDirectory()).getDirectoryHandle('kept', { create: true });
  });
}

/** The files of that folder and of its folders, by their paths. */
const filesOf = (page: Page): Promise<string[]> =>
  page.evaluate(async () => {
    const found: string[] = [];
    const walk = async (folder: FileSystemDirectoryHandle, path: string): Promise<void> => {
      for await (const [name, entry] of (folder as unknown as { entries(): AsyncIterable<[string, FileSystemHandle]> }).entries()) {
        if (entry.kind === 'directory') await walk(entry as FileSystemDirectoryHandle, `${path}${name}/`);
        else found.push(path + name);
      }
    };
    await walk(await (await navigator.storage.getDirectory()).getDirectoryHandle('kept', { create: true }), '');
    return found.sort();
  });

async function muted(page: Page): Promise<boolean | undefined> {
  const bytes = await download(page, () =>
    page.evaluate(async () => {
      const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('kept');
      const link = document.createElement('a');
      link.href = URL.createObjectURL(await (await folder.getFileHandle('Halda-Station.choir')).getFile());
      link.download = 'copy.choir';
      link.click();
    }),
  );
  const { project } = await unpackArchive(bytes, effectCatalogue);
  return project.sounds.flatMap(({ layers }) => layers).find(({ name }) => name === 'Slab body')?.muted;
}

async function rename(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Project menu' }).click();
  await page.getByRole('menuitem', { name: 'Rename' }).click();
  await expect(page.getByRole('textbox', { name: 'Project' })).toBeFocused();
  await page.keyboard.press('Control+a');
  await page.keyboard.type(name);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: `Project: ${name}, Enter renames` })).toBeVisible();
}

async function keepCopy(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Project menu' }).click();
  await page.getByRole('menuitem', { name: 'Keep a copy in a folder' }).click();
  await menuClosed(page);
}

test('a project is kept in a folder, too, with its edits, over a reload, until somebody stops it', async ({ page }) => {
  await offerFolder(page);
  await openDemo(page);
  await keepCopy(page);
  await expect(page.getByText('copied', { exact: true })).toBeVisible();
  const [version, file, ...others] = await filesOf(page);
  expect(version).toMatch(/^Halda-Station-versions\/\d{4}-\d\d-\d\d \d\d\.\d\d\.\d\d\.choir$/);
  expect(file).toBe('Halda-Station.choir');
  expect(others).toEqual([]);
  expect(await muted(page)).toBe(false);

  await page.reload();
  await page.getByRole('button', { name: 'Mute Slab body' }).click();
  await expect(undoName(page)).toContainText('Mute “Slab body”');
  await expect.poll(() => muted(page)).toBe(true);
  await expect(page.getByText('copied', { exact: true })).toBeVisible();

  await page.getByRole('button', { name: 'Project menu' }).click();
  await page.getByRole('menuitem', { name: 'Stop the copy in “kept”' }).click();
  await menuClosed(page);
  await expect(page.getByText('copied', { exact: true })).toBeHidden();
  expect(await filesOf(page)).toContain('Halda-Station.choir');
});

test('a copy is not written over another project, and a folder that cannot be written to is told', async ({ page }) => {
  await offerFolder(page);
  await openDemo(page);
  await keepCopy(page);
  await expect(page.getByText('copied', { exact: true })).toBeVisible();
  await newProject(page);
  await rename(page, 'Halda Station');
  await keepCopy(page);
  await expect(page.getByText('“kept” has another “Halda-Station.choir” already.')).toBeVisible();
  expect(await muted(page)).toBe(false);

  await page.getByRole('button', { name: 'Dismiss' }).click();
  await page.evaluate(() => {
    FileSystemFileHandle.prototype.createWritable = () => Promise.reject(new DOMException('no', 'QuotaExceededError'));
  });
  await rename(page, 'Another');
  await keepCopy(page);
  await expect(
    page.getByText(/The copy in “kept” could not be written: Another.choir could not be written: the disk is full/),
  ).toBeVisible();
  await expect(page.getByText('no copy', { exact: true })).toBeVisible();
});
