import { spawn } from 'node:child_process';
import { chromium } from '@playwright/test';
import { chromiumArguments, chromiumPath } from './chromium.mjs';
const port = 4896;
const server = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
  env: { ...process.env, PORT: String(port) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((resolve) => server.stdout.once('data', resolve));
const browser = await chromium.launch({ executablePath: chromiumPath, args: chromiumArguments });
const page = await (
  await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: process.env.SCHEME ?? 'dark' })
).newPage();
page.on('console', (m) => {
  if (['error', 'warning'].includes(m.type())) console.log(m.type(), m.text());
});
page.on('pageerror', (e) => console.log('pageerror', e.message));
await page.goto(`http://127.0.0.1:${port}/demo`);
await page.waitForURL(/loft$/);
await page.waitForTimeout(1500);
const shot = (name) => page.screenshot({ path: `/tmp/shots/${name}.png` });
try {
  await (await import(process.argv[2])).default(page, shot);
} catch (e) {
  console.log(e.message);
  await shot('failed');
}
await browser.close();
server.kill();
