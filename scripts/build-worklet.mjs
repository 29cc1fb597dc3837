/** Bundles the audio worklet into web/src/generated/, where the application's build picks it up as a file. */
import { build } from 'esbuild';

await build({
  entryPoints: ['web/src/app/engine/player.processor.ts'],
  outfile: 'web/src/generated/player.processor.js',
  bundle: true,
  format: 'esm',
  target: 'es2022',
  minify: true,
  logLevel: 'warning',
});
