import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { EffectCatalogue } from '../project/parameters';
import { DataError, parseJson, parseProject } from '../project/parse';
import type { Project } from '../project/schema';
import { hashBytes } from './hash';

/**
 * The `.choir` archive: a zip of `project.json` and, for each source, `audio/<SHA-256>.wav`. See docs/choir-format.md.
 */
export interface Archive {
  readonly project: Project;
  /** WAV files by hash, only those that the project uses. */
  readonly audio: ReadonlyMap<string, Uint8Array>;
  /** What is odd but harmless, for example audio that no source uses. */
  readonly notes: readonly string[];
}

const projectEntry = 'project.json';
const audioEntry = /^audio\/([0-9a-f]{64})\.wav$/;
const mostEntries = 20_001;
const mostProjectBytes = 64 * 2 ** 20;
/** Together with the size check against the archive itself this stops archives that unpack to far more than they are. */
const mostBytes = 4 * 2 ** 30;
const highestRatio = 1_000;

/** Packs a project with its audio. Throws DataError when audio of a source is missing. */
export function writeArchive(project: Project, audio: ReadonlyMap<string, Uint8Array>): Uint8Array<ArrayBuffer> {
  const entries: Record<string, [Uint8Array, { level: 0 | 6; mtime: number }]> = {};
  // A fixed date makes equal projects equal archives.
  const mtime = Date.UTC(2020, 0, 1, 12);
  entries[projectEntry] = [strToU8(JSON.stringify(project, null, 1)), { level: 6, mtime }];
  for (const source of project.sources) {
    const bytes = audio.get(source.audio);
    if (!bytes) throw new DataError(`The audio of “${source.name}” is missing, so the project cannot be packed.`);
    entries[`audio/${source.audio}.wav`] = [bytes, { level: 0, mtime }];
  }
  return new Uint8Array(zipSync(entries));
}

/**
 * Unpacks and checks an archive: entry names, sizes, the document, and the hash of every audio file. Throws DataError that lists every
 * fault found.
 */
export function readArchive(bytes: Uint8Array, catalogue: EffectCatalogue, what = 'The archive'): Archive {
  const { project, audio, faults, notes } = inspectArchive(bytes, catalogue, what);
  if (!project || faults.length > 0) throw new DataError(faults.join(' '));
  return { project, audio, notes };
}

/** Like readArchive, but returns the faults instead of throwing at them. */
export function inspectArchive(
  bytes: Uint8Array,
  catalogue: EffectCatalogue,
  what = 'The archive',
): { project?: Project; audio: ReadonlyMap<string, Uint8Array>; faults: string[]; notes: string[] } {
  const faults: string[] = [];
  const notes: string[] = [];
  const audio = new Map<string, Uint8Array>();
  let entries: Map<string, Uint8Array>;
  let project: Project;
  try {
    entries = unpack(bytes, what);
    const json = entries.get(projectEntry);
    if (!json) throw new DataError(`${what} has no “${projectEntry}”.`);
    project = parseProject(parseJson(strFromU8(json), `“${projectEntry}” in ${what}`), catalogue, `“${projectEntry}” in ${what}`);
  } catch (error) {
    if (!(error instanceof DataError)) throw error;
    return { audio, faults: [error.message], notes };
  }
  for (const source of project.sources) {
    const entry = entries.get(`audio/${source.audio}.wav`);
    if (!entry) faults.push(`The audio of “${source.name}” (audio/${source.audio}.wav) is missing.`);
    else if (!audio.has(source.audio)) {
      if (hashBytes(entry) === source.audio) audio.set(source.audio, entry);
      else faults.push(`The audio of “${source.name}” (audio/${source.audio}.wav) was altered: its content does not match its hash.`);
    }
  }
  const used = new Set(project.sources.map((source) => `audio/${source.audio}.wav`));
  for (const name of entries.keys()) if (name !== projectEntry && !used.has(name)) notes.push(`“${name}” is not used by any source.`);
  return { project, audio, faults, notes };
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
        if (name !== projectEntry && !audioEntry.test(name))
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
