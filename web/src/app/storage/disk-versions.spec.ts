import { writeCopy } from './disk-versions';
import type { DiskFolder } from './folder';

/** A folder in memory. */
function folderWith(files: Map<string, string>): DiskFolder {
  return {
    name: 'Halda',
    write: async (path, content) => void files.set(path, await new Blob([content]).text()),
    read: async (path) => (files.has(path) ? new TextEncoder().encode(files.get(path)) : undefined),
    list: async (path) => [...files.keys()].filter((file) => file.startsWith(`${path}/`)).map((file) => file.slice(path.length + 1)),
    remove: async (path) => void files.delete(path),
  };
}

const minutes = 60_000;
const begin = new Date(2026, 11, 1, 8, 30, 5).getTime();

describe('a copy on disk', () => {
  it('is one file, with a version every twenty minutes, named by its time', async () => {
    const files = new Map<string, string>();
    const folder = folderWith(files);
    for (const [minute, content] of [
      [0, 'a'],
      [5, 'b'],
      [19, 'c'],
      [20, 'd'],
    ] as const)
      await writeCopy(folder, 'Halda-Station', new Blob([content]), new Date(begin + minute * minutes));
    expect([...files.entries()].sort()).toEqual([
      ['Halda-Station-versions/2026-12-01 08.30.05.choir', 'a'],
      ['Halda-Station-versions/2026-12-01 08.50.05.choir', 'd'],
      ['Halda-Station.choir', 'd'],
    ]);
  });

  it('keeps the last ten versions, and files of other names', async () => {
    const files = new Map([
      ['Halda-Station-versions/notes.txt', 'mine'],
      ['Halda-Station-versions/an old one.choir', 'mine'],
      ['Another.choir', 'mine'],
    ]);
    for (let i = 0; i < 25; i++)
      await writeCopy(folderWith(files), 'Halda-Station', new Blob([String(i)]), new Date(begin + i * 30 * minutes));
    const versions = [...files.entries()].filter(([, content]) => content !== 'mine' && content !== undefined);
    expect(versions.map(([, content]) => content).sort()).toEqual([...Array.from({ length: 10 }, (_, i) => String(15 + i)), '24'].sort());
    expect([...files.values()].filter((content) => content === 'mine')).toHaveLength(3);
  });

  it('makes a version, too, where the clock was turned back', async () => {
    const files = new Map<string, string>();
    await writeCopy(folderWith(files), 'Halda', new Blob(['a']), new Date(begin));
    await writeCopy(folderWith(files), 'Halda', new Blob(['b']), new Date(begin - 60 * minutes));
    expect(files.get('Halda-versions/2026-12-01 07.30.05.choir')).toBe('b');
  });
});
