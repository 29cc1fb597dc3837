/** Sees to it that Debian's Chromium is there; the browser tests drive it. */
import { existsSync } from 'node:fs';
import { installDebian } from './debian.mjs';

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
  installDebian(['chromium']);
  if (!existsSync(chromiumPath)) {
    console.error('Chromium could not be installed. Install Debian’s package “chromium” by hand and run the tests again.');
    process.exit(1);
  }
}
