/** Installs packages of Debian, where that is possible. */
import { spawnSync } from 'node:child_process';

export function installDebian(packages) {
  console.log(`Installing ${packages.join(', ')}…`);
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  for (const args of [
    ['apt-get', 'update'],
    ['apt-get', 'install', '-y', '--no-install-recommends', ...packages],
  ]) {
    const [command, ...rest] = [...sudo, ...args];
    spawnSync(command, rest, { stdio: 'inherit', env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  }
}
