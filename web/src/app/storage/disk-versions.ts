import type { DiskFolder } from './folder';

const mostVersions = 10;
/** Milliseconds between versions: ten of them reach back some hours of work. */
const betweenVersions = 20 * 60_000;
/** A moment as a file can be called everywhere: “2026-12-01 08.30.05”; in the time of the place, as people remember it. */
const nameOf = (time: Date): string => {
  const two = (number: number): string => String(number).padStart(2, '0');
  const date = [time.getFullYear(), two(time.getMonth() + 1), two(time.getDate())].join('-');
  return `${date} ${[time.getHours(), time.getMinutes(), time.getSeconds()].map(two).join('.')}`;
};
const versionName = /^(\d{4})-(\d{2})-(\d{2}) (\d{2})\.(\d{2})\.(\d{2})\.choir$/;

function timeOf(version: string): number {
  const [, year, month, day, hours, minutes, seconds] = (versionName.exec(version) ?? []).map(Number);
  return new Date(year!, month! - 1, day, hours, minutes, seconds).getTime();
}

/** The file that a project is written to, and the folder of its versions. */
export const copyPaths = (name: string) => ({ file: `${name}.choir`, versions: `${name}-versions` });

/**
 * Writes a project into a folder: as NAME.choir, and now and then once more into “NAME-versions”, of which the last ten are kept. Files of other
 * names are left alone.
 */
export async function writeCopy(folder: DiskFolder, name: string, archive: Blob, now: Date): Promise<void> {
  const paths = copyPaths(name);
  await folder.write(paths.file, archive);
  const versions = (await folder.list(paths.versions)).filter((file) => versionName.test(file)).sort();
  const newest = versions.at(-1);
  if (newest !== undefined && Math.abs(now.getTime() - timeOf(newest)) < betweenVersions) return;
  await folder.write(`${paths.versions}/${nameOf(now)}.choir`, archive);
  for (const old of versions.slice(0, Math.max(0, versions.length + 1 - mostVersions))) await folder.remove(`${paths.versions}/${old}`);
}
