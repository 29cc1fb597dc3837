/** Sees to it that Debian's Chromium is there; the browser tests drive it. */
import { existsSync } from 'node:fs';
import { spawnSync } from 'node:child_process';

export const chromiumPath = '/usr/bin/chromium';

/** Headless, without a display or a sandbox of its own, and without looking for a network. */
export const chromiumArguments = [
  '--no-sandbox',
  '--disable-dev-shm-usage',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--autoplay-policy=no-user-gesture-required',
  '--mute-audio',
];

export function ensureChromium() {
  if (existsSync(chromiumPath)) return;
  console.log('Installing Chromium…');
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  for (const args of [
    ['apt-get', 'update'],
    ['apt-get', 'install', '-y', '--no-install-recommends', 'chromium'],
  ]) {
    const [command, ...rest] = [...sudo, ...args];
    spawnSync(command, rest, { stdio: 'inherit', env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  }
  if (!existsSync(chromiumPath)) {
    console.error('Chromium could not be installed. Install Debian’s package “chromium” by hand and run the tests again.');
    process.exit(1);
  }
}
