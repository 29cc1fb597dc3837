import type { Page, Worker } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { openDemo, openView } from '../steps';

/** What the position shows, in seconds. */
const seconds = async (page: Page): Promise<number> =>
  ((await page.getByTestId('time').textContent()) ?? '')
    .trim()
    .split(':')
    .reduce((sum, part) => 60 * sum + Number(part), 0);

/** Lets a worker stumble over something that nobody catches. */
const stumble = (worker: Worker): Promise<void> => worker.evaluate(() => void setTimeout(() => JSON.parse('no data')));

/** The workers of the page of which a test says which they are. */
async function workersNamed(page: Page, name: string): Promise<Worker[]> {
  const named = await Promise.all(page.workers().map(async (worker) => ({ worker, name: await worker.evaluate(() => self.name) })));
  return named.filter((entry) => entry.name === name).map(({ worker }) => worker);
}

test('an engine that stops is started again, and plays on from where it was', async ({ page }) => {
  await openDemo(page);
  await page.getByRole('button', { name: 'Loop' }).click();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect.poll(() => seconds(page)).toBeGreaterThan(0.3);
  const [engine] = await workersNamed(page, 'engine');
  await stumble(engine!);
  await expect(page.getByText('The engine stopped, and was started again.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  const there = await seconds(page);
  await expect.poll(() => seconds(page)).not.toBe(there);
  await expect(page.locator('tc-bottom-bar')).not.toContainText('The engine stopped');
  await expect(page.getByTestId('short-term')).not.toContainText('∞');
});

test('workers that do not load are tried again', async ({ page }) => {
  let refused = 0;
  const jobs = /worker-.*\.js$/;
  await page.goto('/');
  await page.route(jobs, (route) => (refused++ < 2 ? route.abort() : route.continue()));
  await openDemo(page);
  await openView(page, 'Kin');
  expect(refused).toBeGreaterThan(2);
});
