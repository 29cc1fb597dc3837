import { strFromU8, strToU8 } from 'fflate';
import type { RecordingFacts } from '../analysis/describe-recording';
import type { EffectCatalogue } from '../project/parameters';
import { DataError, parseJson, parseProject } from '../project/parse';
import type { Project } from '../project/schema';
import type { ByteSource } from './byte-source';
import { memorySource } from './byte-source';
import { hashPieces } from './hash';
import { decodeFacts, encodeFacts } from './measured-facts';
import type { Collector, ZipEntry } from './zip';
import { collectBytes, isZip, openZip, ZipMaker } from './zip';

/** The files of a project. */
export interface ProjectFiles<T> {
  /** WAV files and videos by hash, only those that the project uses. */
  readonly audio: ReadonlyMap<string, T>;
  readonly pictures: ReadonlyMap<string, T>;
  /** What was measured of the recordings, by hash, as far as it is known. */
  readonly facts: ReadonlyMap<string, RecordingFacts>;
}

/**
 * The `.choir` archive: a zip of `project.json`, for each source `audio/<SHA-256>.wav`, for each picture `pictures/<SHA-256>`, and of
 * `measured.json`. See docs/choir-format.md.
 */
export interface Archive<T = Uint8Array<ArrayBuffer>> extends ProjectFiles<T> {
  readonly project: Project;
  /** What is odd but harmless, for example audio that no source uses. */
  readonly notes: readonly string[];
}

/** What was found in an archive, and what is wrong with it. */
export type InspectedArchive<T> = Partial<Pick<Archive<T>, 'project'>> &
  Omit<Archive<T>, 'project'> & { readonly faults: readonly string[] };

const projectEntry = 'project.json';
const factsEntry = 'measured.json';
const fileEntry = /^(audio\/[0-9a-f]{64}\.wav|pictures\/[0-9a-f]{64})$/;
const mostJsonBytes = 64 * 2 ** 20;
/** Together with the size check against the archive itself this stops archives that unpack to far more than they are. */
const mostBytesOfAll = 64 * 2 ** 30;
const highestRatio = 1_000;

/** Beside its samples, a recording may have marks and words of many kinds in its file. */
const mostBeside = 16 * 2 ** 20;
/** Pictures are as small as they get before they are packed. */
const highestPictureRatio = 20;

/** A file that a project refers to. */
interface NeededFile {
  readonly entry: string;
  readonly hash: string;
  readonly what: string;
  readonly kind: 'audio' | 'pictures';
  /** The most that it unpacks to by what the document says of it, from so many packed bytes. */
  mostBytes(packed: number): number;
}

/** Every file that the sources and the pictures of a project refer to, each once. */
function neededFiles(project: Project): NeededFile[] {
  const files = new Map<string, NeededFile>();
  for (const { name, audio, frames, channels } of project.sources) {
    // No sample has more than eight bytes.
    const mostBytes = (): number => frames * channels * 8 + mostBeside;
    files.set(audio, { entry: `audio/${audio}.wav`, hash: audio, what: `The audio of “${name}”`, kind: 'audio', mostBytes });
  }
  for (const { name, picture } of project.sounds)
    if (picture)
      files.set(picture.video, {
        entry: `pictures/${picture.video}`,
        hash: picture.video,
        what: `The picture of “${name}”`,
        kind: 'pictures',
        mostBytes: (packed) => packed * highestPictureRatio + mostBeside,
      });
  return [...files.values()];
}

/**
 * Packs a project with its audio, its pictures and what was measured of it; the archive's bytes are handed out piece by piece. Rejects with
 * DataError when a recording or a picture is missing.
 */
export async function writeArchive(
  project: Project,
  { audio, pictures, facts }: ProjectFiles<ByteSource>,
  write: (bytes: Uint8Array<ArrayBuffer>) => void,
): Promise<void> {
  const files = neededFiles(project).map(({ entry, hash, what, kind }) => {
    const source = (kind === 'audio' ? audio : pictures).get(hash);
    if (!source) throw new DataError(`${what} is missing, so the project cannot be packed.`);
    return { entry, source };
  });
  const zip = new ZipMaker(write);
  await zip.add(projectEntry, memorySource(strToU8(JSON.stringify(project, null, 1))), { pack: true });
  if (facts.size > 0) await zip.add(factsEntry, memorySource(encodeFacts(facts)), { pack: true });
  for (const { entry, source } of files) await zip.add(entry, source, { pack: false });
  await zip.finish();
}

/** `writeArchive` for what fits into memory. */
export async function packArchive(
  project: Project,
  audio: ReadonlyMap<string, Uint8Array>,
  pictures: ReadonlyMap<string, Uint8Array> = new Map(),
  facts: ReadonlyMap<string, RecordingFacts> = new Map(),
): Promise<Uint8Array<ArrayBuffer>> {
  const sources = (files: ReadonlyMap<string, Uint8Array>): Map<string, ByteSource> =>
    new Map([...files].map(([hash, bytes]) => [hash, memorySource(bytes)]));
  const whole = collectBytes();
  await writeArchive(project, { audio: sources(audio), pictures: sources(pictures), facts }, (bytes) => whole.write(bytes));
  return whole.finish();
}

/**
 * Unpacks and checks an archive: entry names, sizes, the document, and the hash of every audio file. Rejects with DataError that lists every
 * fault found.
 * @param collect makes something of each file, which comes piece by piece and has at most so many bytes
 */
export async function readArchive<T>(
  source: ByteSource,
  catalogue: EffectCatalogue,
  what: string,
  collect: (size: number) => Collector<T>,
): Promise<Archive<T>> {
  const { project, faults, ...files } = await inspectArchive(source, catalogue, what, collect);
  if (!project || faults.length > 0) throw new DataError(faults.join(' '));
  return { project, ...files };
}

/** `readArchive` for what fits into memory. */
export function unpackArchive(bytes: Uint8Array, catalogue: EffectCatalogue, what = 'The archive'): Promise<Archive> {
  return readArchive(memorySource(bytes), catalogue, what, collectBytes);
}

/** Like readArchive, but returns the faults instead of throwing at them. */
export async function inspectArchive<T>(
  source: ByteSource,
  catalogue: EffectCatalogue,
  what: string,
  collect: (size: number) => Collector<T>,
): Promise<InspectedArchive<T>> {
  const faults: string[] = [];
  const notes: string[] = [];
  const audio = new Map<string, T>();
  const pictures = new Map<string, T>();
  try {
    const entries = await openEntries(source, what);
    const project = await readProject(entries, catalogue, what);
    const needed = neededFiles(project);
    for (const { entry, hash, what: file, kind, mostBytes } of needed) {
      const found = entries.get(entry);
      if (!found) faults.push(`${file} (${entry}) is missing.`);
      else if (found.size > mostBytes(found.packedSize))
        faults.push(
          `${file} (${entry}) would unpack to ${found.size} bytes, far more than what the project says of it; it was not unpacked.`,
        );
      else {
        const collector = collect(found.size);
        if ((await extractHashed(found, (bytes) => collector.write(bytes))) === hash)
          (kind === 'audio' ? audio : pictures).set(hash, collector.finish());
        else faults.push(`${file} (${entry}) was altered: its content does not match its hash.`);
      }
    }
    const used = new Set([projectEntry, factsEntry, ...needed.map(({ entry }) => entry)]);
    for (const name of entries.keys()) if (!used.has(name)) notes.push(`“${name}” is not used by any source.`);
    return { project, audio, pictures, facts: await readFacts(entries, project), faults, notes };
  } catch (error) {
    if (!(error instanceof DataError)) throw error;
    return { audio, pictures, facts: new Map(), faults: [...faults, error.message], notes };
  }
}

/** What an archive says of the recordings; nothing where that is damaged, because it can be measured anew. */
async function readFacts(entries: ReadonlyMap<string, ZipEntry>, { sources }: Project): Promise<Map<string, RecordingFacts>> {
  const entry = entries.get(factsEntry);
  const bytes = entry && (await wholeEntry(entry).catch(() => undefined));
  return bytes ? decodeFacts(bytes, new Map(sources.map(({ audio, frames, channels }) => [audio, { frames, channels }]))) : new Map();
}

async function wholeEntry(entry: ZipEntry): Promise<Uint8Array<ArrayBuffer>> {
  const whole = collectBytes(entry.size);
  await entry.extract((bytes) => whole.write(bytes));
  return whole.finish();
}

async function readProject(entries: ReadonlyMap<string, ZipEntry>, catalogue: EffectCatalogue, what: string): Promise<Project> {
  const json = entries.get(projectEntry);
  if (!json) throw new DataError(`${what} has no “${projectEntry}”.`);
  const text = await wholeEntry(json);
  const where = `“${projectEntry}” in ${what}`;
  return parseProject(parseJson(strFromU8(text), where), catalogue, where);
}

/** Hands out an entry's bytes and returns their hash; nothing where the zip itself finds them damaged. */
async function extractHashed(entry: ZipEntry, write: (bytes: Uint8Array<ArrayBuffer>) => void): Promise<string | undefined> {
  const hash = await hashPieces();
  try {
    await entry.extract((bytes) => {
      hash.update(bytes);
      write(bytes);
    });
  } catch (error) {
    if (error instanceof DataError) return undefined;
    throw error;
  }
  return hash.digest();
}

/** The entries of an archive by name; checked, not unpacked. */
async function openEntries(source: ByteSource, what: string): Promise<Map<string, ZipEntry>> {
  if (!(await isZip(source))) throw new DataError(`${what} is not a .choir archive: it is not a zip file.`);
  const entries = new Map<string, ZipEntry>();
  let total = 0;
  for (const entry of await openZip(source, what)) {
    const { name, size, packedSize } = entry;
    const isJson = name === projectEntry || name === factsEntry;
    if (!isJson && !fileEntry.test(name))
      throw new DataError(`${what} has an entry “${name.slice(0, 100)}”, which does not belong into a .choir archive.`);
    if (entries.has(name)) throw new DataError(`${what} has the entry “${name}” twice.`);
    total += size;
    if (isJson && size > mostJsonBytes)
      throw new DataError(`“${name}” in ${what} unpacks to ${size} bytes; at most ${mostJsonBytes} are read.`);
    if (total > mostBytesOfAll || size > Math.max(1, packedSize) * highestRatio)
      throw new DataError(
        `${what} would unpack to far more than it should (“${name}”: ${size} bytes from ${packedSize}); it was not opened.`,
      );
    if (packedSize > source.size) throw new DataError(`${what} is cut short: “${name}” should have ${packedSize} bytes.`);
    entries.set(name, entry);
  }
  return entries;
}
