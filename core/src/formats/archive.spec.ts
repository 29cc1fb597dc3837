import { zipSync } from 'fflate';
import fc from 'fast-check';
import { describeRecording } from '../analysis/describe-recording';
import { inMemory } from '../audio/recording';
import { effectCatalogue } from '../catalogue';
import { createProject, plainStretch } from '../project/create';
import { DataError } from '../project/parse';
import type { Project } from '../project/schema';
import { edited, sourceFor } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { inspectArchive, packArchive, unpackArchive } from './archive';
import { memorySource } from './byte-source';
import { hashBytes } from './hash';
import { measuringVersion } from './measured-facts';
import { writeWav } from './wav/wav-write';
import { collectBytes } from './zip';

const recording = mono(noise(500, 1));
const wav = writeWav(recording, { encoding: '32f' });
const hash = hashBytes(wav);

function demoProject(): Project {
  const project = edited(createProject('p', 'Halda'), 'addSources', { sources: [{ ...sourceFor('Ridge wind', recording), audio: hash }] });
  return edited(project, 'addSound', { name: 'Slab' });
}

/** A zip with a project and the given other entries. */
function archive(entries: Record<string, Uint8Array>, json: unknown = demoProject()): Uint8Array {
  const text = typeof json === 'string' ? json : JSON.stringify(json);
  return zipSync({ 'project.json': new TextEncoder().encode(text), ...entries });
}

const open = (bytes: Uint8Array): Promise<unknown> => unpackArchive(bytes, effectCatalogue);

describe('the .choir archive', () => {
  it('returns the project and its audio unchanged, and equal projects make equal archives', async () => {
    const project = demoProject();
    const bytes = await packArchive(project, new Map([[hash, wav]]));
    const back = await unpackArchive(bytes, effectCatalogue);
    expect(back.project).toEqual(project);
    expect(back.audio.get(hash)).toEqual(wav);
    expect(await packArchive(project, new Map([[hash, wav]]))).toEqual(bytes);
  });

  it('carries what was measured of the recordings, silence included', async () => {
    const facts = new Map([[hash, await describeRecording(inMemory(recording))]]);
    const back = await unpackArchive(await packArchive(demoProject(), new Map([[hash, wav]]), new Map(), facts), effectCatalogue);
    expect(back.facts).toEqual(facts);

    const silence = mono(new Float32Array(500));
    const silent = new Map([[hash, await describeRecording(inMemory(silence))]]);
    expect(silent.get(hash)!.measured.integratedLufs).toBe(-Infinity);
    const quiet = await unpackArchive(await packArchive(demoProject(), new Map([[hash, wav]]), new Map(), silent), effectCatalogue);
    expect(quiet.facts).toEqual(silent);
  });

  it('leaves out measurements that are damaged, of another version, or of another recording', async () => {
    const known = await describeRecording(inMemory(recording));
    const longer = { ...known, measured: { ...known.measured, frames: 501 } };
    const worded = { ...known, character: { ...known.character, defects: 'none' } };
    const entry = (content: unknown): Uint8Array =>
      archive({ [`audio/${hash}.wav`]: wav, 'measured.json': new TextEncoder().encode(JSON.stringify(content)) });
    for (const content of [
      'nonsense',
      { version: measuringVersion - 1, recordings: { [hash]: known } },
      { version: measuringVersion, recordings: { [hash]: longer } },
      { version: measuringVersion, recordings: { [hash]: worded } },
    ]) {
      const { project, facts, notes } = await unpackArchive(entry(content), effectCatalogue);
      expect(project).toEqual(demoProject());
      expect(facts.size).toBe(0);
      expect(notes).toEqual([]);
    }
  });

  it('refuses to be written without audio', async () => {
    await expect(packArchive(demoProject(), new Map())).rejects.toThrow('“Ridge wind” is missing');
  });

  it('names a source whose audio is missing or altered', async () => {
    await expect(open(archive({}))).rejects.toThrow('The audio of “Ridge wind”');
    const altered = wav.slice();
    altered[100]! ^= 1;
    await expect(open(archive({ [`audio/${hash}.wav`]: altered }))).rejects.toThrow('was altered');
    // Also where the zip knows by itself.
    const bytes = await packArchive(demoProject(), new Map([[hash, wav]]));
    bytes[bytes.length - 1_000]! ^= 1;
    await expect(open(bytes)).rejects.toThrow('The audio of “Ridge wind” (audio/');
  });

  it('notes surplus audio but opens', async () => {
    const bytes = archive({ [`audio/${hash}.wav`]: wav, [`audio/${'0'.repeat(64)}.wav`]: wav });
    const { notes, faults } = await inspectArchive(memorySource(bytes), effectCatalogue, 'x', collectBytes);
    expect(faults).toEqual([]);
    expect(notes[0]).toContain('is not used');
  });

  it.each(['../x', '/etc/passwd', 'audio/../x.wav', 'audio/x.wav', 'C:\\x'])('refuses an entry named %s', async (name) => {
    await expect(open(archive({ [name]: wav }))).rejects.toThrow('does not belong');
  });

  it('refuses what unpacks to far more than it is, without unpacking it', async () => {
    const bomb = zipSync({ 'project.json': new Uint8Array(80 * 2 ** 20) }, { level: 9 });
    expect(bomb.length).toBeLessThan(200_000);
    await expect(open(bomb)).rejects.toThrow('unpacks to');
    await expect(open(archive({ [`audio/${hash}.wav`]: new Uint8Array(50 * 2 ** 20) }))).rejects.toThrow('far more than it should');
  });

  it('unpacks no more of a recording than the project says that it has', async () => {
    // Packed well enough to pass by its ratio alone: 60 MB of noise that repeats, said to be 500 frames.
    const piece = new Uint8Array(100_000).map((_, i) => (i * 2_654_435_761) >>> 24);
    const large = new Uint8Array(60 * 2 ** 20).map((_, i) => piece[i % piece.length]!);
    const altered = archive({ [`audio/${hash}.wav`]: large });
    expect(altered.length * 1_000).toBeGreaterThan(large.length);
    await expect(open(altered)).rejects.toThrow(
      `The audio of “Ridge wind” (audio/${hash}.wav) would unpack to ${large.length} bytes, far more than what the project says of it`,
    );
  });

  it('takes no more bytes of a file than the zip says that it has', () => {
    const whole = collectBytes(5);
    whole.write(Uint8Array.of(1, 2, 3));
    expect(() => whole.write(Uint8Array.of(4, 5, 6))).toThrow(DataError);
    whole.write(Uint8Array.of(4, 5));
    expect(whole.finish()).toEqual(Uint8Array.of(1, 2, 3, 4, 5));
    const short = collectBytes(5);
    short.write(Uint8Array.of(1));
    expect(short.finish()).toEqual(Uint8Array.of(1));
  });

  it('refuses what is no archive, and a damaged one', async () => {
    await expect(open(new Uint8Array(0))).rejects.toThrow('not a zip file');
    await expect(open(new TextEncoder().encode('just some text that is long enough'))).rejects.toThrow('not a zip file');
    await expect(open(zipSync({ 'other.txt': wav }))).rejects.toThrow('does not belong');
    await expect(open(zipSync({ [`audio/${hash}.wav`]: wav }))).rejects.toThrow('has no “project.json”');
  });

  it.each([
    ['broken JSON', '{"format":', 'not valid JSON'],
    ['another format', { format: 'x' }, 'not a Tangled Choir project'],
    ['an unknown version', { ...demoProject(), version: 99 }, 'version 99'],
    ['wrong types', { ...demoProject(), sounds: 5 }, 'sounds:'],
    ['unknown fields', { ...demoProject(), surprise: 1 }, 'surprise'],
    ['prototype keys', '{"format":"tangled-choir","version":1,"__proto__":{"x":1}}', '“__proto__”'],
    [
      'deep prototype keys',
      JSON.stringify(demoProject()).replace(
        '"chain":[]',
        '"chain":[{"id":"a","effect":"eq","enabled":true,"mix":1,"parameters":{"__proto__":1}}]',
      ),
      '“__proto__”',
    ],
  ])('refuses a project with %s', async (_, json, message) => {
    await expect(open(archive({ [`audio/${hash}.wav`]: wav }, json))).rejects.toThrow(DataError);
    await expect(open(archive({ [`audio/${hash}.wav`]: wav }, json))).rejects.toThrow(message);
  });

  it('tells where an unknown effect, a wrong parameter, a missing source or a repeated id is', async () => {
    const project = demoProject();
    const [sound] = project.sounds;
    const step = { id: 'a', effect: 'eq', enabled: true, mix: 1, parameters: {} };
    const withChain = (chain: unknown[]): unknown => ({ ...project, sounds: [{ ...sound, chain }] });
    const audio = { [`audio/${hash}.wav`]: wav };
    await expect(open(archive(audio, withChain([{ ...step, effect: 'warp' }])))).rejects.toThrow(
      'sounds[0].chain[0]: there is no effect “warp”',
    );
    await expect(open(archive(audio, withChain([{ ...step, parameters: { output: 900 } }])))).rejects.toThrow('“output” is 900');
    await expect(open(archive(audio, withChain([step, step])))).rejects.toThrow('used twice');
    const rest = { gain: 0, pan: 0, muted: false, soloed: false, overlaps: 'sum', chain: [], clips: [], sends: [] };
    const layer = { id: 'l', name: 'L', role: 'Body', ...rest };
    const clip = {
      id: 'c',
      source: 'nowhere',
      start: 0,
      offset: 0,
      length: 1,
      gain: 0,
      speed: 0,
      ...plainStretch,
      reversed: false,
      locked: false,
      fadeIn: { length: 0, shape: 'linear' },
      fadeOut: { length: 0, shape: 'linear' },
    };
    await expect(open(archive(audio, { ...project, sounds: [{ ...sound, layers: [{ ...layer, clips: [clip] }] }] }))).rejects.toThrow(
      'there is no source “nowhere”',
    );
    const many = Array.from({ length: 10_000 }, (_, i) => ({ ...layer, id: `l${i}` }));
    await expect(open(archive(audio, { ...project, sounds: [{ ...sound, layers: many }] }))).rejects.toThrow('has more than 1000 layers');
  });

  it('survives any damage: opens or tells, never something else', async () => {
    const valid = await packArchive(demoProject(), new Map([[hash, wav]]));
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(valid.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
        fc.integer({ min: 0, max: valid.length }),
        async (changes, length) => {
          const bytes = valid.slice(0, length);
          for (const [at, value] of changes) if (at < length) bytes[at] = value;
          try {
            await open(bytes);
            return true;
          } catch (error) {
            return error instanceof DataError;
          }
        },
      ),
      { numRuns: 400, seed: 8 },
    );
  });
});
