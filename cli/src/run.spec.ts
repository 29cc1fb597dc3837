import { existsSync, readFileSync, truncateSync, writeFileSync } from 'node:fs';
import type { Audio, Project } from '@tangled-choir/core';
import { createProject, effects, hashBytes, packArchive, plainStretch, readWav, writeWav } from '@tangled-choir/core';
import { withRecording } from './files';
import { choir, inFolder, put, tone } from './testing/bench';

/** A small project with one sound of one clip, packed. */
async function packedProject(): Promise<{ file: string; project: Project; wav: Uint8Array }> {
  const wav = writeWav(tone(0.25, 1, 1), { encoding: '24' });
  const audio = hashBytes(wav);
  const fade = { length: 0.01, shape: 'linear' as const };
  const clip = {
    id: 'clip-3',
    source: 'source-1',
    start: 0,
    offset: 0,
    length: 0.5,
    gain: 0,
    speed: 0,
    ...plainStretch,
    reversed: false,
    locked: false,
    fadeIn: fade,
    fadeOut: fade,
  };
  const layer = {
    id: 'layer-2',
    name: 'Ice',
    role: 'Strike' as const,
    gain: 0,
    pan: 0,
    muted: false,
    soloed: false,
    sends: [],
    overlaps: 'sum' as const,
    chain: [],
  };
  const family = {
    seed: 7,
    sways: [{ id: 'sway-5', kind: 'range' as const, address: 'layer/layer-2/clip/clip-3/speed', low: -3, high: 3, locked: false }],
    siblings: [],
  };
  const project: Project = {
    ...createProject('p', 'Halda'),
    counter: 9,
    sources: [
      {
        kind: 'recording',
        id: 'source-1',
        name: 'Tone',
        audio,
        frames: 48_000,
        channels: 1,
        tags: [],
        notes: '',
        regions: [],
        cues: [],
        origin: { file: 'tone.wav', sampleRate: 48_000, encoding: '24 bit' },
      },
    ],
    sounds: [
      {
        id: 'sound-4',
        name: 'Slab',
        gain: 0,
        layout: 'stereo',
        layers: [
          { ...layer, clips: [clip] },
          { ...layer, id: 'layer-6', name: 'Snow', clips: [{ ...clip, id: 'clip-7' }] },
        ],
        buses: [],
        soloing: true,
        chain: [],
        automation: [],
        movers: [],
        pulls: [],
        marks: [],
        tempo: { bpm: 120, beats: 4, offset: 0 },
        clock: { frameRate: '25', startFrame: 0 },
        family,
      },
    ],
  };
  const file = inFolder('halda.choir');
  writeFileSync(file, await packArchive(project, new Map([[audio, wav]])));
  return { file, project, wav };
}

describe('choir measure', () => {
  it('measures a tone as the formulas say', async () => {
    const file = put('tone.wav', tone(0.1));
    const { code, out } = await choir('measure', file, '--json');
    const [result] = JSON.parse(out);
    expect(code).toBe(0);
    expect(Object.keys(result)).toEqual([
      'file',
      'sampleRate',
      'channels',
      'frames',
      'seconds',
      'integratedLufs',
      'maxMomentaryLufs',
      'maxShortTermLufs',
      'loudnessRangeLu',
      'truePeakDbtp',
      'samplePeakDbfs',
      'rmsDbfs',
      'dcOffset',
    ]);
    expect(result.integratedLufs).toBeCloseTo(-20, 1);
    expect(result.rmsDbfs).toBeCloseTo(-23.01, 2);
    expect(result.samplePeakDbfs).toBeCloseTo(-20, 2);
    expect(result.seconds).toBe(4);
  });

  it('gives null for silence and weighs surround channels', async () => {
    const silence = put('silence.wav', tone(0));
    const surround = put('surround.wav', { sampleRate: 48_000, channels: [0, 0, 0, 0, 0.1, 0].map((level) => tone(level).channels[0]!) });
    const { out } = await choir('measure', silence, surround, '--json');
    const [nothing, side] = JSON.parse(out);
    expect([nothing.integratedLufs, nothing.truePeakDbtp, nothing.rmsDbfs]).toEqual([null, null, null]);
    expect(side.integratedLufs).toBeCloseTo(-23 + 10 * Math.log10(1.41), 1);
  });

  it.each([
    ['a missing file', 'nowhere.wav', /^There is no file/],
    ['text', 'notes.txt', /is not a WAV file/],
  ])('ends with 2 and one line for %s', async (_, name, message) => {
    writeFileSync(inFolder('notes.txt'), 'only some notes, no audio');
    const { code, errors } = await choir('measure', inFolder(name), '--json');
    expect(code).toBe(2);
    expect(errors).toHaveLength(1);
    expect(errors[0]).toMatch(message);
  });
});

describe('files beyond two gigabytes', () => {
  /** A WAV file that says that it has so many bytes of samples, all of them 0, and takes no room on the disk. */
  function putLong(name: string, bytes: number): string {
    const header = writeWav({ sampleRate: 48_000, channels: [new Float32Array(0)] }, { encoding: '16' });
    const view = new DataView(header.buffer);
    view.setUint32(4, header.length - 8 + bytes, true);
    view.setUint32(header.length - 4, bytes, true);
    writeFileSync(inFolder(name), header);
    truncateSync(inFolder(name), header.length + bytes);
    return inFolder(name);
  }

  it('are refused by their name where all of them would have to be held', async () => {
    const long = putLong('night.wav', 3 * 2 ** 30);
    const treated = await choir('treat', long, '--stretch', '1', '--out', inFolder('treated.wav'));
    expect([treated.code, treated.errors]).toEqual([
      2,
      [`${long} lasts 559 minutes, more than can be held at once; cut it into parts first.`],
    ]);
    const applied = await choir('apply', put('tone.wav', tone(0.1)), '--chain', long, '--out', inFolder('applied'));
    expect([applied.code, applied.errors]).toEqual([2, [`${long} has 3.0 GB, more than can be read at once (2 GB).`]]);
    const checked = await choir('check', long);
    expect([checked.code, checked.errors]).toEqual([2, [`${long} is not a .choir archive: it is not a zip file.`]]);
  });

  it('are read where they are needed, up to their ends', async () => {
    const long = putLong('night.wav', 2 ** 32 - 1_000);
    const read = await withRecording(long, async (recording) => {
      const piece = await recording.read(recording.frames - 480, recording.frames);
      return [recording.frames, piece.channels[0]!.length];
    });
    expect(read).toEqual([2 ** 31 - 500, 480]);
  });
});

describe('choir treat', () => {
  const sine = (frequency: number): Audio => ({
    sampleRate: 48_000,
    channels: [Float32Array.from({ length: 48_000 }, (_, i) => 0.4 * Math.sin((2 * Math.PI * frequency * i) / 48_000))],
  });
  const treated = async (...args: string[]): Promise<{ code: number; out: string; errors: string[]; audio: Audio }> => {
    const target = inFolder('treated.wav');
    const result = await choir('treat', put('sine.wav', sine(440)), '--out', target, '--bits', '32f', ...args);
    return { ...result, audio: readWav(new Uint8Array(readFileSync(target))).audio };
  };

  it.each([
    [['--stretch', '2.5'], 2.5, 440],
    [['--fit', '0.5'], 0.5, 440],
    [['--vast', '20'], 20, 440],
    [['--semitones', '12'], 1, 880],
    [['--semitones', '-36'], 1, 55],
    [['--speed', '12', '--stretch', '2'], 1, 880],
    [['--stretch', '0.25', '--reverse'], 0.25, 440],
  ])('%j lasts %f s at %f Hz', async (args, seconds, frequency) => {
    const { code, audio } = await treated(...args);
    expect(code).toBe(0);
    const [samples] = audio.channels;
    expect(samples).toHaveLength(Math.round(seconds * 48_000));
    let crossings = 0;
    const from = Math.round(samples!.length / 4);
    for (let i = from; i < 3 * from; i++) if (samples![i]! < 0 && samples![i + 1]! >= 0) crossings++;
    expect(Math.abs(crossings / ((2 * from) / 48_000) - frequency)).toBeLessThan(6);
  });

  it('prints what the stretch has done as JSON', async () => {
    const strain = JSON.parse((await treated('--stretch', '2', '--method', 'tones', '--strain')).out);
    expect(strain).toMatchObject({ amount: 0, reason: null, moments: [] });
    const clicks = new Float32Array(96_000);
    for (const at of [20_000, 60_000]) clicks[at] = 0.8;
    const file = put('clicks.wav', { sampleRate: 48_000, channels: [clicks] });
    const { out } = await choir('treat', file, '--out', inFolder('worn.wav'), '--stretch', '2', '--method', 'tones', '--strain');
    const smeared = JSON.parse(out);
    expect(smeared).toMatchObject({ reason: 'smeared attacks', amount: 1, lost: null });
    expect(smeared.moments.map(({ time }: { time: number }) => Math.round(10 * time))).toEqual(expect.arrayContaining([8, 25]));
  });

  it.each([
    [['--stretch', '9'], /--stretch is a number from 0.25 to 4/],
    [['--stretch', '2', '--fit', '3'], /choose one of them/],
    [['--fit', '900'], /is a stretch of 900/],
    [['--method', 'magic'], /--method is auto/],
    [['--semitones', '40'], /from -36 to 36/],
  ])('ends with 2 and one line for %j', async (args, message) => {
    const { code, errors } = await choir('treat', put('sine.wav', sine(440)), '--out', inFolder('not.wav'), ...args);
    expect(code).toBe(2);
    expect(errors).toHaveLength(1);
    expect(errors[0]).toMatch(message);
  });

  it('tells the pitch of a file, as a track too', async () => {
    const file = put('sine.wav', sine(330));
    expect((await choir('pitch', file)).out).toMatch(/^330\.0\d Hz {2}confidence (0\.9\d|1\.00)\n$/);
    const track = JSON.parse((await choir('pitch', file, '--json')).out);
    expect(track.length).toBeGreaterThan(20);
    expect(track[5]).toEqual({ time: expect.any(Number), frequency: expect.closeTo(330, 0), confidence: expect.any(Number) });
    expect((await choir('pitch', put('nothing.wav', { sampleRate: 48_000, channels: [new Float32Array(9_600)] }))).out).toBe('no pitch\n');
  });
});

describe('choir effects', () => {
  it('lists every registered effect with name, unit, range and default', async () => {
    const { out } = await choir('effects', '--json');
    const list = JSON.parse(out);
    expect(list.map((effect: { id: string }) => effect.id)).toEqual(effects.map((effect) => effect.id));
    const listed = list.find((effect: { id: string }) => effect.id === 'compressor');
    expect(listed.parameters.find((parameter: { name: string }) => parameter.name === 'threshold')).toMatchObject({
      unit: 'dB',
      min: -60,
      max: 0,
      default: -24,
    });
  });
});

describe('choir apply', () => {
  it('runs every effect, one behind the other', async () => {
    const chain = effects.map(({ id, presets }) => ({ effect: id, parameters: presets[0]?.values ?? {}, mix: 0.3 }));
    writeFileSync(inFolder('all.json'), JSON.stringify(chain));
    const file = put('burst.wav', tone(0.2, 0.3));
    const { code, errors } = await choir('apply', '--chain', inFolder('all.json'), file, '--out', inFolder('all'), '--bits', '32f');
    expect({ code, errors }).toEqual({ code: 0, errors: [] });
    const { audio } = readWav(readFileSync(inFolder('all', 'burst.wav')));
    expect(audio.channels[0]!.every((sample) => Number.isFinite(sample))).toBe(true);
    // So many in a row leave little of it, but no silence.
    expect(Math.max(...audio.channels[0]!)).toBeGreaterThan(0.003);
  });

  it('runs a chain and keeps every sample in its place', async () => {
    const input = new Float32Array(4_800);
    input[1_000] = 0.5;
    const file = put('click.wav', { sampleRate: 48_000, channels: [input, input, input] });
    writeFileSync(
      inFolder('chain.json'),
      JSON.stringify([
        { effect: 'compressor', parameters: { threshold: 0, lookahead: 0.01 } },
        { effect: 'eq', mix: 0.5 },
      ]),
    );
    const { code } = await choir('apply', '--chain', inFolder('chain.json'), file, '--out', inFolder('out'), '--bits', '32f');
    expect(code).toBe(0);
    const { audio } = readWav(readFileSync(inFolder('out', 'click.wav')));
    expect(audio.channels).toHaveLength(3);
    expect(audio.channels[2]).toHaveLength(4_800);
    expect(audio.channels[2]![1_000]).toBeCloseTo(0.5, 5);
  });

  it('takes no file for a folder, and never steers the terminal', async () => {
    const file = put('tap.wav', { sampleRate: 48_000, channels: [new Float32Array(480)] });
    writeFileSync(inFolder('chain.json'), '[]');
    const onFile = await choir('apply', '--chain', inFolder('chain.json'), file, '--out', file);
    expect(onFile).toMatchObject({ code: 2, errors: [`${file} is a file; --out is a folder.`] });
    const strange = await choir('measure', 'snow\u001b[31m\u0007\u202ered.wav');
    expect(strange.code).toBe(2);
    expect(strange.errors).toEqual(['There is no file snow\ufffd[31m\ufffd\ufffdred.wav.']);
    const long = await choir('measure', 'x'.repeat(9_000));
    expect(long.errors.join('').length).toBeLessThan(2_100);
  });

  it('runs hosts with chains within, and takes recordings as responses from files beside the chain', async () => {
    const input = new Float32Array(4_800);
    input[1_000] = 0.5;
    const file = put('tick.wav', { sampleRate: 48_000, channels: [input] });
    const echo = new Float32Array(200);
    echo[0] = echo[100] = 0.5;
    put('echo.wav', { sampleRate: 48_000, channels: [echo] });
    const convolved = { effect: 'convolution', parameters: { response: 'echo.wav', level: 0, fadeOut: 0 } };
    const chain = [{ effect: 'side-by-side', branches: [{ gain: -6 }, { gain: -96, chain: [convolved] }] }, convolved];
    writeFileSync(inFolder('host.json'), JSON.stringify(chain));
    const { code, errors } = await choir('apply', '--chain', inFolder('host.json'), file, '--out', inFolder('host'), '--bits', '32f');
    expect({ code, errors }).toEqual({ code: 0, errors: [] });
    const [output] = readWav(readFileSync(inFolder('host', 'tick.wav'))).audio.channels;
    const expected = 0.5 * 10 ** (-6 / 20) * Math.SQRT1_2;
    expect(output![1_000]).toBeCloseTo(expected, 3);
    expect(output![1_100]).toBeCloseTo(expected, 3);
    expect(output![1_050]).toBeCloseTo(0, 3);
  });

  it('keeps the tail when asked', async () => {
    const file = put('short.wav', tone(0.1, 1, 1));
    writeFileSync(
      inFolder('ring.json'),
      JSON.stringify([{ effect: 'eq', parameters: { band3On: true, band3Q: 30, band3Gain: 20, band3Frequency: 100 } }]),
    );
    await choir('apply', '--chain', inFolder('ring.json'), file, '--out', inFolder('tail'), '--tail');
    expect(readWav(readFileSync(inFolder('tail', 'short.wav'))).audio.channels[0]!.length).toBeGreaterThan(60_000);
  });

  it.each([
    ['[{"effect":"warp"}]', 'step 1: there is no effect “warp”'],
    ['[{"effect":"eq","parameters":{"band99Gain":1}}]', 'there is no parameter “band99Gain”'],
    ['[{"effect":"compressor","parameters":{"ratio":900}}]', '“ratio” is 900'],
    ['[{"effect":"eq","mix":7}]', '[0].mix'],
    ['[{"effect":"bands","branches":[{}]}]', 'step 1 (bands): it has 1 bands, not 2 to 6'],
    ['[{"effect":"bands","branches":[{"chain":[{"effect":"warp"}]},{}]}]', 'step 1, band 1, step 1: there is no effect “warp”'],
    ['[{"effect":"ducker","parameters":{"key":"layer-1"}}]', 'needs another layer'],
    ['{"__proto__":{}}', '“__proto__”'],
    ['[', 'is not valid JSON'],
  ])('refuses the chain %s', async (text, message) => {
    writeFileSync(inFolder('bad.json'), text);
    const file = put('a.wav', tone(0.1, 1, 1));
    const { code, errors } = await choir('apply', '--chain', inFolder('bad.json'), file, '--out', inFolder('bad'));
    expect(code).toBe(2);
    expect(errors).toEqual([expect.stringContaining(message)]);
    expect(existsSync(inFolder('bad'))).toBe(false);
  });

  it('never overwrites its input', async () => {
    const file = put('b.wav', tone(0.1, 1, 1));
    writeFileSync(inFolder('empty.json'), '[]');
    const { code, errors } = await choir('apply', '--chain', inFolder('empty.json'), file, '--out', inFolder('.'));
    expect(code).toBe(2);
    expect(errors[0]).toContain('would overwrite');
  });
});

describe('choir check and render', () => {
  it('finds a sound project sound and a damaged one damaged', async () => {
    const { file, project, wav } = await packedProject();
    expect((await choir('check', file)).out).toContain('is sound: “Halda”, 1 sounds, 1 sources');
    const altered = wav.slice();
    altered[200]! ^= 1;
    writeFileSync(inFolder('altered.choir'), await packArchive(project, new Map([[project.sources[0]!.audio, altered]])));
    const { code, errors } = await choir('check', inFolder('altered.choir'));
    expect(code).toBe(2);
    expect(errors).toEqual([expect.stringContaining('“Tone” (audio/')]);
  });

  it('renders the original, a family that follows its seed, and stems that add up', async () => {
    const { file } = await packedProject();
    expect((await choir('render', file, '--sound', 'Slab', '--out', inFolder('one'), '--bits', '32f')).code).toBe(0);
    const original = readWav(readFileSync(inFolder('one', 'Halda_Slab_01.wav'))).audio.channels[0]!;
    expect(original).toHaveLength(24_000);
    for (const [where, seed] of [
      ['f1', '5'],
      ['f2', '5'],
      ['f3', '6'],
    ] as const)
      await choir('render', file, '--sound', 'Slab', '--family', '3', '--seed', seed, '--out', inFolder(where));
    const read = (where: string, number: number): Buffer => readFileSync(inFolder(where, `Halda_Slab_0${number}.wav`));
    expect(read('f1', 2)).toEqual(read('f2', 2));
    expect(read('f1', 2)).not.toEqual(read('f3', 2));
    expect(read('f1', 1)).not.toEqual(read('f1', 3));
    await choir('render', file, '--sound', 'Slab', '--stems', '--out', inFolder('stems'), '--bits', '32f');
    const stems = ['Ice', 'Snow'].map((layer) => readWav(readFileSync(inFolder('stems', `Halda_Slab-${layer}_01.wav`))).audio.channels[0]!);
    let worst = 0;
    for (let i = 0; i < original.length; i++) worst = Math.max(worst, Math.abs(stems[0]![i]! + stems[1]![i]! - original[i]!));
    expect(worst).toBeLessThan(1e-6);
  });

  it.each([
    [['--sound', 'Nothing'], 'There is no sound “Nothing”'],
    [['--sound', 'Slab', '--family', 'many'], '--family is a whole number'],
    [['--sound', 'Slab', '--rate', '8000'], '--rate is 22050, 44100'],
    [['--sound', 'Slab', '--bits', '12'], '--bits is 16, 24, 32f'],
    [[], 'required option'],
  ])('ends with 2 for %j', async (args, message) => {
    const { file } = await packedProject();
    const { code, errors } = await choir('render', file, ...args);
    expect(code).toBe(2);
    expect(errors).toEqual([expect.stringContaining(message)]);
  });
});

it('ends with 2 for an unknown command and with help for none', async () => {
  expect(await choir('sing')).toMatchObject({ code: 2, errors: [expect.stringContaining("unknown command 'sing'")] });
  expect((await choir()).code).toBe(2);
  expect((await choir('--help')).code).toBe(0);
});
