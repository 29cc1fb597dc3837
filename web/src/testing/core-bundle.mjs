/** Jest's setup of the web tests: core as one module, because its some 300 files would otherwise be looked up and transformed for every spec. */
import { buildSync } from 'esbuild';
import { fileURLToPath } from 'node:url';

export const coreBundle = fileURLToPath(new URL('../../../node_modules/.cache/core-bundle.cjs', import.meta.url));

export default function buildCore() {
  buildSync({
    entryPoints: [fileURLToPath(new URL('../../../core/src/index.ts', import.meta.url))],
    outfile: coreBundle,
    bundle: true,
    platform: 'node',
    format: 'cjs',
    target: 'node20',
    sourcemap: 'inline',
    logLevel: 'error',
  });
}
