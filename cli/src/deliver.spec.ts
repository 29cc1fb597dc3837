import { execFileSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Audio, Delivery, EditArguments, EditName, History } from '@tangled-choir/core';
import {
  applyEdit,
  createProject,
  deliveryKinds,
  editNamed,
  effectCatalogue,
  hashBytes,
  manifestSchema,
  measure,
  packArchive,
  prepareHashing,
  readWav,
  startHistory,
  writeWav,
} from '@tangled-choir/core';
import { unzipSync } from 'fflate';
import { choir, inFolder, tone } from './testing/bench';

/** Two sounds and several deliveries. */
async function packed(name: string, more: (make: <N extends EditName>(edit: N, args: EditArguments<N>) => void) => void = () => undefined) {
  await prepareHashing();
  const wav = writeWav(tone(0.25, 0.5, 2), { encoding: '24' });
  let history: History = startHistory(createProject('halda', 'Halda Station'));
  const make = <N extends EditName>(edit: N, args: EditArguments<N>): void => {
    history = applyEdit(history, editNamed(edit), args, effectCatalogue);
  };
  const origin = { file: 'beacon.wav', sampleRate: 48_000, encoding: '24 bit' };
  const shape = { kind: 'recording' as const, audio: hashBytes(wav), frames: 24_000, channels: 2 };
  make('addSources', { sources: [{ ...shape, name: 'Beacon', tags: [], notes: '', regions: [], cues: [], origin }] });
  for (const sound of ['Beacon', 'Radio call']) {
    make('addSound', { name: sound });
    make('addLayer', { sound: history.project.sounds.at(-1)!.id, source: history.project.sources[0]!.id, start: 0 });
  }
  for (const { id } of history.project.sounds) make('addMarks', { sound: id, marks: [{ name: 'Väntan', time: 0.125 }] });
  for (const kind of ['Web game', 'Archive, FLAC', 'Picture, 24 bit stems'])
    make('addDelivery', { name: kind, settings: deliveryKinds[kind]! });
  more(make);
  const file = inFolder(name);
  writeFileSync(file, await packArchive(history.project, new Map([[hashBytes(wav), wav]])));
  return file;
}

/** A project of one sound, and one delivery of it. */
async function archiveOf(audio: Audio, settings: Partial<Delivery>): Promise<Uint8Array> {
  const wav = writeWav(audio, { encoding: '32f' });
  let { project } = startHistory(createProject('halda', 'Halda Station'));
  const make = <N extends EditName>(edit: N, args: EditArguments<N>): void => {
    ({ project } = applyEdit(startHistory(project), editNamed(edit), args, effectCatalogue));
  };
  const origin = { file: 'square.wav', sampleRate: audio.sampleRate, encoding: '32 bit float' };
  const shape = { kind: 'recording' as const, audio: hashBytes(wav), frames: audio.channels[0]!.length, channels: audio.channels.length };
  make('addSources', { sources: [{ ...shape, name: 'Square', tags: [], notes: '', regions: [], cues: [], origin }] });
  make('addSound', { name: 'Square' });
  make('addLayer', { sound: project.sounds[0]!.id, source: project.sources[0]!.id, start: 0 });
  make('setDelivery', { delivery: project.deliveries[0]!.id, change: settings });
  return packArchive(project, new Map([[hashBytes(wav), wav]]));
}

const listing = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name).slice(folder.length + 1))
    .sort();

const probe = (file: string, entries: string): string =>
  execFileSync('ffprobe', ['-v', 'error', '-show_entries', entries, file]).toString();

describe('choir deliver', () => {
  it('writes every delivery that is on, and others read what it wrote', async () => {
    const [file, out] = [await packed('all.choir'), inFolder('all')];
    expect(await choir('deliver', file, '--out', out)).toMatchObject({ code: 0, errors: [] });
    expect(listing(out)).toEqual([
      'Archive,-FLAC/Beacon/Halda-Station_Beacon_01.flac',
      'Archive,-FLAC/Radio-call/Halda-Station_Radio-call_01.flac',
      'Picture,-24-bit-stems/Beacon/Halda-Station_Beacon_Beacon.wav',
      'Picture,-24-bit-stems/Beacon/Halda-Station_Beacon_whole.wav',
      'Picture,-24-bit-stems/Radio-call/Halda-Station_Radio-call_Beacon.wav',
      'Picture,-24-bit-stems/Radio-call/Halda-Station_Radio-call_whole.wav',
      'Picture,-24-bit-stems/cues/Beacon_sound-2.csv',
      'Picture,-24-bit-stems/cues/Beacon_sound-2.otio',
      'Picture,-24-bit-stems/cues/Radio-call_sound-5.csv',
      'Picture,-24-bit-stems/cues/Radio-call_sound-5.otio',
      'WAV,-24-bit/Halda-Station_Beacon_01.wav',
      'WAV,-24-bit/Halda-Station_Radio-call_01.wav',
      'Web-game/beacon_01.opus',
      'Web-game/radio-call_01.opus',
      'manifest.json',
      'report.csv',
      'report.html',
    ]);
    const manifest = manifestSchema.parse(JSON.parse(readFileSync(join(out, 'manifest.json'), 'utf8')));
    expect(manifest.files).toHaveLength(10);
    for (const entry of manifest.files) {
      const bytes = new Uint8Array(readFileSync(join(out, entry.file)));
      expect(hashBytes(bytes)).toBe(entry.sha256);
      const told = probe(join(out, entry.file), 'stream=codec_name,sample_rate,channels');
      expect(told).toContain(`sample_rate=${entry.sampleRate}`);
      expect(told).toContain(`channels=${entry.channels}`);
      const decoded = execFileSync('ffmpeg', ['-v', 'error', '-i', join(out, entry.file), '-f', 's16le', '-'], { maxBuffer: 2 ** 26 });
      expect(decoded.length / 2 / entry.channels).toBe(entry.frames);
    }
    // A loudness as others measure it, behind the codec.
    const loud = execFileSync('sh', [
      '-c',
      `ffmpeg -nostats -stream_loop 8 -i ${join(out, 'Web-game/beacon_01.opus')} -af ebur128=peak=true -f null - 2>&1`,
    ]).toString();
    expect(Number([...loud.matchAll(/I:\s+(-[\d.]+) LUFS/g)].at(-1)![1])).toBeCloseTo(-23, 0);
    const flac = 'Archive,-FLAC/Beacon/Halda-Station_Beacon_01.flac';
    execFileSync('flac', ['--test', '--silent', '--warnings-as-errors', join(out, flac)]);
    // Marks are chapters to others.
    for (const name of [flac, 'Web-game/beacon_01.opus']) {
      const { chapters } = JSON.parse(
        execFileSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_chapters', join(out, name)]).toString(),
      ) as { chapters: { start_time: string; tags: { title: string } }[] };
      expect(chapters.map(({ start_time, tags }) => [Number(start_time), tags.title])).toEqual([[0.125, 'Väntan']]);
    }
  });

  it('gives the same bytes however many work at it', async () => {
    const file = await packed('same.choir');
    const [one, four] = [inFolder('one'), inFolder('four')];
    await choir('deliver', file, '--out', one, '--workers', '1');
    await choir('deliver', file, '--out', four, '--workers', '4');
    for (const name of listing(one)) expect(readFileSync(join(four, name)).equals(readFileSync(join(one, name)))).toBe(true);
    expect(listing(four)).toEqual(listing(one));
  });

  it('leaves files alone that would come out the same, and makes those again that were changed or lost', async () => {
    const [file, out] = [await packed('changed.choir'), inFolder('changed')];
    await choir('deliver', file, '--out', out);
    const [kept, altered, lost] = ['Web-game/beacon_01.opus', 'Web-game/radio-call_01.opus', 'WAV,-24-bit/Halda-Station_Beacon_01.wav'];
    const [good, before] = [readFileSync(join(out, altered)), statSync(join(out, kept)).mtimeMs];
    writeFileSync(join(out, altered), 'somebody else');
    execFileSync('rm', [join(out, lost)]);
    expect((await choir('deliver', file, '--out', out, '--changed')).out).toContain('8 already as they should be');
    expect(readFileSync(join(out, altered)).equals(good)).toBe(true);
    expect(existsSync(join(out, lost))).toBe(true);
    expect(statSync(join(out, kept)).mtimeMs).toBe(before);
    const louder = await packed('changed-2.choir', (make) =>
      make('setValues', { sound: 'sound-2', values: { 'sound/gain': -3 }, label: 'Quieter' }),
    );
    expect((await choir('deliver', louder, '--out', out, '--changed')).out).toContain('5 already as they should be');
    expect(manifestSchema.parse(JSON.parse(readFileSync(join(out, 'manifest.json'), 'utf8'))).files).toHaveLength(10);
  });

  it('goes on from where it was broken off', async () => {
    const [file, out] = [await packed('broken.choir'), inFolder('broken')];
    const args = ['deliver', file, '--out', out, '--deliveries', 'WAV, 24 bit', 'Web game'];
    mkdirSync(join(out, 'Web-game/radio-call_01.opus'), { recursive: true });
    expect((await choir(...args)).errors[0]).toContain('radio-call_01.opus could not be written: it is a folder');
    const told = manifestSchema.parse(JSON.parse(readFileSync(join(out, 'manifest.json'), 'utf8'))).files.map((entry) => entry.file);
    expect(told).toEqual(
      expect.arrayContaining(['WAV,-24-bit/Halda-Station_Beacon_01.wav', 'WAV,-24-bit/Halda-Station_Radio-call_01.wav']),
    );
    execFileSync('rmdir', [join(out, 'Web-game/radio-call_01.opus')]);
    expect((await choir(...args, '--changed')).out).toMatch(/[23] already as they should be/);
    expect(manifestSchema.parse(JSON.parse(readFileSync(join(out, 'manifest.json'), 'utf8'))).files).toHaveLength(4);
  });

  it('writes one sheet with a list of where each sound lies', async () => {
    const file = await packed('sheet.choir', (make) =>
      make('addDelivery', {
        name: 'Sheet',
        settings: { ...deliveryKinds['Short sounds in one sheet']!, encoding: '24', trim: false, fade: 0, blockDc: false },
      }),
    );
    const out = inFolder('sheet');
    expect((await choir('deliver', file, '--out', out, '--deliveries', 'Sheet')).code).toBe(0);
    expect(listing(out)).toEqual(['halda-station-sheet.json', 'halda-station-sheet.wav', 'manifest.json', 'report.csv', 'report.html']);
    const list = JSON.parse(readFileSync(join(out, 'halda-station-sheet.json'), 'utf8')) as {
      parts: { sound: string; from: number; to: number }[];
    };
    expect(list.parts.map(({ sound }) => sound)).toEqual(['Beacon', 'Radio call']);
    const { audio } = readWav(new Uint8Array(readFileSync(join(out, 'halda-station-sheet.wav'))));
    for (const { from, to } of list.parts) {
      const level = audio.channels[0]!.slice(from + 2_000, to - 2_000).reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
      expect(level).toBeCloseTo(0.25, 3);
    }
    expect(audio.channels[0]!.slice(list.parts[0]!.to, list.parts[1]!.from).every((sample) => Math.abs(sample) < 1e-5)).toBe(true);
  });

  it.each([
    ['opus', 'true peak', 24, -1],
    ['opus', 'true peak', 192, -30],
    ['opus', 'loudness', 24, -1],
    ['opus', 'as it is', 24, -1],
    ['vorbis', 'true peak', 24, -1],
    ['vorbis', 'true peak', 192, -30],
    ['vorbis', 'loudness', 24, -1],
    ['vorbis', 'as it is', 24, -1],
  ] as const)('comes to its level as it decodes: %s, %s at %i kbit/s, %d dBTP', async (format, level, bitrate, ceiling) => {
    await prepareHashing();
    // A square, whose flat tops no low bitrate keeps.
    const square = Float32Array.from({ length: 60_000 }, (_, i) => ((i * 223) % 48_000 < 24_000 ? 0.9 : -0.9));
    const file = inFolder(`square-${format}-${level}-${bitrate}.choir`);
    const audio = { sampleRate: 48_000, channels: [square] };
    writeFileSync(file, await archiveOf(audio, { format, bitrate, level, ceiling, loudness: -8, kept: false, template: '{sound}' }));
    const out = inFolder(`square-${format}-${level}-${bitrate}`);
    expect((await choir('deliver', file, '--out', out)).code).toBe(0);
    // Decoders of Opus differ a little; the format's own is the one that is meant.
    if (format === 'opus') execFileSync('opusdec', ['--float', '--quiet', join(out, 'Square.opus'), join(out, 'decoded.wav')]);
    else execFileSync('ffmpeg', ['-v', 'error', '-i', join(out, 'Square.ogg'), '-c:a', 'pcm_f32le', join(out, 'decoded.wav')]);
    const measured = measure(readWav(new Uint8Array(readFileSync(join(out, 'decoded.wav')))).audio);
    const [entry] = manifestSchema.parse(JSON.parse(readFileSync(join(out, 'manifest.json'), 'utf8'))).files;
    // What is told of the file is what others hear.
    expect(Math.abs(measured.truePeakDbtp - entry!.truePeakDbtp!)).toBeLessThan(0.05);
    expect(Math.abs(measured.integratedLufs - entry!.integratedLufs!)).toBeLessThan(0.1);
    if (level !== 'as it is') {
      expect(measured.truePeakDbtp).toBeLessThan(ceiling + 0.1);
      // A codec is not linear: what is turned by a little may come back a little off.
      if (level === 'true peak') expect(measured.truePeakDbtp).toBeGreaterThan(ceiling - 0.5);
      return;
    }
    expect(measured.truePeakDbtp).toBeGreaterThan(0.5);
    expect(entry!.findings.map(({ text }) => text)).toEqual([expect.stringMatching(/^Peaks between samples reach \+/)]);
  });

  it('writes what a game plays as one of its deliveries', async () => {
    const file = await packed('game.choir', (make) => {
      make('addBehaviour', { kind: 'one', name: 'Call', sound: 'sound-5' });
      make('addDelivery', { name: 'Behaviours', settings: { ...deliveryKinds['Behaviours for a game']!, encoding: '16' } });
    });
    const out = inFolder('game');
    expect((await choir('deliver', file, '--out', out, '--deliveries', 'Behaviours')).code).toBe(0);
    expect(listing(out)).toContain('conduct.json');
    expect(probe(join(out, 'Radio-call.wav'), 'stream=bits_per_sample')).toContain('bits_per_sample=16');
    const told = manifestSchema.parse(JSON.parse(readFileSync(join(out, 'manifest.json'), 'utf8'))).files;
    expect(told.map((entry) => [entry.file, entry.encoding])).toEqual([['Radio-call.wav', '16']]);
    const again = await choir('deliver', file, '--out', out, '--deliveries', 'Behaviours', '--changed');
    expect(again.out).toContain('1 already as they should be');
    expect(listing(out)).toContain('conduct.json');
  });

  it('leaves what a game plays as loud as it was heard, whatever else a document asks for', async () => {
    const gameOf = async (name: string, settings: Partial<Delivery>): Promise<Buffer> => {
      const file = await packed(`${name}.choir`, (make) => {
        make('addBehaviour', { kind: 'one', name: 'Call', sound: 'sound-5' });
        make('addDelivery', { name: 'Behaviours', settings: { ...deliveryKinds['Behaviours for a game']!, format: 'opus', ...settings } });
      });
      expect((await choir('deliver', file, '--out', inFolder(name), '--deliveries', 'Behaviours')).code).toBe(0);
      return readFileSync(join(inFolder(name), 'Radio-call.opus'));
    };
    const plain = await gameOf('plain', {});
    const asked = await gameOf('asked', { level: 'true peak', ceiling: -30, trim: true, fade: 0.1, tail: 'fixed length', length: 3 });
    expect(asked.equals(plain)).toBe(true);
  });

  it('writes a zip of the same files, and tells progress as lines of JSON', async () => {
    const file = await packed('zip.choir');
    const [folder, zip] = [inFolder('unzipped'), inFolder('made', 'all.zip')];
    await choir('deliver', file, '--out', folder);
    const { code, out } = await choir('deliver', file, '--out', zip, '--json');
    expect(code).toBe(0);
    const lines = out
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as Record<string, unknown>);
    expect(lines[0]).toEqual({ done: 0, of: 10 });
    expect(lines.at(-2)).toEqual({ done: 10, of: 10 });
    expect(lines.at(-1)).toMatchObject({ checked: 10, written: 17, unchanged: 0, faults: 0 });
    const entries = unzipSync(new Uint8Array(readFileSync(zip)));
    expect(Object.keys(entries).sort()).toEqual(listing(folder));
    for (const name of listing(folder)) expect(readFileSync(join(folder, name)).equals(entries[name]!)).toBe(true);
    expect(readdirSync(inFolder('made'))).toEqual(['all.zip']);
    expect((await choir('deliver', file, '--out', zip, '--changed')).errors[0]).toContain('--changed is for folders');
  });

  it('only checks where that is asked, and says what is wrong', async () => {
    const file = await packed('check.choir', (make) =>
      make('setValues', { sound: 'sound-2', values: { 'sound/gain': 30 }, label: 'Loud' }),
    );
    const { code, out } = await choir('deliver', file, '--check', '--deliveries', 'WAV, 24 bit');
    expect(code).toBe(0);
    expect(out).toMatch(/fault {3}Halda-Station_Beacon_01\.wav: \d+ samples clip/);
    expect(out).toContain('2 files checked, 1 fault');
  });

  it('refuses what makes no sense, in one line', async () => {
    const file = await packed('wrong.choir', (make) =>
      make('addDelivery', { name: 'Same', settings: { ...deliveryKinds['Web game']!, template: 'x' } }),
    );
    const refused = async (...args: string[]) => {
      const { code, errors } = await choir('deliver', ...args);
      expect(errors).toHaveLength(1);
      return [code, errors[0]];
    };
    expect(await refused(file)).toEqual([2, expect.stringContaining('Name a folder with --out')]);
    expect(await refused(file, '--out', inFolder('x'), '--deliveries', 'Nothing')).toEqual([
      2,
      expect.stringContaining('There is no delivery “Nothing”'),
    ]);
    // A name in one word with its option is a name, whatever it begins with.
    expect(await refused(file, '--out', inFolder('x'), '--deliveries=Web game', '--deliveries=--check')).toEqual([
      2,
      expect.stringContaining('There is no delivery “--check”'),
    ]);
    expect(await refused(file, '--out', inFolder('x'), '--deliveries', 'Same')).toEqual([
      2,
      expect.stringContaining('“Same”: several files would be called x.opus'),
    ]);
    expect(await refused(file, '--out', file)).toEqual([2, expect.stringContaining('is a file; --out is a folder or a .zip file')]);
    expect(await refused(file, '--out', inFolder('x'), '--workers', '0')).toEqual([2, expect.stringContaining('--workers')]);
    mkdirSync(inFolder('other'));
    writeFileSync(inFolder('other', 'manifest.json'), '{"format":"something"}');
    expect(await refused(file, '--out', inFolder('other'), '--changed', '--deliveries', 'Web game')).toEqual([
      2,
      expect.stringContaining('is not a manifest of deliveries'),
    ]);
    // A folder in the way of a file; a full disk and a read-only folder end the same way.
    mkdirSync(inFolder('blocked'));
    writeFileSync(inFolder('blocked', 'manifest.json.part'), '');
    chmodSync(inFolder('blocked'), 0o755);
    mkdirSync(inFolder('blocked', 'beacon_01.opus'));
    expect(await refused(file, '--out', inFolder('blocked'), '--deliveries', 'Web game')).toEqual([
      1,
      expect.stringMatching(/beacon_01\.opus could not be written: it is a folder/),
    ]);
  });
});
