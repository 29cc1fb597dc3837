/** Bundles the command line into cli/dist or the folder that is named: one file, so that it starts without compiling or looking for others, and one for its workers. */
import { build } from 'esbuild';

await build({
  entryPoints: { choir: 'cli/src/main.ts', 'jobs.worker': 'jobs/src/node/worker.ts' },
  outdir: process.argv[2] ?? 'cli/dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  loader: { '.wasm': 'binary' },
  minifyWhitespace: true,
  minifySyntax: true,
  format: 'esm',
  // Some packages are CommonJS and ask for Node's own modules.
  banner: {
    js: "#!/usr/bin/env node\nimport { createRequire as requireFrom } from 'node:module';\nconst require = requireFrom(import.meta.url);",
  },
  logLevel: 'warning',
});
