import { existsSync, readFileSync } from 'node:fs';
import type { Audio } from '@tangled-choir/core';
import { readWav, writeWav } from '@tangled-choir/core';
import { choir, inFolder, put, putText, tone } from './testing/bench';

/** Amplitude of a sine in a stretch of whole periods. */
function amplitude(samples: Float32Array, hertz: number, from: number, to: number): number {
  let [re, im] = [0, 0];
  for (let i = from; i < to; i++) {
    re += samples[i]! * Math.cos((2 * Math.PI * hertz * i) / 48_000);
    im += samples[i]! * Math.sin((2 * Math.PI * hertz * i) / 48_000);
  }
  return (2 * Math.hypot(re, im)) / (to - from);
}

describe('choir make', () => {
  const made = async (...args: string[]): Promise<{ code: number; out: string; errors: string[]; audio: Audio }> => {
    const target = inFolder('made.wav');
    const result = await choir('make', '--out', target, '--bits', '32f', ...args);
    return { ...result, audio: result.code === 0 ? readWav(readFileSync(target)).audio : { sampleRate: 48_000, channels: [] } };
  };
  const patch = (): string =>
    putText(
      'patch.json',
      JSON.stringify({
        format: 'tangled-choir-patch',
        version: 1,
        name: 'Tone',
        patch: {
          parameters: {},
          curves: [],
          parts: [{ id: 'tone', kind: 'oscillator', name: '', enabled: true, parameters: { level: 0 }, from: [] }],
        },
      }),
    );

  it('plays notes on a patch, by number and by name', async () => {
    const notes = putText(
      'notes.json',
      JSON.stringify([
        { start: 0.1, length: 0.5, pitch: 'A4', strength: 1 },
        { start: 0.7, length: 0.3, pitch: 81, strength: 1 },
      ]),
    );
    const { code, audio } = await made(patch(), '--notes', notes);
    expect(code).toBe(0);
    expect(amplitude(audio.channels[0]!, 440, 9_600, 24_000)).toBeCloseTo(1, 2);
    expect(amplitude(audio.channels[0]!, 880, 38_400, 45_600)).toBeCloseTo(1, 2);
    expect(audio.channels[0]!.findIndex((sample) => sample !== 0) / 48_000).toBeCloseTo(0.1, 3);
  });

  it('lists our own patches, and plays one the same way again, and with another chance otherwise', async () => {
    expect((await choir('make', '--list')).out).toContain('Aurora shimmer');
    const [first, again, other] = [
      await made('--preset', 'spark gap'),
      await made('--preset', 'Spark gap'),
      await made('--preset', 'Spark gap', '--seed', '7'),
    ];
    const bytes = ({ audio }: { readonly audio: Audio }): Buffer => Buffer.from(writeWav(audio, { encoding: '32f' }));
    expect(bytes(first).equals(bytes(again))).toBe(true);
    expect(bytes(first).equals(bytes(other))).toBe(false);
  });

  it.each([
    [[], 'Name either a patch or, with --preset, one of our own.'],
    [['--preset', 'Nothing of the kind'], 'There is no patch “Nothing of the kind”; --list names all of them.'],
    [['--preset', 'Beacon', '--notes', 'a', '--midi', 'b'], '--notes and --midi say the same thing; choose one of them.'],
    [['--preset', 'Beacon', '--seed', 'x'], '--seed is a whole number from 0 to 9999, not “x”.'],
  ])('says what is wrong with %j', async (args, told) => {
    const { code, errors } = await made(...args);
    expect(code).toBe(2);
    expect(errors).toEqual([told]);
  });

  it('says where a patch or a list of notes does not fit', async () => {
    const wrong = putText('wrong.json', '[{"start": 0, "length": 1, "pitch": "H9"}]');
    expect((await made(patch(), '--notes', wrong)).errors[0]).toContain('wrong.json does not fit: [0].pitch');
    expect((await made(patch())).errors).toEqual(['Which notes? Name them with --notes or --midi.']);
    const odd = putText(
      'odd.json',
      JSON.stringify({
        format: 'tangled-choir-patch',
        version: 1,
        name: 'X',
        patch: { parameters: {}, curves: [], parts: [{ id: 'a', kind: 'kazoo', name: '', enabled: true, parameters: {}, from: [] }] },
      }),
    );
    expect((await made(odd, '--notes', wrong)).errors[0]).toContain('there is no kind of part “kazoo”');
  });
});

describe('choir mimic', () => {
  const ringing = (): Audio => ({
    sampleRate: 48_000,
    channels: [
      Float32Array.from({ length: 38_400 }, (_, i) =>
        [660, 1_733].reduce((sum, hertz) => sum + 0.3 * Math.exp(-i / 9_600) * Math.sin((2 * Math.PI * hertz * i) / 48_000), 0),
      ),
    ],
  });

  it('writes a patch and a note that “choir make” plays, near to the file', async () => {
    const file = put('ringing.wav', ringing());
    const [patch, notes, made] = [inFolder('mimicked.json'), inFolder('mimicked-notes.json'), inFolder('mimicked.wav')];
    const { code, out } = await choir('mimic', file, '--out', patch, '--notes', notes);
    expect(code).toBe(0);
    expect(out).toMatch(/^\d modes and noise: off by [0-4]\.\d dB on average; plain noise by \d\d\.\d dB\n$/);
    expect((await choir('make', patch, '--notes', notes, '--out', made, '--bits', '32f')).code).toBe(0);
    const samples = readWav(readFileSync(made)).audio.channels[0]!;
    for (const hertz of [660, 1_733])
      expect(amplitude(samples, hertz, 480, 5_280)).toBeGreaterThan(10 * amplitude(samples, 1_000, 480, 5_280));
  });

  it('names what is wrong with a file', async () => {
    const silent = put('silent.wav', tone(0, 1, 1));
    const { code, errors } = await choir('mimic', silent, '--out', inFolder('nothing.json'));
    expect(code).toBe(2);
    expect(errors[0]).toMatch(/silent\.wav: It is silent\./);
    expect(existsSync(inFolder('nothing.json'))).toBe(false);
    expect((await choir('mimic', silent)).errors[0]).toMatch(/--out/);
  });
});
