import { spawn } from 'node:child_process';
import { chromium } from '@playwright/test';
import { chromiumArguments, chromiumPath } from './chromium.mjs';
const port = 4893;
const server = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
  env: { ...process.env, PORT: String(port) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((r) => server.stdout.once('data', r));
const browser = await chromium.launch({ executablePath: chromiumPath, args: chromiumArguments });
const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: 'dark' })).newPage();
page.on('console', (m) => {
  if (m.type() === 'error') console.log(m.text());
});
await page.goto(`http://127.0.0.1:${port}/demo`);
await page.waitForURL(/loft$/);
await page.waitForTimeout(2500);
try {
  const { steps } = await import(process.argv[2]);
  await steps(page, browser, port);
} catch (e) {
  console.log(e);
  await page.screenshot({ path: '/tmp/shot-fail.png' });
}
await browser.close();
server.kill();
