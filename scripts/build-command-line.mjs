/** Bundles the command line into cli/dist or the folder that is named, so that it starts without compiling: its start, its workers, and parts that few commands need. */
import { rmSync } from 'node:fs';
import { build } from 'esbuild';

const outdir = process.argv[2] ?? 'cli/dist';
// Parts are named by what is in them; those of before would stay.
rmSync(outdir, { recursive: true, force: true });

await build({
  entryPoints: { choir: 'cli/src/main.ts', 'jobs.worker': 'jobs/src/node/worker.ts' },
  outdir,
  outExtension: { '.js': '.mjs' },
  chunkNames: 'part-[hash]',
  bundle: true,
  // What few commands need, such as encoders and the farm, is read when they need it.
  splitting: true,
  platform: 'node',
  target: 'node20',
  loader: { '.wasm': 'binary' },
  minifyWhitespace: true,
  minifySyntax: true,
  format: 'esm',
  // Some packages are CommonJS and ask for Node's own modules, and where they lie.
  banner: {
    js: "#!/usr/bin/env node\nimport { createRequire as requireFrom } from 'node:module';\nimport { dirname as folderOf } from 'node:path';\nimport { fileURLToPath as pathOf } from 'node:url';\nconst require = requireFrom(import.meta.url);\nconst __dirname = folderOf(pathOf(import.meta.url));",
  },
  logLevel: 'warning',
});
