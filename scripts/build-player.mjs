/** Bundles the player into packages/player/dist: what a game loads, and the worklet that it names. */
import { build } from 'esbuild';

await build({
  entryPoints: { player: 'packages/player/src/index.ts', processor: 'packages/player/src/conductor.processor.ts' },
  outdir: process.argv[2] ?? 'packages/player/dist',
  bundle: true,
  format: 'esm',
  target: 'es2022',
  minify: true,
  logLevel: 'warning',
});
