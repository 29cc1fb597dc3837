/** Type-checks every part, two at a time; `ng build` and Jest leave workers, worklets and tests out. */
import { spawn } from 'node:child_process';

const compiler = 'node_modules/typescript/bin/tsc';
const checks = [
  ['node_modules/@angular/compiler-cli/bundles/src/bin/ngc.js', 'web/tsconfig.app.json'],
  [compiler, 'web/tsconfig.spec.json'],
  [compiler, 'core'],
  [compiler, 'core/tsconfig.spec.json'],
  [compiler, 'demo'],
  [compiler, 'server'],
  [compiler, 'cli'],
  [compiler, 'e2e'],
  [compiler, 'web/tsconfig.worker.json'],
  [compiler, 'web/tsconfig.worklet.json'],
];

function check([program, project]) {
  return new Promise((resolve) => {
    const running = spawn(process.execPath, [program, '--noEmit', '-p', project], { stdio: 'inherit' });
    running.on('exit', (code) => resolve(code === 0));
  });
}

let fine = true;
async function checkNext() {
  for (let next = checks.shift(); next; next = checks.shift()) fine = (await check(next)) && fine;
}
await Promise.all([checkNext(), checkNext()]);
process.exit(fine ? 0 : 1);
