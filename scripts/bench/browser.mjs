/** Effects beside the browser's own nodes: one page, one run, the same sound. */
import { createServer } from 'node:http';
import { build } from 'esbuild';
import { chromium } from '@playwright/test';
import { chromiumArguments, chromiumPath } from '../chromium.mjs';

const { outputFiles } = await build({
  entryPoints: ['scripts/bench/page.ts'],
  bundle: true,
  format: 'esm',
  write: false,
  logLevel: 'error',
});
const server = createServer((request, response) => {
  response.setHeader('Content-Type', request.url === '/page.js' ? 'text/javascript' : 'text/html');
  response.end(request.url === '/page.js' ? outputFiles[0].text : '<script type="module" src="/page.js"></script>');
});
await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
const browser = await chromium.launch({
  executablePath: chromiumPath,
  args: chromiumArguments,
});
const page = await browser.newPage();
await page.goto(`http://127.0.0.1:${server.address().port}/`);
await page.waitForFunction(() => 'results' in window, undefined, { timeout: 240_000 });
const rows = await page.evaluate(() => window.results);
console.log('\nBeside the browser’s own nodes (x real time, mono, one page):\n');
for (const { what, ours, native } of rows)
  console.log(
    `| ${what.padEnd(24)} | ours ${ours.toFixed(0).padStart(5)} | native ${native.toFixed(0).padStart(5)} | ${(ours / native).toFixed(1)} x as fast |`,
  );
await browser.close();
server.close();
