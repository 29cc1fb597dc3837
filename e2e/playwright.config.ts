import { defineConfig } from '@playwright/test';
import { chromiumArguments, chromiumPath } from '../scripts/chromium.mjs';

const port = Number(process.env['E2E_PORT'] ?? 4891);

/** Tests that tell what the machine can carry, such as what is too heavy to be played live: another test beside them would count. */
const alone = /@alone/;

export default defineConfig({
  testDir: './tests',
  outputDir: '../test-results/browser',
  // Generous, because machines that run tests are often busy; nothing is measured by the clock.
  timeout: 240_000,
  expect: { timeout: 60_000 },
  workers: 2,
  fullyParallel: true,
  // A shared machine sometimes stands still for longer than any state takes. What passes only then is named at the end of the run.
  retries: 1,
  reporter: process.env['PLAYWRIGHT_JSON_OUTPUT_NAME'] ? [['list'], ['json']] : [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    colorScheme: 'dark',
    // It would fetch the whole application for every test; those that are about it let it.
    serviceWorkers: 'block',
    // Traces of every test would cost a third of the run.
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: chromiumPath,
      args: chromiumArguments,
    },
  },
  projects: [
    { name: 'side by side', grepInvert: alone },
    { name: 'alone', grep: alone, workers: 1, dependencies: ['side by side'] },
  ],
  webServer: {
    command: 'node scripts/serve.mjs',
    cwd: '..',
    url: `http://127.0.0.1:${port}/health`,
    env: { PORT: String(port) },
    reuseExistingServer: false,
  },
});
