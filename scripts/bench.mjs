/** `npm run bench`: prints measured speeds as a table. */
import { existsSync } from 'node:fs';
import { installPackages } from './install.mjs';

installPackages();
const { buildIfChanged, run } = await import('./build.mjs');
buildIfChanged('demo', 'dist/halda-station.choir', ['core/src', 'demo/src', 'demo/picture', 'package-lock.json'], () =>
  run(process.execPath, ['--import', 'tsx', 'cli/src/main.ts', 'demo', '--out', 'dist/halda-station.choir']),
);
run(process.execPath, [
  'node_modules/esbuild/bin/esbuild',
  'scripts/bench/main.ts',
  '--bundle',
  '--platform=node',
  '--format=esm',
  '--outfile=dist/bench.mjs',
  '--log-level=error',
]);
run(process.execPath, ['dist/bench.mjs']);
// Beside the reference library for stretching, which is installed for this alone.
run(process.execPath, [
  'node_modules/esbuild/bin/esbuild',
  'scripts/bench/stretch.ts',
  '--bundle',
  '--platform=node',
  '--format=esm',
  '--outfile=dist/bench-stretch.mjs',
  '--external:signalsmith-stretch',
  '--log-level=error',
]);
run(process.execPath, ['dist/bench-stretch.mjs']);
// The comparison with the browser's own nodes needs a browser.
if (existsSync('/usr/bin/chromium')) run(process.execPath, ['scripts/bench/browser.mjs']);
else console.log('No Chromium here, so nothing is compared with the browser’s own nodes.');
