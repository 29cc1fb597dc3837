import { resolve } from 'node:path';
import { expect, test } from '@playwright/test';
import { listenOnFreePort } from '../../server/src/listen';
import { createServer } from '../../server/src/server';
import { deliveredOriginal } from '../steps';

/** The application on a host that knows nothing of isolation. */
async function startPlainServer() {
  const server = await createServer({ application: resolve('web/dist/browser'), demo: 'dist/halda-station.choir' });
  server.addHook('onSend', async (_request, reply) => {
    for (const header of ['Cross-Origin-Opener-Policy', 'Cross-Origin-Embedder-Policy']) reply.removeHeader(header);
  });
  return { server, address: await listenOnFreePort(server, '127.0.0.1', 5_140) };
}

test('without isolation it plays, says that it is slower, and delivers the same samples', async ({ page, baseURL }) => {
  const { server, address } = await startPlainServer();
  await page.goto(`${address}/demo`);
  await expect(page.getByRole('button', { name: 'Mute Slab body' })).toBeVisible();
  expect(await page.evaluate(() => [crossOriginIsolated, typeof SharedArrayBuffer])).toEqual([false, 'undefined']);
  // What stands beside it comes and goes while the demo is measured, and may push it away from under the pointer.
  await expect(async () => {
    await page.mouse.move(0, 0);
    await page.getByText('slower here').hover();
    await expect(page.locator('.mat-mdc-tooltip-show')).toContainText('This server does not isolate the page', { timeout: 5_000 });
  }).toPass();

  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByTestId('short-term')).not.toContainText('∞');
  await expect.poll(async () => Number(await page.getByTestId('output-meter').getAttribute('aria-valuenow'))).toBeGreaterThan(-55);
  await expect.poll(() => page.getByTestId('time').textContent()).toMatch(/0[1-9]\.\d+$/);
  // An edit is heard while it plays, and a jump is made.
  await page.getByRole('button', { name: 'Mute Slab body' }).click();
  await page.keyboard.press('Home');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await page.getByRole('button', { name: /ute Slab body$/ }).click();
  const here = await deliveredOriginal(page);
  await server.close();

  await page.goto(`${baseURL}/demo`);
  await expect(page.getByRole('button', { name: 'Mute Slab body' })).toBeVisible();
  await expect(page.getByText('slower here')).toBeHidden();
  const there = await deliveredOriginal(page);
  expect(
    here.channels.map((channel) => Buffer.from(channel.buffer).equals(Buffer.from(there.channels[here.channels.indexOf(channel)]!.buffer))),
  ).toEqual([true, true]);
});
