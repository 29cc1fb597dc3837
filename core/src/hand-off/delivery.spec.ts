import { measure } from '../analysis/loudness/measure';
import type { Audio } from '../audio/audio';
import { effectCatalogue } from '../catalogue';
import { parseProject } from '../project/parse';
import { deliveryKinds, startingDelivery } from '../project/deliveries/create-delivery';
import type { Delivery, Project } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { mono, noise, sine } from '../testing/signals';
import { checkFamily } from './check-family';
import { cueSheetCsv, cueSheetOtio } from './cue-sheet';
import { deliveryFolders } from './folders';
import { formOf } from './form';
import { planDelivery, planSound } from './plan';
import { renderItem } from './render-item';
import type { ReportRow } from './report';
import { reportCsv, reportHtml } from './report';
import { joinSheet, sheetItem } from './sheet';
import { timbrePrint } from '../analysis/timbre';

const rate = 48_000;
const delivery = (settings: Partial<Delivery>): Delivery => ({ ...startingDelivery, ...settings });
const wave = (frequency: number, level = -12): Audio => mono(sine(frequency, 0.5, rate, level));

/** Two layers in one sound, and another sound. */
function twoSounds() {
  const made = projectWith({ Boom: wave(60, -6), Crack: mono(noise(0.5 * rate, 4, -18)) });
  let { project } = made;
  project = edited(project, 'addSound', { name: 'Pebble' });
  const pebble = project.sounds.at(-1)!.id;
  project = edited(project, 'addLayer', { sound: pebble, source: project.sources[1]!.id, start: 0 });
  return { project, context: made.context, first: project.sounds[0]!, pebble };
}

describe('a delivery of many sounds', () => {
  it('takes all sounds that have layers, or those that were chosen, in the order of the project', () => {
    const { project, pebble, first } = twoSounds();
    const empty = edited(project, 'addSound', { name: 'Nothing yet' });
    const names = (from: Project, settings: Partial<Delivery>) =>
      planDelivery(from, delivery({ template: '{sound}', ...settings }), effectCatalogue).map(({ file }) => file);
    expect(names(empty, {})).toEqual(['Slab-test.wav', 'Pebble.wav']);
    expect(names(empty, { sounds: [pebble, first.id] })).toEqual(['Slab-test.wav', 'Pebble.wav']);
    expect(names(empty, { sounds: [pebble] })).toEqual(['Pebble.wav']);
    expect(names(empty, { sounds: [] })).toEqual([]);
    expect(names(empty, { content: 'behaviours' })).toEqual([]);
  });

  it('loses a sound that is removed, and comes back with it', () => {
    const { project, pebble, first } = twoSounds();
    const chosen = edited(project, 'setDelivery', { delivery: 'delivery-0', change: { sounds: [pebble, first.id] } });
    expect(chosen.deliveries[0]!.sounds).toEqual([first.id, pebble]);
    expect(edited(chosen, 'removeSound', { sound: pebble }).deliveries[0]!.sounds).toEqual([first.id]);
  });

  it('is refused in a document where its id is used twice, or where a sound that it names is not there', () => {
    const { project } = twoSounds();
    const twice = edited(project, 'duplicateDelivery', { delivery: 'delivery-0' });
    expect(parseProject(twice, effectCatalogue)).toEqual(twice);
    const same = { ...twice, deliveries: twice.deliveries.map((each) => ({ ...each, id: 'delivery-0' })) };
    expect(() => parseProject(same, effectCatalogue)).toThrow('deliveries[1]: the id “delivery-0” is used twice');
    const lost = { ...project, deliveries: [delivery({ sounds: ['sound-99'] })] };
    expect(() => parseProject(lost, effectCatalogue)).toThrow('deliveries[0].sounds: there is no sound “sound-99”');
  });

  it('names files by the endings of their formats, as long and in the letters that were asked for', () => {
    const { project } = twoSounds();
    const of = (settings: Partial<Delivery>) => planDelivery(project, delivery(settings), effectCatalogue)[0]!.file;
    expect(of({ format: 'flac', template: '{sound}' })).toBe('Slab-test.flac');
    expect(of({ format: 'opus', template: '{project}/{sound}_{rate}', letters: 'lower' })).toBe('halda-test/slab-test_48000.opus');
    expect(of({ format: 'vorbis', template: '{sound}', letters: 'upper' })).toBe('SLAB-TEST.ogg');
    expect(of({ template: '{number}' })).toBe('01.wav');
    expect(of({ template: '{number}', firstNumber: 0, digits: 1 })).toBe('0.wav');
    expect(of({ template: '{number}', firstNumber: 9_999, digits: 5 })).toBe('09999.wav');
  });

  it('has forms that its format can', () => {
    expect(formOf(delivery({ format: 'opus', sampleRate: 22_050, channels: 'mono', bitrate: 48 }))).toMatchObject({
      sampleRate: 48_000,
      bitrate: 48,
    });
    expect(formOf(delivery({ format: 'flac', encoding: '32f', sampleRate: 96_000 }))).toMatchObject({ sampleRate: 96_000, encoding: '24' });
  });

  it('tells files apart that come out otherwise, and only those', () => {
    const { project } = twoSounds();
    const form = (settings: Partial<Delivery>) => planDelivery(project, delivery(settings), effectCatalogue)[0]!.form;
    const plain = form({});
    for (const settings of [
      { encoding: '16' },
      { channels: 'mono' },
      { level: 'gain', gain: 3 },
      { trim: true },
      { blockDc: true },
      { fade: 0.01 },
      { format: 'flac' },
      { sampleRate: 44_100 },
    ] as const)
      expect(form(settings)).not.toBe(plain);
    for (const settings of [{ name: 'Other' }, { template: '{sound}' }, { letters: 'upper' }, { on: false }] as const)
      expect(form(settings)).toBe(plain);
    const { id } = project.sounds[0]!;
    const marked = edited(project, 'addMarks', { sound: id, marks: [{ name: 'It breaks', time: 0.1 }] });
    expect(planDelivery(marked, startingDelivery, effectCatalogue)[0]!.form).not.toBe(plain);
  });
});

describe('stems', () => {
  const stemsOf = (settings: Partial<Delivery>) => {
    const { project, context, first } = twoSounds();
    const asked = delivery({ stems: 'layers', template: '{sound}_{stem}', encoding: '32f', kept: false, ...settings });
    const items = planSound(project, first, asked, effectCatalogue);
    return { items, made: items.map((item) => renderItem(item, asked, context).audio) };
  };

  it.each([
    ['as they are', {}],
    ['at a loudness', { level: 'loudness', loudness: -30 }],
    ['at a loudness that the peaks hold back', { level: 'loudness', loudness: -8, ceiling: -2 }],
    ['in mono at 44.1 kHz without direct current', { channels: 'mono', sampleRate: 44_100, blockDc: true }],
  ] as const)('%s sum up to their whole', (_, settings) => {
    const { items, made } = stemsOf(settings);
    expect(items.map(({ file }) => file)).toEqual(['Slab-test_whole.wav', 'Slab-test_Boom.wav', 'Slab-test_Crack.wav']);
    const [whole, ...stems] = made;
    const held = 'ceiling' in settings;
    whole!.channels.forEach((channel, c) => {
      let worst = 0;
      channel.forEach((sample, i) => {
        const sum = stems.reduce((total, stem) => total + (stem.channels[c]![i] ?? 0), 0);
        worst = Math.max(worst, Math.abs(sum - sample));
      });
      // The whole is limited there, which stems are not.
      if (!held) expect(worst).toBeLessThan(1e-5);
    });
    if (held) {
      const sum = stems[0]!.channels[0]!.map((sample, i) => sample + stems[1]!.channels[0]![i]!);
      expect(measure(mono(sum)).truePeakDbtp).toBeLessThan(-1.9);
    }
  });

  it('of groups hold the layers of each group together', () => {
    const { project, first } = twoSounds();
    const grouped = edited(project, 'groupLayers', { sound: first.id, layers: first.layers.map(({ id }) => id), name: 'Ice' });
    const asked = delivery({ stems: 'groups', template: '{stem}' });
    expect(planSound(grouped, grouped.sounds[0]!, asked, effectCatalogue).map(({ file }) => file)).toEqual(['whole.wav', 'Ice.wav']);
  });
});

describe('what is done to a file', () => {
  const one = (audio: Audio, settings: Partial<Delivery>) => {
    const { project, context } = projectWith({ Slab: audio });
    const asked = delivery({ encoding: '32f', ...settings });
    const [item] = planSound(project, project.sounds[0]!, asked, effectCatalogue);
    return renderItem(item!, asked, context);
  };

  it('takes direct current away and leaves one channel one channel', () => {
    const shifted = mono(sine(200, 1, rate, -12).map((sample) => sample + 0.2));
    expect(measure(one(shifted, { channels: 'mono' }).audio).dcOffset).toBeGreaterThan(0.15);
    const { audio, findings } = one(shifted, { blockDc: true, channels: 'mono' });
    expect(audio.channels).toHaveLength(1);
    expect(Math.abs(measure(audio).dcOffset)).toBeLessThan(0.01);
    expect(findings.map(({ text }) => text)).not.toContainEqual(expect.stringContaining('direct current'));
  });

  it.each([0.001, 0.1, 0.5])('fades both ends over %d s, half of a short sound at most', (fade) => {
    const constant = mono(new Float32Array(rate / 2).fill(0.5));
    const { audio } = one(constant, { fade, tail: 'fixed length', length: 0.5 });
    const faded = audio.channels[0]!;
    const length = Math.min(fade * rate, faded.length / 2);
    // Past the fades that every clip has, the raised cosine is what is left.
    const middle = Math.round(length / 2);
    if (fade > 0.05)
      expect(faded[middle]! / one(constant, { tail: 'fixed length', length: 0.5 }).audio.channels[0]![middle]!).toBeCloseTo(0.5, 2);
    expect(Math.abs(faded[0]!)).toBeLessThan(1e-3);
    expect(Math.abs(faded.at(-1)!)).toBeLessThan(1e-3);
  });

  it('fades cut ends alone: what begins out of silence keeps its attack, and what rings out its tail', () => {
    const struck = new Float32Array(rate);
    // Silence, a hit that dies away, and a constant that is cut.
    for (let i = 0; i < rate / 4; i++) struck[rate / 4 + i] = 0.8 * Math.exp(-i / 800) * Math.sin(i * 0.3);
    const settings = { tail: 'cut at the last clip', channels: 'mono' } as const;
    for (const trim of [false, true])
      expect(one(mono(struck), { ...settings, trim, fade: 0.1 }).audio).toEqual(one(mono(struck), { ...settings, trim }).audio);
    const cut = struck.slice();
    cut.fill(0.5, rate / 2);
    const faded = one(mono(cut), { ...settings, fade: 0.1 }).audio.channels[0]!;
    const plain = one(mono(cut), settings).audio.channels[0]!;
    expect(faded.subarray(0, 0.9 * rate)).toEqual(plain.subarray(0, 0.9 * rate));
    expect(faded[0.95 * rate]! / plain[0.95 * rate]!).toBeCloseTo(0.5, 2);
  });

  it('tells what a missed loudness and two sides against each other mean', () => {
    const left = noise(rate, 3, -12);
    const against: Audio = { sampleRate: rate, channels: [left, left.map((sample) => -sample)] };
    expect(one(against, {}).findings.map(({ text }) => text)).toContainEqual(expect.stringMatching(/In mono it loses/));
    const { findings } = one(wave(1_000), { level: 'loudness', loudness: -6, ceiling: -30 });
    expect(findings.map(({ text }) => text)).toContainEqual(expect.stringMatching(/in place of −6\.0: its peaks are held at −30\.0 dBTP/));
  });
});

describe('a sheet', () => {
  it('holds its sounds one behind the other, each where its list says', () => {
    const { project, context } = twoSounds();
    const asked = { ...startingDelivery, ...deliveryKinds['Short sounds in one sheet']!, encoding: '32f' as const };
    const items = planDelivery(project, asked, effectCatalogue);
    const takes = items.map((item) => renderItem(item, asked, context).audio);
    const { rendered, parts } = joinSheet(items, takes, asked);
    expect(parts.map(({ sound }) => sound)).toEqual(['Slab test', 'Pebble']);
    parts.forEach(({ from, to }, index) => {
      expect(rendered.audio.channels[0]!.slice(from, to)).toEqual(takes[index]!.channels[0]);
    });
    expect(parts[1]!.from - parts[0]!.to).toBe(4_800);
    const sheet = sheetItem(project, asked, items);
    expect(sheet.file).toBe('halda-test-sheet.wav');
    expect(sheetItem(project, asked, items.slice(0, 1)).recipe).not.toBe(sheet.recipe);
  });
});

describe('families', () => {
  const member = (audio: Audio, file: string) => ({ file, measured: measure(audio), print: timbrePrint(audio) });

  it('are told to span too much, and to hold near-twins', () => {
    const [a, b, c] = [wave(300), wave(2_000), wave(2_001, -24)];
    const found = checkFamily([member(a, 'x/a.wav'), member(b, 'b.wav'), member(c, 'c.wav'), member(a, 'd.wav')]);
    const texts = (index: number) => (found.get(index) ?? []).map(({ text }) => text);
    expect(texts(2)).toContainEqual(expect.stringMatching(/^The quietest of its family, which spans 1\d\.\d LU/));
    expect(texts(3)).toEqual(['Heard as the same as a.wav.']);
    expect(texts(0)).toEqual([]);
  });

  it('of one, or of silence, are nothing to tell about', () => {
    expect(checkFamily([member(wave(300), 'a.wav')]).size).toBe(0);
    expect(checkFamily([]).size).toBe(0);
  });
});

describe('folders of deliveries', () => {
  it('are none for one, and differ for many, also where letters of both cases are the same', () => {
    expect([...deliveryFolders([{ id: 'a', name: 'Game' }]).values()]).toEqual(['']);
    const names = ['Game', 'game', 'GAME', '../..', '???'].map((name, index) => ({ id: String(index), name }));
    expect([...deliveryFolders(names).values()]).toEqual(['Game/', 'game-2/', 'GAME-3/', 'sound/', 'sound-2/']);
  });
});

describe('lists for others', () => {
  const row: ReportRow = {
    delivery: '=1+1',
    sound: 'Slab, "big" <b>',
    file: 'a/b.wav',
    form: 'WAV 24 bit',
    recipe: 'abc',
    measured: { seconds: 1.25, integratedLufs: -Infinity, truePeakDbtp: -3.14159 },
    findings: [{ severity: 'fault', text: '-1 & silent' }],
  };

  it('guard against formulas, quotes and silence in a report as CSV', () => {
    const [head, line] = reportCsv([row]).split('\r\n');
    expect(head).toBe('delivery,sound,file,form,seconds,LUFS,dBTP,recipe,faults,advice');
    expect(line).toBe(`'=1+1,"Slab, ""big"" <b>",a/b.wav,WAV 24 bit,1.25,,-3.14,abc,'-1 & silent,`);
  });

  it('show texts as texts in a report as a page', () => {
    const page = reportHtml('<script>', '2026-12-01', [row]);
    expect(page).not.toContain('<script>');
    expect(page).toContain('Slab, &quot;big&quot; &lt;b&gt;');
    expect(page).toContain('One file has a fault.');
  });

  it('give clips and marks their time, overlapping clips a lane of their own', () => {
    const { project, first } = twoSounds();
    let cued = edited(project, 'setClock', { sound: first.id, clock: { frameRate: '25', startFrame: 25 * 3_600 } });
    cued = edited(cued, 'addMarks', { sound: first.id, marks: [{ name: 'It breaks', time: 0.2 }] });
    const [sound] = cued.sounds;
    const lines = cueSheetCsv(sound!, cued).trim().split('\r\n');
    expect(lines).toHaveLength(4);
    expect(lines[1]).toBe('clip,01:00:00:00,01:00:00:12,0,0.5,Boom,Boom,,Boom.wav');
    expect(lines[3]).toBe('mark,01:00:00:05,01:00:00:05,0.2,0.2,,It breaks,,');
    const timeline = JSON.parse(cueSheetOtio(sound!, cued)) as {
      OTIO_SCHEMA: string;
      global_start_time: { value: number };
      tracks: {
        children: { name: string; children: { OTIO_SCHEMA: string; source_range: { duration: { value: number } } }[] }[];
        markers: { name: string }[];
      };
    };
    expect(timeline.OTIO_SCHEMA).toBe('Timeline.1');
    expect(timeline.global_start_time.value).toBe(90_000);
    expect(timeline.tracks.markers.map(({ name }) => name)).toEqual(['It breaks']);
    expect(
      timeline.tracks.children.map(({ name, children }) => [name, children.map((child) => child.source_range.duration.value)]),
    ).toEqual([
      ['Boom', [12.5]],
      ['Crack', [12.5]],
    ]);
  });
});
