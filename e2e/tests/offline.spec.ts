import { createHash } from 'node:crypto';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { listenOnFreePort } from '../../server/src/listen';
import { createServer } from '../../server/src/server';
import { deliveredOriginal, openView, undoName } from '../steps';

test.use({ serviceWorkers: 'allow' });

/**
 * A server of the test's own, that can be taken away and come back, on a copy of the application that can be changed. No two tests begin at the
 * same port: one would answer for the other's that is gone.
 */
async function startServer(port: number, folder = copyOfApplication()) {
  const server = await createServer({ application: folder, demo: 'dist/halda-station.choir' });
  const address = await listenOnFreePort(server, '127.0.0.1', port);
  return { address, folder, close: () => server.close() };
}

function copyOfApplication(): string {
  const folder = mkdtempSync(join(tmpdir(), 'choir-offline-'));
  cpSync('web/dist/browser', folder, { recursive: true });
  return folder;
}

const kept = 'This browser keeps all of Tangled Choir';

test('works away from its server: reload, the demo, an edit, a hand-off', async ({ page }) => {
  const server = await startServer(5_100);
  await page.goto(server.address);
  await expect(page.getByText(kept)).toBeVisible();
  await server.close();
  rmSync(server.folder, { recursive: true });
  await expect(page.request.get(`${server.address}/health`)).rejects.toThrow(/ECONNREFUSED/);

  await page.reload();
  await expect(page.getByText(kept)).toBeVisible();
  await page.getByRole('link', { name: /the demo/ }).click();
  await expect(page).toHaveURL(/halda-station\/loft$/);
  // Isolated as ever: it plays.
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await page.getByRole('button', { name: 'Mute Slab body' }).click();
  await expect(undoName(page)).toContainText('Mute “Slab body”');
  await expect(page.getByText('saved', { exact: true })).toBeVisible();

  await page.reload();
  await expect(undoName(page)).toContainText('Mute “Slab body”');
  for (const view of ['Gather', 'Kin', 'Conduct', 'Loft'] as const) await openView(page, view);
  const muted = await deliveredOriginal(page);
  const mute = page.getByRole('button', { name: /ute Slab body$/ });
  await mute.click();
  await expect(mute).toHaveAttribute('aria-pressed', 'false');
  const whole = await deliveredOriginal(page);
  expect(muted.channels[0]!.length).toBe(whole.channels[0]!.length);
  expect(Buffer.from(muted.channels[0]!.buffer).equals(Buffer.from(whole.channels[0]!.buffer))).toBe(false);
});

test('says when a newer application is there, and starts it', async ({ page }) => {
  const server = await startServer(5_120);
  await page.goto(server.address);
  await expect(page.getByText(kept)).toBeVisible();
  await server.close();
  // Another page is another version.
  const index = join(server.folder, 'index.html');
  writeFileSync(index, readFileSync(index, 'utf8').replace('<title>Tangled Choir</title>', '<title>Tangled Choir, the next</title>'));
  const list = join(server.folder, 'ngsw.json');
  const hash = createHash('sha1').update(readFileSync(index)).digest('hex');
  writeFileSync(list, readFileSync(list, 'utf8').replace(/("\/index.html": )"[0-9a-f]+"/, `$1"${hash}"`));
  for (const packed of ['.br', '.gz']) rmSync(list + packed, { force: true });
  const next = await startServer(Number(new URL(server.address).port), server.folder);
  expect(next.address).toBe(server.address);
  await page.reload();
  await page.getByRole('button', { name: 'Start it now' }).click();
  await expect(page).toHaveTitle('Tangled Choir, the next');
  await next.close();
  rmSync(next.folder, { recursive: true });
});

test.describe('without a copy', () => {
  test.use({ serviceWorkers: 'block' });

  test('a view that does not arrive is told, and comes when it is asked for again', async ({ page }) => {
    await page.goto('/demo');
    await expect(page).toHaveURL(/loft$/);
    await page.route(/chunk-.*\.js$/, (route) => route.abort());
    await page.getByRole('link', { name: 'Conduct', exact: true }).click();
    await expect(page.getByText('This view could not be opened: it could not be loaded. Is the server there?')).toBeVisible();
    await expect(page).toHaveURL(/loft$/);
    await page.unrouteAll();
    await page.getByRole('button', { name: 'Try again' }).click();
    await expect(page).toHaveURL(/conduct$/);
    await expect(page.locator('tc-conduct-view')).toBeVisible();
  });
});
