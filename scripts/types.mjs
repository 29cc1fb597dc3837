/** Type-checks every part; `ng build` and Jest leave workers, worklets and tests out. */
import { run } from './build.mjs';

const projects = [
  'core',
  'core/tsconfig.spec.json',
  'demo',
  'server',
  'cli',
  'e2e',
  'web/tsconfig.worker.json',
  'web/tsconfig.worklet.json',
  'web/tsconfig.spec.json',
];
for (const project of projects) run(process.execPath, ['node_modules/typescript/bin/tsc', '--noEmit', '-p', project]);
run(process.execPath, ['node_modules/@angular/compiler-cli/bundles/src/bin/ngc.js', '--noEmit', '-p', 'web/tsconfig.app.json']);
