import type { Ratio } from '../units';

/** A mean beyond this takes headroom, and clicks wherever the sound is cut. */
const leastOffset: Ratio = 0.01;
/** What swings slowly, or only once, has a mean, too; direct current is more of the sound than that. */
const shareOfLevel: Ratio = 0.2;

/** True where a wave does not swing around zero. Mean and root mean square, both as shares of full scale. */
export function isDirectCurrent(mean: Ratio, rms: Ratio): boolean {
  return Math.abs(mean) > leastOffset && Math.abs(mean) > shareOfLevel * rms;
}

/** A direct current in words. */
export function directCurrentText(mean: Ratio): string {
  return `a direct current of ${(Math.abs(mean) * 100).toFixed(1)} %`;
}
