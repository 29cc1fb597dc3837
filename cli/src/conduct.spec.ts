import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import type { EditArguments, EditName, History, LogEntry } from '@tangled-choir/core';
import {
  applyEdit,
  conductFileSchema,
  createProject,
  editNamed,
  effectCatalogue,
  hashBytes,
  packArchive,
  prepareHashing,
  readWav,
  startHistory,
  writeWav,
} from '@tangled-choir/core';
import { choir, inFolder, tone } from './testing/bench';

/** A tone of a quarter of a second, played by a Burst of four a second. */
async function packed(): Promise<string> {
  await prepareHashing();
  const wav = writeWav(tone(0.5, 0.25, 1), { encoding: '24' });
  let history: History = startHistory(createProject('halda', 'Halda Station'));
  const make = <N extends EditName>(name: N, args: EditArguments<N>): void => {
    history = applyEdit(history, editNamed(name), args, effectCatalogue);
  };
  const origin = { file: 'beacon.wav', sampleRate: 48_000, encoding: '24 bit' };
  const source = {
    kind: 'recording' as const,
    name: 'Beacon',
    audio: hashBytes(wav),
    frames: 12_000,
    channels: 1,
    tags: [],
    notes: '',
    regions: [],
    cues: [],
    origin,
  };
  make('addSources', { sources: [source] });
  make('addSound', { name: 'Beacon' });
  const [sound] = history.project.sounds;
  make('addLayer', { sound: sound!.id, source: history.project.sources[0]!.id, start: 0 });
  make('addBehaviour', { kind: 'burst', name: 'Blink' });
  make('addBehaviour', { kind: 'one', name: 'Tone', sound: sound!.id, parent: history.project.conduct.behaviours[0]!.id });
  make('addScript', {
    name: 'Wait',
    seconds: 1,
    moves: [{ at: 0, move: { do: 'trigger', behaviour: history.project.conduct.behaviours[0]!.id } }],
  });
  const file = inFolder('blink.choir');
  writeFileSync(file, await packArchive(history.project, new Map([[hashBytes(wav), wav]])));
  return file;
}

describe('choir conduct', () => {
  it('plays a script of the project, or of a file, and tells what was decided', async () => {
    const file = await packed();
    const [out, log, moves] = ['heard.wav', 'log.json', 'moves.json'].map((name) => inFolder(name));
    expect(await choir('conduct', file, '--script', 'Wait', '--out', out!, '--log', log!)).toMatchObject({
      code: 0,
      out: '4 voices in 1 s\n',
    });
    const entries = JSON.parse(readFileSync(log!, 'utf8')) as LogEntry[];
    expect(entries.flatMap((entry) => (entry.do === 'play' ? [entry.at] : []))).toEqual([0, 0.25, 0.5, 0.75]);
    const heard = readWav(new Uint8Array(readFileSync(out!))).audio;
    expect([heard.sampleRate, heard.channels.length, heard.channels[0]!.length]).toEqual([48_000, 2, 48_000]);
    // A kilohertz at half of full scale, except where shots have their short fades.
    const peak = heard.channels[0]!.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
    expect(peak).toBeCloseTo(0.5, 3);
    writeFileSync(moves!, JSON.stringify({ seconds: 0.5, moves: [{ at: 0.3, move: { do: 'trigger', behaviour: 'Tone' } }] }));
    expect((await choir('conduct', file, '--script', moves!, '--log', log!)).out).toBe('1 voices in 0.5 s\n');
  });

  it('writes what a game takes', async () => {
    const file = await packed();
    expect((await choir('conduct', file, '--files', inFolder('game'))).out).toContain('1 recordings and conduct.json');
    expect(readdirSync(inFolder('game')).sort()).toEqual(['Beacon.wav', 'conduct.json', 'manifest.json', 'report.csv', 'report.html']);
    const json = conductFileSchema.parse(JSON.parse(readFileSync(inFolder('game', 'conduct.json'), 'utf8')));
    const [entry] = Object.values(json.files);
    expect(entry).toMatchObject({ file: 'Beacon.wav', sha256: hashBytes(new Uint8Array(readFileSync(inFolder('game', 'Beacon.wav')))) });
  });

  it('says what is missing, or not there', async () => {
    const file = await packed();
    for (const [args, message] of [
      [['--script', 'Wait'], 'Name a file with --out or --log'],
      [['--out', 'a.wav'], 'Name a script with --script'],
      [['--script', inFolder('none.json'), '--log', inFolder('a.json')], 'There is no file'],
    ] as const) {
      const { code, errors } = await choir('conduct', file, ...args);
      expect([code, errors[0]]).toEqual([2, expect.stringContaining(message)]);
    }
    writeFileSync(inFolder('wrong.json'), JSON.stringify({ seconds: 1, moves: [{ at: 0, move: { do: 'trigger', behaviour: 'Gone' } }] }));
    const { code, errors } = await choir('conduct', file, '--script', inFolder('wrong.json'), '--log', inFolder('a.json'));
    expect([code, errors[0]]).toEqual([2, expect.stringContaining('moves[0]: there is no behaviour “Gone”')]);
  });
});
