/** Sees to it that the programs are there that tests need: those that say from outside what is in a file, and the Redis of a farm. */
import { spawnSync } from 'node:child_process';
import { installDebian } from './debian.mjs';

/** Programs by the Debian package that has them. */
const programs = { ffmpeg: 'ffmpeg', flac: 'flac', opusinfo: 'opus-tools', 'redis-server': 'redis-server' };

const isThere = (program) => spawnSync('which', [program], { stdio: 'ignore' }).status === 0;

export function ensureDecoders() {
  const missing = Object.keys(programs).filter((program) => !isThere(program));
  if (missing.length === 0) return;
  installDebian(missing.map((program) => programs[program]));
  const still = missing.filter((program) => !isThere(program));
  if (still.length > 0) {
    console.error(`Tests need ${still.join(', ')}: install Debian’s packages by hand and run them again.`);
    process.exit(1);
  }
}
