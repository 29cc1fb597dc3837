/** Bundles the audio worklets into web/src/generated/, where the application's build picks them up as files. */
import { build } from 'esbuild';

await build({
  entryPoints: [
    'web/src/app/engine/live/player.processor.ts',
    'web/src/app/engine/live/levels.processor.ts',
    'web/src/app/engine/record/recorder.processor.ts',
    'packages/player/src/conductor.processor.ts',
  ],
  outdir: 'web/src/generated',
  entryNames: '[name]',
  bundle: true,
  format: 'esm',
  target: 'es2022',
  minify: true,
  logLevel: 'warning',
});
