/** `npm test`: everything, from a fresh clone. Ends with a line that counts the tests. */
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { join } from 'node:path';
import { installPackages } from './install.mjs';
import { ensureChromium } from './chromium.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));
const results = join(root, 'test-results');
const counts = { passed: 0, failed: 0, skipped: 0 };
let broken = false;

function step(name, args, env = {}) {
  console.log(`\n— ${name}`);
  const started = Date.now();
  const { status } = spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
  console.log(`${name}: ${status === 0 ? 'fine' : 'failed'} (${((Date.now() - started) / 1000).toFixed(0)} s)`);
  if (status !== 0) broken = true;
  return status === 0;
}

function jest(workspace) {
  const file = join(results, `jest-${workspace}.json`);
  step(`unit tests of ${workspace}`, [
    'node_modules/jest/bin/jest.js',
    '-c',
    `${workspace}/jest.config.mjs`,
    '--json',
    `--outputFile=${file}`,
    '--silent',
    '--maxWorkers=100%',
  ]);
  try {
    const report = JSON.parse(readFileSync(file, 'utf8'));
    counts.passed += report.numPassedTests;
    counts.failed += report.numFailedTests + report.numRuntimeErrorTestSuites;
    counts.skipped += report.numPendingTests;
  } catch {
    counts.failed += 1;
  }
}

installPackages();
ensureChromium();
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

step('worklet', ['scripts/build-worklet.mjs']);
step('formatting', ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.']);
step('lint', ['node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0']);
step('types', ['scripts/types.mjs']);
for (const workspace of ['core', 'web', 'server', 'cli', 'demo']) jest(workspace);
if (step('build', ['scripts/build.mjs'])) {
  const report = join(results, 'playwright.json');
  step('browser tests', ['node_modules/@playwright/test/cli.js', 'test', '-c', 'e2e/playwright.config.ts'], {
    PLAYWRIGHT_JSON_OUTPUT_NAME: report,
  });
  try {
    const { stats } = JSON.parse(readFileSync(report, 'utf8'));
    counts.passed += stats.expected;
    counts.failed += stats.unexpected;
    counts.skipped += stats.skipped;
  } catch {
    counts.failed += 1;
  }
}

console.log(`\n${counts.passed} passed, ${counts.failed} failed${counts.skipped ? `, ${counts.skipped} skipped` : ''}`);
process.exit(broken || counts.failed > 0 || counts.passed === 0 ? 1 : 0);
