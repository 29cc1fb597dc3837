/** Bundles the encoders into web/src/generated/: a module that the worker of jobs loads when the first compressed file is written. */
import { build } from 'esbuild';

await build({
  entryPoints: { encoders: 'encoders/src/index.ts' },
  outdir: 'web/src/generated',
  bundle: true,
  format: 'esm',
  platform: 'browser',
  target: 'es2022',
  loader: { '.wasm': 'binary' },
  // A library looks for Node, and asks for its files where it finds it.
  external: ['fs', 'path'],
  minify: true,
  logLevel: 'warning',
});
