/** Installs the packages when the lock file has changed since the last time. Uses nothing but Node. */
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));

export function installPackages() {
  const stampFile = join(root, 'node_modules/.choir-install');
  const now = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === now) return;
  console.log('Installing packages…');
  const { status } = spawnSync('npm', ['ci', '--no-audit', '--no-fund'], { cwd: root, stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
  writeFileSync(stampFile, now);
}
