/** Builds the demo's game into web/dist/browser/game: the page, the player, and what Conduct writes for a game. */
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync } from 'node:fs';
import { build } from 'esbuild';
import { bundlePlayer } from './bundle-player.mjs';

const target = 'web/dist/browser/game';
mkdirSync(target, { recursive: true });
for (const file of ['index.html', 'game.css']) copyFileSync(`demo/game/${file}`, `${target}/${file}`);
await build({
  entryPoints: {
    game: 'demo/game/game.ts',
  },
  outdir: target,
  bundle: true,
  format: 'esm',
  target: 'es2022',
  minify: true,
  logLevel: 'warning',
});
await bundlePlayer(target);
const { status } = spawnSync(process.execPath, ['cli/dist/choir.mjs', 'conduct', 'dist/halda-station.choir', '--files', target], {
  stdio: ['ignore', 'ignore', 'inherit'],
});
process.exit(status ?? 1);
