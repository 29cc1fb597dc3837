/**
 * Draws the demo picture with demo/src/picture and writes demo/picture/halda-station.webm. Run it after changing the drawing; the
 * result is committed, because encoders differ from machine to machine.
 */
import { writeFileSync } from 'node:fs';
import { build } from 'esbuild';
import { chromium } from '@playwright/test';
import { chromiumArguments, chromiumPath } from '../chromium.mjs';

const { outputFiles } = await build({
  entryPoints: ['scripts/demo-picture/encode.ts'],
  bundle: true,
  format: 'iife',
  target: 'es2022',
  write: false,
  logLevel: 'warning',
});
const browser = await chromium.launch({ executablePath: chromiumPath, args: chromiumArguments });
const page = await browser.newPage();
// Encoders are only there in a secure context.
await page.route('http://localhost/', (route) => route.fulfill({ contentType: 'text/html', body: '<!doctype html>' }));
await page.goto('http://localhost/');
await page.addScriptTag({ content: outputFiles[0].text });
const bytes = await page.evaluate(() => globalThis.encodePicture());
await browser.close();
writeFileSync('demo/picture/halda-station.webm', Uint8Array.from(bytes));
console.log(`demo/picture/halda-station.webm: ${(bytes.length / 1_000).toFixed(0)} kB`);
