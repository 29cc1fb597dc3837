import { DataError } from '../project/parse';
import type { ByteSource } from './byte-source';
import type { Collector } from './zip';
import { openZip } from './zip';

const mostBytes = 16 * 2 ** 30;
const highestRatio = 1_000;

/**
 * The files of a zip whose names `wanted` accepts, by their paths, as they were collected. Refuses archives that would unpack to far more
 * than they are. Rejects with DataError.
 */
export async function readZip<T>(
  source: ByteSource,
  wanted: (path: string) => boolean,
  what: string,
  collect: () => Collector<T>,
): Promise<Map<string, T>> {
  // Paths are names only, never places to write to; resource forks and hidden files are no recordings.
  const entries = (await openZip(source, what)).filter(({ name }) => !/(^|\/)(\.|__MACOSX\/)/.test(name) && wanted(name));
  let total = 0;
  for (const { name, size, packedSize } of entries) {
    total += size;
    if (total > mostBytes || size > Math.max(1, packedSize) * highestRatio)
      throw new DataError(`${what} would unpack to far more than it should (“${name.slice(0, 100)}”); it was not opened.`);
  }
  const files = new Map<string, T>();
  for (const entry of entries) {
    const collector = collect();
    await entry.extract((bytes) => collector.write(bytes));
    files.set(entry.name, collector.finish());
  }
  return files;
}
