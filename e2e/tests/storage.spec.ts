import { expect, test } from '@playwright/test';
import { effectCatalogue, unpackArchive } from '@tangled-choir/core';
import { download, openDemo } from '../steps';

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
