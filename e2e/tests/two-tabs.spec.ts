import { expect, test } from '@playwright/test';
import { openDemo, undoName } from '../steps';

test('one tab writes a project; a second one looks on, and can take over', async ({ page, context }) => {
  await openDemo(page);
  const second = await context.newPage();
  await second.goto(page.url());
  const banner = (tab: typeof page) => tab.getByText('This project is open in another tab');
  await expect(banner(second)).toBeVisible();
  await expect(banner(page)).toBeHidden();
  await second.getByRole('button', { name: 'Mute Slab body' }).click();
  await expect(second.getByText('Another tab writes this project')).toBeVisible();
  await expect(undoName(second)).toBeDisabled();

  // What the first tab did last is in the second one when it takes over.
  await page.getByRole('button', { name: 'Solo Slab body' }).click();
  await second.getByRole('button', { name: 'Take over', exact: true }).click();
  await expect(banner(second)).toBeHidden();
  await expect(banner(page)).toBeVisible();
  await expect(undoName(second)).toContainText('Solo “Slab body”');
  await second.getByRole('button', { name: 'Mute Slab body' }).click();
  await expect(undoName(second)).toContainText('Mute “Slab body”');
  await expect(second.getByText('saved', { exact: true })).toBeVisible();

  // The right comes back, with all that was done, when the writer is closed.
  await second.close();
  await expect(banner(page)).toBeHidden();
  await expect(undoName(page)).toContainText('Mute “Slab body”');
});
