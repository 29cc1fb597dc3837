import { zipSync } from 'fflate';
import fc from 'fast-check';
import { effectCatalogue } from '../effects';
import { createProject } from '../project/create';
import { DataError } from '../project/parse';
import type { Project } from '../project/schema';
import { edited, sourceFor } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { inspectArchive, readArchive, writeArchive } from './archive';
import { hashBytes } from './hash';
import { writeWav } from './wav-write';

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

const open = (bytes: Uint8Array): unknown => readArchive(bytes, effectCatalogue);

describe('the .choir archive', () => {
  it('returns the project and its audio unchanged, and equal projects make equal archives', () => {
    const project = demoProject();
    const bytes = writeArchive(project, new Map([[hash, wav]]));
    const back = readArchive(bytes, effectCatalogue);
    expect(back.project).toEqual(project);
    expect(back.audio.get(hash)).toEqual(wav);
    expect(writeArchive(project, new Map([[hash, wav]]))).toEqual(bytes);
  });

  it('refuses to be written without audio', () => {
    expect(() => writeArchive(demoProject(), new Map())).toThrow('“Ridge wind” is missing');
  });

  it('names a source whose audio is missing or altered', () => {
    expect(() => open(archive({}))).toThrow('The audio of “Ridge wind”');
    const altered = wav.slice();
    altered[100]! ^= 1;
    expect(() => open(archive({ [`audio/${hash}.wav`]: altered }))).toThrow('was altered');
  });

  it('notes surplus audio but opens', () => {
    const { notes, faults } = inspectArchive(
      archive({ [`audio/${hash}.wav`]: wav, [`audio/${'0'.repeat(64)}.wav`]: wav }),
      effectCatalogue,
    );
    expect(faults).toEqual([]);
    expect(notes[0]).toContain('is not used');
  });

  it.each(['../x', '/etc/passwd', 'audio/../x.wav', 'audio/x.wav', 'C:\\x'])('refuses an entry named %s', (name) => {
    expect(() => open(archive({ [name]: wav }))).toThrow('does not belong');
  });

  it('refuses what unpacks to far more than it is, without unpacking it', () => {
    const bomb = zipSync({ 'project.json': new Uint8Array(80 * 2 ** 20) }, { level: 9 });
    expect(bomb.length).toBeLessThan(200_000);
    expect(() => open(bomb)).toThrow('unpacks to');
    expect(() => open(archive({ [`audio/${hash}.wav`]: new Uint8Array(50 * 2 ** 20) }))).toThrow('far more than it should');
  });

  it('refuses what is no archive, and a damaged one', () => {
    expect(() => open(new Uint8Array(0))).toThrow('not a zip file');
    expect(() => open(new TextEncoder().encode('just some text that is long enough'))).toThrow('not a zip file');
    expect(() => open(zipSync({ 'other.txt': wav }))).toThrow('does not belong');
    expect(() => open(zipSync({ [`audio/${hash}.wav`]: wav }))).toThrow('has no “project.json”');
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
  ])('refuses a project with %s', (_, json, message) => {
    expect(() => open(archive({ [`audio/${hash}.wav`]: wav }, json))).toThrow(DataError);
    expect(() => open(archive({ [`audio/${hash}.wav`]: wav }, json))).toThrow(message);
  });

  it('tells where an unknown effect, a wrong parameter, a missing source or a repeated id is', () => {
    const project = demoProject();
    const [sound] = project.sounds;
    const step = { id: 'a', effect: 'eq', enabled: true, mix: 1, parameters: {} };
    const withChain = (chain: unknown[]): unknown => ({ ...project, sounds: [{ ...sound, chain }] });
    const audio = { [`audio/${hash}.wav`]: wav };
    expect(() => open(archive(audio, withChain([{ ...step, effect: 'warp' }])))).toThrow('sounds[0].chain[0]: there is no effect “warp”');
    expect(() => open(archive(audio, withChain([{ ...step, parameters: { output: 900 } }])))).toThrow('“output” is 900');
    expect(() => open(archive(audio, withChain([step, step])))).toThrow('used twice');
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
      stretch: 1 as const,
      pitch: 0 as const,
      reversed: false,
      locked: false,
      fadeIn: { length: 0, shape: 'linear' },
      fadeOut: { length: 0, shape: 'linear' },
    };
    expect(() => open(archive(audio, { ...project, sounds: [{ ...sound, layers: [{ ...layer, clips: [clip] }] }] }))).toThrow(
      'there is no source “nowhere”',
    );
    const many = Array.from({ length: 10_000 }, (_, i) => ({ ...layer, id: `l${i}` }));
    expect(() => open(archive(audio, { ...project, sounds: [{ ...sound, layers: many }] }))).toThrow('has more than 1000 layers');
  });

  it('survives any damage: opens or tells, never something else', () => {
    const valid = writeArchive(demoProject(), new Map([[hash, wav]]));
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(valid.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
        fc.integer({ min: 0, max: valid.length }),
        (changes, length) => {
          const bytes = valid.slice(0, length);
          for (const [at, value] of changes) if (at < length) bytes[at] = value;
          try {
            readArchive(bytes, effectCatalogue);
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
