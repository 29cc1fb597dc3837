/**
 * `npm test`: everything, from a fresh clone. Two lanes run side by side, because each leaves a core idle now and then: one checks the code, the
 * other builds the application and drives it. Ends with a line that counts the tests.
 */
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { spawn } from 'node:child_process';
import { setPriority } from 'node:os';
import { fileURLToPath } from 'node:url';
import { join } from 'node:path';
import { installPackages } from './install.mjs';
import { ensureChromium } from './chromium.mjs';
import { ensureDecoders } from './decoders.mjs';
import { failedInBrowser, failedInJest } from './failures.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));
const results = join(root, 'test-results');
const counts = { passed: 0, failed: 0, skipped: 0 };
const failures = [];
let broken = false;

/** Runs a step, after others if it is patient; what it prints is shown as a whole when it is done, so that the lanes do not mix. */
function step(name, args, { env = {}, patient = false } = {}) {
  const started = Date.now();
  const running = spawn(process.execPath, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], env: { ...process.env, ...env } });
  // A browser that is driven answers sooner than a compiler that nobody waits for; what a step starts inherits it.
  if (patient) setPriority(running.pid, 5);
  let printed = '';
  for (const stream of [running.stdout, running.stderr]) stream.on('data', (data) => (printed += data));
  return new Promise((resolve) => {
    running.on('close', (code) => {
      console.log(`\n— ${name}: ${code === 0 ? 'fine' : 'failed'} (${((Date.now() - started) / 1000).toFixed(0)} s)`);
      if (printed.trim()) console.log(printed.trim());
      if (code !== 0) broken = true;
      resolve(code === 0);
    });
  });
}

const patientStep = (name, args) => step(name, args, { patient: true });

async function jest(workspace) {
  const file = join(results, `jest-${workspace.replace('/', '-')}.json`);
  await patientStep(`unit tests of ${workspace}`, [
    'node_modules/jest/bin/jest.js',
    '-c',
    `${workspace}/jest.config.mjs`,
    '--json',
    `--outputFile=${file}`,
    '--silent',
    '--maxWorkers=2',
  ]);
  try {
    const report = JSON.parse(readFileSync(file, 'utf8'));
    counts.passed += report.numPassedTests;
    counts.failed += report.numFailedTests + report.numRuntimeErrorTestSuites;
    counts.skipped += report.numPendingTests;
    failures.push(...failedInJest(report));
  } catch {
    counts.failed += 1;
  }
}

async function browserTests() {
  const report = join(results, 'playwright.json');
  await step('browser tests', ['node_modules/@playwright/test/cli.js', 'test', '-c', 'e2e/playwright.config.ts'], {
    env: { PLAYWRIGHT_JSON_OUTPUT_NAME: report },
  });
  try {
    const read = JSON.parse(readFileSync(report, 'utf8'));
    counts.passed += read.stats.expected + read.stats.flaky;
    counts.failed += read.stats.unexpected;
    counts.skipped += read.stats.skipped;
    failures.push(...failedInBrowser(read));
  } catch {
    counts.failed += 1;
  }
}

async function checkCode() {
  await patientStep('formatting', ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.']);
  await patientStep('lint', ['node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0']);
  // The other lane's build checks the types of the application.
  await patientStep('types', ['scripts/types.mjs', '--without-app']);
  for (const workspace of ['core', 'encoders', 'jobs', 'farm', 'packages/player', 'web', 'server', 'cli', 'demo']) await jest(workspace);
}

async function driveApplication() {
  if (await step('build', ['scripts/build.mjs'])) await browserTests();
}

const started = Date.now();
installPackages();
ensureChromium();
ensureDecoders();
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });
// Both lanes need the worklets.
await step('worklets', ['scripts/build-worklet.mjs']);
await Promise.all([driveApplication(), checkCode()]);

// Once more at the end: of a long log often nothing else is kept.
for (const failure of failures) console.log(`\n✕ ${failure}`);
console.log(`\nTook ${((Date.now() - started) / 60_000).toFixed(1)} minutes.`);
console.log(`\n${counts.passed} passed, ${counts.failed} failed${counts.skipped ? `, ${counts.skipped} skipped` : ''}`);
process.exit(broken || counts.failed > 0 || counts.passed === 0 ? 1 : 0);
