import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { EffectCatalogue } from '../project/parameters';
import { DataError, parseJson, parseProject } from '../project/parse';
import type { Project } from '../project/schema';
import { hashBytes } from './hash';

/**
 * The `.choir` archive: a zip of `project.json`, for each source `audio/<SHA-256>.wav`, and for each picture `pictures/<SHA-256>`. See
 * docs/choir-format.md.
 */
export interface Archive {
  readonly project: Project;
  /** WAV files and videos by hash, only those that the project uses. */
  readonly audio: ReadonlyMap<string, Uint8Array>;
  readonly pictures: ReadonlyMap<string, Uint8Array>;
  /** What is odd but harmless, for example audio that no source uses. */
  readonly notes: readonly string[];
}

const projectEntry = 'project.json';
const fileEntry = /^(audio\/[0-9a-f]{64}\.wav|pictures\/[0-9a-f]{64})$/;
const mostEntries = 20_001;
const mostProjectBytes = 64 * 2 ** 20;
/** Together with the size check against the archive itself this stops archives that unpack to far more than they are. */
const mostBytes = 4 * 2 ** 30;
const highestRatio = 1_000;

/** A file that a project refers to. */
interface NeededFile {
  readonly entry: string;
  readonly hash: string;
  readonly what: string;
  readonly kind: 'audio' | 'pictures';
}

/** Every file that the sources and the pictures of a project refer to, each once. */
function neededFiles(project: Project): NeededFile[] {
  const files = new Map<string, NeededFile>();
  for (const { name, audio } of project.sources)
    files.set(audio, { entry: `audio/${audio}.wav`, hash: audio, what: `The audio of “${name}”`, kind: 'audio' });
  for (const { name, picture } of project.sounds)
    if (picture)
      files.set(picture.video, {
        entry: `pictures/${picture.video}`,
        hash: picture.video,
        what: `The picture of “${name}”`,
        kind: 'pictures',
      });
  return [...files.values()];
}

/** Packs a project with its audio and its pictures. Throws DataError when one of them is missing. */
export function writeArchive(
  project: Project,
  audio: ReadonlyMap<string, Uint8Array>,
  pictures: ReadonlyMap<string, Uint8Array> = new Map(),
): Uint8Array<ArrayBuffer> {
  const entries: Record<string, [Uint8Array, { level: 0 | 6; mtime: number }]> = {};
  // A fixed date makes equal projects equal archives.
  const mtime = Date.UTC(2020, 0, 1, 12);
  entries[projectEntry] = [strToU8(JSON.stringify(project, null, 1)), { level: 6, mtime }];
  for (const { entry, hash, what, kind } of neededFiles(project)) {
    const bytes = (kind === 'audio' ? audio : pictures).get(hash);
    if (!bytes) throw new DataError(`${what} is missing, so the project cannot be packed.`);
    entries[entry] = [bytes, { level: 0, mtime }];
  }
  return new Uint8Array(zipSync(entries));
}

/**
 * Unpacks and checks an archive: entry names, sizes, the document, and the hash of every audio file. Throws DataError that lists every
 * fault found.
 */
export function readArchive(bytes: Uint8Array, catalogue: EffectCatalogue, what = 'The archive'): Archive {
  const { project, audio, pictures, faults, notes } = inspectArchive(bytes, catalogue, what);
  if (!project || faults.length > 0) throw new DataError(faults.join(' '));
  return { project, audio, pictures, notes };
}

/** Like readArchive, but returns the faults instead of throwing at them. */
export function inspectArchive(
  bytes: Uint8Array,
  catalogue: EffectCatalogue,
  what = 'The archive',
): Partial<Pick<Archive, 'project'>> & Pick<Archive, 'audio' | 'pictures'> & { faults: string[]; notes: string[] } {
  const faults: string[] = [];
  const notes: string[] = [];
  const audio = new Map<string, Uint8Array>();
  const pictures = new Map<string, Uint8Array>();
  let entries: Map<string, Uint8Array>;
  let project: Project;
  try {
    entries = unpack(bytes, what);
    const json = entries.get(projectEntry);
    if (!json) throw new DataError(`${what} has no “${projectEntry}”.`);
    project = parseProject(parseJson(strFromU8(json), `“${projectEntry}” in ${what}`), catalogue, `“${projectEntry}” in ${what}`);
  } catch (error) {
    if (!(error instanceof DataError)) throw error;
    return { audio, pictures, faults: [error.message], notes };
  }
  const needed = neededFiles(project);
  for (const { entry, hash, what, kind } of needed) {
    const bytes = entries.get(entry);
    if (!bytes) faults.push(`${what} (${entry}) is missing.`);
    else if (hashBytes(bytes) === hash) (kind === 'audio' ? audio : pictures).set(hash, bytes);
    else faults.push(`${what} (${entry}) was altered: its content does not match its hash.`);
  }
  const used = new Set(needed.map(({ entry }) => entry));
  for (const name of entries.keys()) if (name !== projectEntry && !used.has(name)) notes.push(`“${name}” is not used by any source.`);
  return { project, audio, pictures, faults, notes };
}

function unpack(bytes: Uint8Array, what: string): Map<string, Uint8Array> {
  if (bytes.length < 22 || bytes[0] !== 0x50 || bytes[1] !== 0x4b)
    throw new DataError(`${what} is not a .choir archive: it is not a zip file.`);
  let total = 0;
  const names = new Set<string>();
  let unpacked: Record<string, Uint8Array>;
  try {
    unpacked = unzipSync(bytes, {
      filter: ({ name, size, originalSize }) => {
        if (name !== projectEntry && !fileEntry.test(name))
          throw new DataError(`${what} has an entry “${name.slice(0, 100)}”, which does not belong into a .choir archive.`);
        if (names.has(name)) throw new DataError(`${what} has the entry “${name}” twice.`);
        names.add(name);
        if (names.size > mostEntries) throw new DataError(`${what} has more than ${mostEntries} entries.`);
        total += originalSize;
        if (name === projectEntry && originalSize > mostProjectBytes)
          throw new DataError(`“${projectEntry}” in ${what} unpacks to ${originalSize} bytes; at most ${mostProjectBytes} are read.`);
        if (total > mostBytes || originalSize > Math.max(1, size) * highestRatio)
          throw new DataError(
            `${what} would unpack to far more than it should (“${name}”: ${originalSize} bytes from ${size}); it was not opened.`,
          );
        if (size > bytes.length) throw new DataError(`${what} is cut short: “${name}” should have ${size} bytes.`);
        return true;
      },
    });
  } catch (error) {
    if (error instanceof DataError) throw error;
    throw new DataError(`${what} cannot be unpacked: ${error instanceof Error ? error.message : 'it is damaged'}.`);
  }
  return new Map(Object.entries(unpacked));
}

/** A zip of files that are compressed already or do not compress, such as WAV; names must be unique. */
export function zipFiles(files: Readonly<Record<string, Uint8Array>>): Uint8Array<ArrayBuffer> {
  return new Uint8Array(zipSync(files, { level: 0 }));
}
