/** `npm run hashes`: builds what it needs and prints a hash of every render (see `render-hashes.ts`). */
import { buildDemo, run } from './build.mjs';

buildDemo();
run(process.execPath, [
  'node_modules/esbuild/bin/esbuild',
  'scripts/render-hashes.ts',
  '--bundle',
  '--platform=node',
  '--format=esm',
  '--outfile=dist/render-hashes.mjs',
  '--log-level=error',
]);
run(process.execPath, ['dist/render-hashes.mjs', ...process.argv.slice(2)]);
