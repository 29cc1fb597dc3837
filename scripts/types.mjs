/**
 * Type-checks every part; `ng build` and Jest leave workers, worklets and tests out. Core comes first, because all others read only the
 * declarations that it leaves in node_modules/.cache; then two at a time. `--without-app` leaves out what `ng build` checks anyway.
 */
import { spawn } from 'node:child_process';

// Several times as fast as the one that Angular's compiler and the linter still need; both read the same language.
const compiler = 'node_modules/typescript-native/bin/tsc';
const others = [
  ...(process.argv.includes('--without-app')
    ? []
    : [['node_modules/@angular/compiler-cli/bundles/src/bin/ngc.js', '--noEmit', '-p', 'web/tsconfig.app.json']]),
  ...[
    'web/tsconfig.spec.json',
    'core/tsconfig.spec.json',
    'e2e',
    'web/tsconfig.worker.json',
    'cli',
    'encoders',
    'farm',
    'jobs',
    'demo',
    'demo/game',
    'server',
    'scripts',
    'web/tsconfig.worklet.json',
    'packages/player',
    'packages/player/tsconfig.worklet.json',
  ].map((project) => [compiler, '--noEmit', '-p', project]),
];

function check(args) {
  return new Promise((resolve) => {
    const running = spawn(process.execPath, args, { stdio: 'inherit' });
    running.on('exit', (code) => resolve(code === 0));
  });
}

let fine = await check([compiler, '-b', 'core']);
async function checkNext() {
  for (let next = others.shift(); next; next = others.shift()) fine = (await check(next)) && fine;
}
if (fine) await Promise.all([checkNext(), checkNext()]);
process.exit(fine ? 0 : 1);
