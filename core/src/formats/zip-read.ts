import { unzipSync } from 'fflate';
import { DataError } from '../project/parse';

const mostEntries = 20_000;
const mostBytes = 3 * 2 ** 30;
const highestRatio = 1_000;

/**
 * The files of a zip whose names `wanted` accepts, by their paths. Refuses archives that would unpack to far more than they are. Throws
 * DataError.
 */
export function readZip(bytes: Uint8Array, wanted: (path: string) => boolean, what = 'The archive'): Map<string, Uint8Array> {
  if (bytes.length < 22 || bytes[0] !== 0x50 || bytes[1] !== 0x4b) throw new DataError(`${what} is not a zip file.`);
  let total = 0;
  let count = 0;
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, size, originalSize }) => {
        if (++count > mostEntries) throw new DataError(`${what} has more than ${mostEntries} entries.`);
        // Paths are names only, never places to write to; resource forks and hidden files are no recordings.
        if (name.endsWith('/') || /(^|\/)(\.|__MACOSX\/)/.test(name) || !wanted(name)) return false;
        total += originalSize;
        if (total > mostBytes || originalSize > Math.max(1, size) * highestRatio)
          throw new DataError(`${what} would unpack to far more than it should (“${name.slice(0, 100)}”); it was not opened.`);
        return true;
      },
    });
    return new Map(Object.entries(files));
  } catch (error) {
    if (error instanceof DataError) throw error;
    throw new DataError(`${what} cannot be unpacked: ${error instanceof Error ? error.message : 'it is damaged'}.`);
  }
}
