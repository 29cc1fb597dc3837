/** Builds what is not up to date: the demo archive and the web application. Each remembers a hash of the files that it was made from. */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { compressBelow } from './compress.mjs';
import { listOfflineCopy } from './offline-copy.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));

function* filesBelow(path) {
  if (!existsSync(path)) return;
  if (statSync(path).isFile()) {
    yield path;
    return;
  }
  for (const entry of readdirSync(path).sort()) {
    if (['node_modules', 'dist', '.angular', 'generated'].includes(entry) || entry.endsWith('.spec.ts')) continue;
    yield* filesBelow(join(path, entry));
  }
}

function hashOf(paths) {
  const hash = createHash('sha256');
  for (const path of paths) for (const file of filesBelow(join(root, path))) hash.update(file).update(readFileSync(file));
  return hash.digest('hex');
}

/** Runs `make` unless `result` exists and was made from the same files. */
export function buildIfChanged(name, result, paths, make) {
  const stampFile = join(root, 'dist', `${name}.stamp`);
  const now = hashOf(paths);
  if (existsSync(join(root, result)) && existsSync(stampFile) && readFileSync(stampFile, 'utf8') === now) return false;
  // Not among what a command prints.
  console.error(`Building ${name}…`);
  mkdirSync(join(root, 'dist'), { recursive: true });
  make();
  writeFileSync(stampFile, now);
  return true;
}

export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (error) throw error;
  if (status !== 0) process.exit(status ?? 1);
}

/** The command line as one file that starts at once. */
export function buildCommandLine() {
  buildIfChanged(
    'command line',
    'cli/dist/choir.mjs',
    ['core/src', 'jobs/src', 'encoders/src', 'farm/src', 'demo/src', 'cli/src', 'package-lock.json'],
    () => run(process.execPath, ['scripts/build-command-line.mjs']),
  );
}

export function buildDemo() {
  buildCommandLine();
  buildIfChanged('demo', 'dist/halda-station.choir', ['core/src', 'demo/src', 'demo/picture', 'package-lock.json'], () =>
    run(process.execPath, ['cli/dist/choir.mjs', 'demo', '--out', 'dist/halda-station.choir']),
  );
}

export function buildAll() {
  buildDemo();
  buildIfChanged(
    'application',
    'web/dist/browser/index.html',
    ['core/src', 'jobs/src', 'encoders/src', 'packages/player/src', 'web', 'package-lock.json', 'tsconfig.base.json'],
    () => {
      run(process.execPath, ['scripts/build-worklet.mjs']);
      run(process.execPath, ['scripts/build-encoders.mjs']);
      run(process.execPath, [join(root, 'node_modules/@angular/cli/bin/ng.js'), 'build'], {
        cwd: join(root, 'web'),
        env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
      });
    },
  );
  const built = 'web/dist/browser';
  buildIfChanged(
    'offline copy',
    'web/dist/browser/ngsw.json',
    ['dist/application.stamp', 'dist/demo.stamp', 'web/ngsw-config.json', 'scripts/offline-copy.mjs', 'scripts/compress.mjs'],
    () => {
      listOfflineCopy(root, built);
      compressBelow(join(root, built));
    },
  );
  buildIfChanged(
    'game',
    'web/dist/browser/game/conduct.json',
    [
      'core/src',
      'jobs/src',
      'demo',
      'cli/src',
      'packages/player/src',
      'package-lock.json',
      'scripts/build-game.mjs',
      'scripts/bundle-player.mjs',
    ],
    () => run(process.execPath, ['scripts/build-game.mjs']),
  );
}

if (process.argv[1] === fileURLToPath(import.meta.url)) buildAll();
