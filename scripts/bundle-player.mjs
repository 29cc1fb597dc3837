/** Bundles the player: what a game loads, and the worklet that it names. A second minifier takes five percent off what the bundler leaves. */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { minify } from '@swc/core';
import { build } from 'esbuild';

const home = 'packages/player/src';

/** A kernel goes in as a text of its bytes: in base64 it is a third longer, and packs badly. */
const plainKernels = {
  name: 'plain kernels',
  setup({ onLoad }) {
    onLoad({ filter: /voice-kernel\.generated\.ts$/ }, ({ path }) => {
      const [, base64] = /'([^']+)';/.exec(readFileSync(path, 'utf8'));
      return {
        contents: `export const kernelsBase64 = ${JSON.stringify(Buffer.from(base64, 'base64').toString('latin1'))};`,
        loader: 'js',
      };
    });
    onLoad({ filter: /from-base64\.ts$/ }, () => ({
      contents: 'export const fromBase64 = (text) => Uint8Array.from(text, (letter) => letter.charCodeAt(0));',
      loader: 'js',
    }));
  },
};

/** Names of what only the processor itself knows; they are shortened there. */
const inner = (
  'addTo alive busLines compression counter emitters ending endsNext evenly filtered lastFrame memories mixer ' +
  'moving nextTick octaves playPlain recent roomRight scene score smears stopping strips walks zeros'
).split(' ');

/** Shortened on one side alone, a name that both sides use would no longer be found. */
function checkInner(pageSide) {
  const shared = readFileSync('docs/conduct.schema.json', 'utf8') + pageSide;
  const known = inner.filter((name) => new RegExp(`\\b${name}\\b`).test(shared));
  if (known.length > 0) throw new Error(`Not only the processor knows ${known.join(', ')}: scripts/bundle-player.mjs must not shorten it.`);
}

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
    plugins: [plainKernels],
    metafile: true,
    logLevel: 'warning',
  });
  mkdirSync(folder, { recursive: true });
  for (const { path, text } of outputFiles) {
    const file = path.split(/[\\/]/).at(-1);
    const isPageSide = file === 'player.js';
    if (isPageSide) checkInner(text);
    const props = isPageSide ? undefined : { regex: `^(${inner.join('|')})$` };
    const { code } = await minify(text, {
      module: true,
      compress: { passes: 4, ecma: 2022, toplevel: true },
      mangle: { toplevel: true, props },
    });
    writeFileSync(join(folder, file), code);
  }
  return Object.keys(metafile.inputs);
}
