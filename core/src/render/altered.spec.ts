import { effectCatalogue } from '../catalogue';
import { createRandom } from '../dsp/random';
import type { Random } from '../dsp/random';
import { hashText } from '../formats/hash';
import { startHistory } from '../project/history';
import { DataError, parseProject } from '../project/parse';
import type { Project } from '../project/schema';
import { anyEdit } from '../testing/any-edit';
import { projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { TreatmentCache } from '../treatments/treat-clip';
import { renderContext } from './library';
import { SoundPlayer } from './live/player';

const documents = 4;
const alterationsEach = 500;
const recordings = { 'Ridge wind': mono(noise(48_000, 1, -18)), 'Ice crack': mono(noise(9_600, 2, -12)) };
const library = new Map(Object.entries(recordings).map(([name, audio]) => [hashText(name), audio]));

/** Frames that are played at each place. */
const length = 1_024;

/** Where something stands in a document. */
type Path = readonly (string | number)[];

/** Every leaf and every container of a document, by its path. */
function* pathsOf(value: unknown, path: Path = []): Generator<Path> {
  if (path.length > 0) yield path;
  if (Array.isArray(value)) for (const [i, item] of value.entries()) yield* pathsOf(item, [...path, i]);
  else if (typeof value === 'object' && value !== null)
    for (const [key, item] of Object.entries(value)) yield* pathsOf(item, [...path, key]);
}

/** A document with something else at a place, or nothing. */
function altered(value: unknown, [key, ...rest]: Path, change: (before: unknown) => unknown): unknown {
  const at = (item: unknown): unknown => (rest.length === 0 ? change(item) : altered(item, rest, change));
  if (Array.isArray(value)) return value.map((item: unknown, i) => (i === key ? at(item) : item)).filter((item) => item !== undefined);
  if (typeof value !== 'object' || value === null || key === undefined) return value;
  return Object.fromEntries(Object.entries(value).map(([name, item]) => [name, name === key ? at(item) : item]));
}

const strangers: readonly unknown[] = [
  undefined,
  null,
  true,
  false,
  '',
  'x',
  'x'.repeat(2_000),
  [],
  {},
  ...[-1, 0, 1e-12, 0.01, 0.5, 1, 2, 36, 1_000, 48_000, 86_400, 1e9, 1e308, -1e308],
];

/** What stands there instead: a stranger, or something near to what it was, so that many pass the check. */
function stranger(before: unknown, random: Random): unknown {
  if (typeof before === 'number' && random.next() < 0.7)
    return before * 4 * (random.next() - 0.3) + (random.next() < 0.3 ? random.next() : 0);
  if (Array.isArray(before) && before.length > 0 && random.next() < 0.5) return [...before, before[0]];
  return strangers[Math.floor(random.next() * strangers.length)];
}

/** A project of every kind of thing: what any edits have made of one. */
function anyProject(seed: number): Project {
  const random = createRandom(seed);
  let history = startHistory(projectWith(recordings).project);
  for (let i = 0; i < 160; i++) {
    const next = anyEdit(history, Math.floor(random.next() * 1_000), Math.floor(random.next() * 50), random.next());
    if (next.project.sounds.some(({ layers }) => layers.some(({ clips }) => clips.length > 0))) history = next;
    // What edits make can be opened again; a look now and then is enough here.
    if (i % 10 === 9) parseProject(JSON.parse(JSON.stringify(history.project)), effectCatalogue);
  }
  return history.project;
}

/** Plays the beginning, the middle and the end of the sounds that are not those of `before`. */
function play(project: Project, before: Project, cache: TreatmentCache): void {
  const context = renderContext(project, library);
  for (const [index, sound] of project.sounds.entries()) {
    if (JSON.stringify(sound) === JSON.stringify(before.sounds[index])) continue;
    for (const position of [0, 24_000, 10 * 48_000]) {
      const into = Array.from({ length: 8 }, () => new Float32Array(length));
      const player = new SoundPlayer(sound, context, position, cache);
      const channels = into.slice(0, player.channels);
      for (let at = 0; at < length; at += 512) player.render(channels, 512, at);
      for (const channel of channels) if (!channel.every(Number.isFinite)) throw new Error(`${sound.name} is not made of numbers.`);
    }
  }
}

describe('documents that were altered by hand', () => {
  it.each(Array.from({ length: documents }, (_, seed) => seed + 1))('are refused by a sentence, or play within memory (%d)', (seed) => {
    const project = anyProject(seed);
    const plain: unknown = JSON.parse(JSON.stringify(project));
    const paths = [...pathsOf(plain)];
    const random = createRandom(seed);
    const cache = new TreatmentCache();
    let [refused, played] = [0, 0];
    for (let i = 0; i < alterationsEach; i++) {
      const path = paths[Math.floor(random.next() * paths.length)]!;
      const document = altered(plain, path, (before) => stranger(before, random));
      let read: Project;
      try {
        read = parseProject(document, effectCatalogue);
      } catch (error) {
        // Anything else than a sentence about the data is a fault.
        if (!(error instanceof DataError)) throw new Error(`${path.join('.')}: ${String(error)}`, { cause: error });
        expect(error.message.length).toBeLessThan(1_000);
        refused++;
        continue;
      }
      const before = process.memoryUsage().arrayBuffers;
      try {
        play(read, project, cache);
      } catch (error) {
        // What would be too long to be held says so.
        if (!(error instanceof RangeError && /too long to be held/.test(error.message)))
          throw new Error(`${path.join('.')}: ${String(error)}`, { cause: error });
      }
      expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(2 ** 30);
      played++;
    }
    // Both kinds are tried.
    expect(refused).toBeGreaterThan(alterationsEach / 20);
    expect(played).toBeGreaterThan(alterationsEach / 20);
  });
});
