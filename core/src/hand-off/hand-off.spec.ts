import { readFileSync } from 'node:fs';
import { measure } from '../analysis/loudness/measure';
import { mono, noise, sine } from '../testing/signals';
import { edited, projectWith } from '../testing/project';
import { effectCatalogue } from '../catalogue';
import { readWav } from '../formats/wav/wav-read';
import { renderItem } from './render-item';
import { commentsOf, manifestEntry, wavOf } from './write-item';
import { manifestJsonSchema, manifestSchema } from './manifest';
import { collidingNames, planSound } from './plan';
import { checkFile } from './pre-flight';

const { project: base, context } = projectWith({ 'Snow crunch': mono(noise(9_600, 4, -9)) });
const id = base.sounds[0]!.id;
const layer = base.sounds[0]!.layers[0]!;
let project = edited(base, 'setSway', {
  sound: id,
  sway: { kind: 'range', address: `layer/${layer.id}/clip/${layer.clips[0]!.id}/speed`, low: -3, high: 3, locked: false },
  label: '',
});
project = edited(project, 'setFamily', { sound: id, size: 4, seed: 3 });
for (const index of [1, 3]) project = edited(project, 'judgeSibling', { sound: id, index, state: 'kept' });
const sound = project.sounds[0]!;
const moment = { date: '2026-11-25', time: '12:00:00' };

describe('planning a delivery', () => {
  it('takes the original and the kept siblings, numbered in order', () => {
    const items = planSound(project, sound, project.deliveries[0]!, effectCatalogue);
    expect(items.map((item) => item.file)).toEqual([
      'Halda-test_Slab-test_01.wav',
      'Halda-test_Slab-test_02.wav',
      'Halda-test_Slab-test_03.wav',
    ]);
    expect(items.map((item) => item.sibling)).toEqual([undefined, 1, 3]);
    expect(new Set(items.map((item) => item.recipe)).size).toBe(3);
  });

  it('finds names that collide, also by case', () => {
    expect(collidingNames(planSound(project, sound, { ...project.deliveries[0]!, template: '{sound}' }, effectCatalogue))).toHaveLength(1);
    expect(collidingNames([{ file: 'A.wav' }, { file: 'a.wav' }, { file: 'b.wav' }])).toEqual(['A.wav', 'a.wav']);
  });
});

describe('delivering', () => {
  it.each([
    ['16', 'mono', 44_100],
    ['24', 'stereo', 48_000],
    ['32f', 'stereo', 96_000],
  ] as const)(
    'writes %s bit %s at %i Hz with its recipe and sources, and a manifest entry that is true',
    (encoding, channels, sampleRate) => {
      const settings = { ...project.deliveries[0]!, encoding, channels, sampleRate };
      const item = planSound(project, sound, settings, effectCatalogue)[1]!;
      const writing = { item, rendered: renderItem(item, settings, context), delivery: settings, project, moment };
      const wav = wavOf(writing);
      const entry = manifestEntry(writing, wav);
      const { audio } = readWav(wav);
      expect(audio.sampleRate).toBe(sampleRate);
      expect(audio.channels).toHaveLength(channels === 'mono' ? 1 : 2);
      expect(audio.channels[0]).toHaveLength(entry.frames);
      const text = new TextDecoder().decode(wav);
      expect(text).toContain(item.recipe);
      expect(text).toContain('Snow crunch');
      expect(measure(audio).truePeakDbtp).toBeCloseTo(entry.truePeakDbtp!, 1);
      expect(entry.sources).toEqual([{ name: 'Snow crunch', file: 'Snow crunch.wav', sha256: project.sources[0]!.audio }]);
      expect(manifestSchema.shape.files.element.parse(entry)).toEqual(entry);
    },
  );

  it('gives the same file twice, dither included', () => {
    const settings = { ...project.deliveries[0]!, encoding: '16' as const };
    const item = planSound(project, sound, settings, effectCatalogue)[0]!;
    const write = () => wavOf({ item, rendered: renderItem(item, settings, context), delivery: settings, project, moment });
    expect(write()).toEqual(write());
  });

  it('carries the picture’s clock: the first sample of a sound that starts at 01:00:00:12', () => {
    const clocked = edited(project, 'setClock', { sound: id, clock: { frameRate: '25', startFrame: 25 * 3_600 + 12 } });
    const [item] = planSound(clocked, clocked.sounds[0]!, clocked.deliveries[0]!, effectCatalogue);
    const delivery = clocked.deliveries[0]!;
    const wav = wavOf({ item: item!, rendered: renderItem(item!, delivery, context), delivery, project: clocked, moment });
    // The first chunk is bext; its time reference lies behind 338 bytes of text.
    expect(new DataView(wav.buffer).getUint32(20 + 338, true)).toBe(48_000 * 3_600.48);
  });

  it('carries the marks that lie within it as cue points, also where silence in front of them was left out', () => {
    const marks = [
      { name: 'It breaks', time: 0.15 },
      { name: 'Väntan', time: 0.1 },
      { name: 'Long after', time: 30 },
    ];
    const clip = project.sounds[0]!.layers[0]!.clips[0]!.id;
    const marked = edited(edited(project, 'addMarks', { sound: id, marks }), 'moveClips', { sound: id, to: [{ clip, start: 0.08 }] });
    const delivery = { ...marked.deliveries[0]!, trim: true, sampleRate: 44_100 as const };
    const [item] = planSound(marked, marked.sounds[0]!, delivery, effectCatalogue);
    const rendered = renderItem(item!, delivery, context);
    expect(rendered.start).toBeGreaterThan(0.07 * 44_100);
    const { details } = readWav(wavOf({ item: item!, rendered, delivery, project: marked, moment }));
    expect(details.cues.map(({ name, frame }) => [name, frame + rendered.start])).toEqual([
      ['Väntan', 4_410],
      ['It breaks', 6_615],
    ]);
    // Other formats have them as chapters, to the millisecond.
    const comments = commentsOf({ item: item!, rendered, delivery, project: marked, moment });
    const time = (frame: number): string => `00:00:00.${String(Math.round(((frame - rendered.start) / 44_100) * 1_000)).padStart(3, '0')}`;
    expect(comments.filter((comment) => comment.startsWith('CHAPTER'))).toEqual([
      `CHAPTER001=${time(4_410)}`,
      'CHAPTER001NAME=Väntan',
      `CHAPTER002=${time(6_615)}`,
      'CHAPTER002NAME=It breaks',
    ]);
  });

  it.each([
    ['25', '25/1', 'NDF'],
    ['29.97 drop', '30000/1001', 'DF'],
    ['23.976', '24000/1001', 'NDF'],
  ] as const)('tells the clock of the picture at %s as iXML', (frameRate, rate, flag) => {
    const clocked = edited(project, 'setClock', { sound: id, clock: { frameRate, startFrame: 100_000 } });
    const [delivery] = clocked.deliveries;
    const [item] = planSound(clocked, clocked.sounds[0]!, delivery!, effectCatalogue);
    const text = new TextDecoder().decode(
      wavOf({
        item: item!,
        rendered: renderItem(item!, delivery!, context),
        delivery: delivery!,
        project: { ...clocked, name: 'A & B' },
        moment,
      }),
    );
    expect(text).toContain('<PROJECT>A &amp; B</PROJECT>');
    expect(text).toContain(`<TIMECODE_RATE>${rate}</TIMECODE_RATE>\n<TIMECODE_FLAG>${flag}</TIMECODE_FLAG>`);
    const [above, below] = rate.split('/').map(Number);
    const low = Math.round((100_000 * below! * 48_000) / above!);
    expect(text).toContain(`<TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO>${low}</TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO>`);
    expect(text).toContain('<TRACK_COUNT>2</TRACK_COUNT>');
  });

  it('has a manifest schema in docs that is up to date', () => {
    expect(JSON.parse(readFileSync(`${__dirname}/../../../docs/manifest.schema.json`, 'utf8'))).toEqual(
      JSON.parse(JSON.stringify(manifestJsonSchema())),
    );
  });
});

describe('pre-flight', () => {
  const check = (samples: Float32Array, encoding: '16' | '32f' = '16'): string[] =>
    checkFile(mono(samples), measure(mono(samples)), { item: { loops: undefined }, delivery: { ...project.deliveries[0]!, encoding } }).map(
      (finding) => finding.text,
    );

  it('says nothing about a file that is fine', () => {
    expect(check(sine(1_000, 0.5, 48_000, -6))).toEqual([]);
  });

  it('finds emptiness, silence, clipping, peaks between samples and silent ends', () => {
    expect(check(new Float32Array(0))[0]).toContain('empty');
    expect(check(new Float32Array(100))[0]).toContain('silent');
    expect(check(sine(1_000, 0.5, 48_000, 3))[0]).toMatch(/samples clip; turn the sound down by 3\.1 dB/);
    expect(check(sine(1_000, 0.5, 48_000, 3), '32f')[0]).toContain('above full scale');
    expect(check(sine(12_000, 0.5, 48_000, 2, Math.PI / 4))[0]).toContain('Peaks between samples');
    const padded = new Float32Array(96_000);
    padded.set(sine(500, 0.2, 48_000, -6), 12_000);
    expect(check(padded)).toEqual([expect.stringContaining('Starts with 0.250 s'), expect.stringContaining('Ends with')]);
  });
});
