import { effectCatalogue } from '../catalogue';
import { siblingSound } from '../kin/take-draws';
import { findProperty, listAddresses } from '../project/address';
import type { EditArguments, EditName } from '../project/edits';
import { editNamed } from '../project/edits';
import type { History } from '../project/history';
import { applyEdit, startHistory } from '../project/history';
import { createProject } from '../project/create';
import type { Sound } from '../project/schema';
import { amplitudeAt, firstDifference } from '../testing/signals';
import { partWith, patchWith } from '../testing/synthesis';
import { renderContext } from './library';
import { renderSound } from './render-sound';
import { SoundGraph } from './sound-graph';
import { TreatmentCache } from '../treatments/treat-clip';

const sampleRate = 48_000;
const context = renderContext({ sampleRate, sources: [] }, { get: () => undefined });
const toneOf = { sustain: 1, strengthLevel: 0 };

/** A project with one sound of one made layer: a sine. */
class Made {
  history: History = startHistory(createProject('p', 'Halda Station'));

  constructor(notes: EditArguments<'addMadeLayer'>['notes'] = [{ start: 0.1, length: 0.5, pitch: 69, strength: 1 }], length = 1) {
    this.edit('addSound', { name: 'Beacon' });
    const patch = patchWith([partWith('tone', 'oscillator', toneOf)]);
    this.edit('addMadeLayer', { sound: this.sound.id, start: 0.5, length, notes, name: 'Call', role: 'Motion', patch });
  }

  edit<N extends EditName>(name: N, args: EditArguments<N>): void {
    this.history = applyEdit(this.history, editNamed(name), args, effectCatalogue);
  }

  get sound(): Sound {
    return this.history.project.sounds[0]!;
  }

  get layer() {
    return this.sound.layers[0]!;
  }

  get at() {
    return { sound: this.sound.id, layer: this.layer.id };
  }

  render(): Float32Array {
    return renderSound(this.sound, context, { tail: 'ring out' }).channels[0]!;
  }
}

const firstSound = (samples: Float32Array): number => samples.findIndex((sample) => sample !== 0) / sampleRate;
const levelAt = (samples: Float32Array, hertz: number, from: number, to: number): number =>
  amplitudeAt(samples, hertz, sampleRate, Math.round(from * sampleRate), Math.round(to * sampleRate));

describe('a made layer', () => {
  it('rings on behind its clip as long as its notes do, unless it fades out', () => {
    // The note ends with its clip, at 1.5 s; its release is half a second.
    const made = new Made([{ start: 0, length: 1, pitch: 69, strength: 1 }]);
    made.edit('setValues', {
      sound: made.sound.id,
      values: { [`layer/${made.layer.id}/part/tone/release`]: 0.5, [`layer/${made.layer.id}/part/tone/releaseBend`]: 0 },
      label: 'Release',
    });
    const samples = made.render();
    for (const [time, level] of [
      [1.49, 1],
      [1.75, 0.5],
      [1.9, 0.2],
    ] as const)
      expect(levelAt(samples, 440, time - 0.01, time + 0.01)).toBeCloseTo(level, 1);
    made.edit('fadeClips', { sound: made.sound.id, clips: [made.layer.clips[0]!.id], side: 'out', length: 0.1 });
    expect(made.render().length / sampleRate).toBeCloseTo(1.5, 2);
  });

  it('sounds from its notes, on their frames, at its clip’s place, pitch, pace and level', () => {
    const made = new Made();
    let samples = made.render();
    expect(firstSound(samples)).toBeCloseTo(0.6, 3);
    expect(levelAt(samples, 440, 0.7, 1)).toBeCloseTo(1, 2);
    expect(samples.length / sampleRate).toBeGreaterThanOrEqual(1.5);
    const clip = made.layer.clips[0]!.id;
    made.edit('setValues', {
      sound: made.sound.id,
      values: { [`${`layer/${made.layer.id}/clip/${clip}`}/pitch`]: 12, [`layer/${made.layer.id}/clip/${clip}/gain`]: -6 },
      label: 'Up',
    });
    samples = made.render();
    expect(levelAt(samples, 880, 0.7, 1)).toBeCloseTo(10 ** (-6 / 20), 2);
    made.edit('stretchClips', { sound: made.sound.id, clips: [clip], settings: { stretch: 2 } });
    samples = made.render();
    expect(firstSound(samples)).toBeCloseTo(0.7, 3);
    expect(levelAt(samples, 880, 1.4, 1.6)).toBeCloseTo(10 ** (-6 / 20), 2);
  });

  it('plays only what lies within its clip: cuts are neither heard twice nor lost', () => {
    const notes = [0, 0.2, 0.4, 0.6].map((start) => ({ start, length: 0.05, pitch: 69, strength: 1 }));
    const made = new Made(notes);
    const whole = made.render();
    made.edit('splitClips', { sound: made.sound.id, clips: [made.layer.clips[0]!.id], time: 0.9 });
    expect(made.layer.clips).toHaveLength(2);
    expect(firstDifference([whole], [made.render()])).toBe('');
    made.edit('trimClips', { sound: made.sound.id, side: 'start', to: [{ clip: made.layer.clips[0]!.id, time: 0.65 }] });
    expect(firstSound(made.render())).toBeCloseTo(0.7, 3);
    made.edit('removeClips', { sound: made.sound.id, clips: [made.layer.clips[0]!.id] });
    expect(firstSound(made.render())).toBeCloseTo(0.9, 3);
  });

  it('moves along lanes, tides and modulation like anything else', () => {
    const made = new Made([{ start: 0, length: 1, pitch: 69, strength: 1 }]);
    const address = `layer/${made.layer.id}/part/tone/tuning`;
    made.edit('addAutomation', { sound: made.sound.id, address });
    const lane = made.sound.automation[0]!.id;
    made.edit('setAutomationPoints', {
      action: 'Draw',
      sound: made.sound.id,
      lane,
      points: [
        { time: 0, value: 12, bend: 0 },
        { time: 0.999, value: 12, bend: 0 },
        { time: 1, value: 0, bend: 0 },
      ],
    });
    let samples = made.render();
    expect(levelAt(samples, 880, 0.6, 0.9)).toBeCloseTo(1, 2);
    expect(levelAt(samples, 440, 1.1, 1.4)).toBeCloseTo(1, 2);
    made.edit('addPart', { ...made.at, kind: 'oscillator', values: { level: -96, ratio: 0.5 } });
    const second = made.layer.patch!.parts[1]!.id;
    made.edit('setModulation', { ...made.at, part: 'tone', from: second, amount: 1 });
    samples = made.render();
    expect(levelAt(samples, 660, 1.1, 1.4)).toBeCloseTo(0.44, 1);
    made.edit('addAutomation', { sound: made.sound.id, address: `layer/${made.layer.id}/part/tone/from/${second}` });
    const depth = made.sound.automation[1]!.id;
    made.edit('setAutomationPoints', { action: 'Draw', sound: made.sound.id, lane: depth, points: [{ time: 0, value: 0, bend: 0 }] });
    samples = made.render();
    expect(levelAt(samples, 660, 1.1, 1.4)).toBeLessThan(0.001);
    // What is taken away takes along what moved it.
    made.edit('removePart', { ...made.at, part: second });
    expect(made.sound.automation).toHaveLength(1);
  });

  it('varies in a family: by its clips, its parts and single notes', () => {
    const made = new Made();
    const addresses = listAddresses(made.sound, effectCatalogue);
    const tuning = `layer/${made.layer.id}/part/tone/tuning`;
    expect(addresses).toContain(tuning);
    expect(addresses).not.toContain(`layer/${made.layer.id}/part/tone/width`);
    expect(addresses.every((address) => findProperty(made.sound, address, effectCatalogue))).toBe(true);
    // Noise without a pitch has nothing to tune, nor what only tuned noise has; a band has.
    for (const [texture, tuned] of [
      ['steady', false],
      ['band', true],
    ] as const) {
      made.edit('addPart', { ...made.at, kind: 'noise', values: { texture } });
      const added = `layer/${made.layer.id}/part/${made.layer.patch!.parts.at(-1)!.id}`;
      const offered = listAddresses(made.sound, effectCatalogue);
      for (const key of ['tuning', 'ratio']) expect(offered.includes(`${added}/${key}`)).toBe(tuned);
      made.edit('removePart', { ...made.at, part: made.layer.patch!.parts.at(-1)!.id });
    }
    const note = made.layer.clips[0]!.notes![0]!.id;
    const pitch = `layer/${made.layer.id}/clip/${made.layer.clips[0]!.id}/note/${note}/pitch`;
    for (const address of [tuning, pitch])
      made.edit('setSway', { sound: made.sound.id, sway: { kind: 'range', address, low: 3, high: 3, locked: false }, label: 'Pitch' });
    const sibling = siblingSound(made.sound, 1, effectCatalogue);
    expect(levelAt(renderSound(sibling, context, { tail: 'ring out' }).channels[0]!, 440 * Math.SQRT2, 0.7, 1)).toBeCloseTo(1, 2);
  });

  it('changes while it plays without a click: dials glide, parts and notes fade over', () => {
    const made = new Made([{ start: 0, length: 4, pitch: 57, strength: 1 }], 4);
    const graph = new SoundGraph(made.sound, context, new TreatmentCache());
    graph.startAt(sampleRate, 0);
    const heard: number[] = [];
    const hear = (blocks: number): void => {
      for (let b = 0; b < blocks; b++) heard.push(...graph.next(512).channels[0]!.subarray(0, 512));
    };
    hear(10);
    made.edit('setValues', { sound: made.sound.id, values: { [`layer/${made.layer.id}/part/tone/level`]: -20 }, label: 'Softer' });
    graph.apply(made.sound);
    hear(10);
    made.edit('addPart', { ...made.at, kind: 'noise', values: { level: -96 } });
    graph.apply(made.sound);
    hear(10);
    const step = heard.reduce((most, each, i) => (i ? Math.max(most, Math.abs(each - heard[i - 1]!)) : 0), 0);
    // A sine of 220 Hz moves by 0.029 a frame.
    expect(step).toBeLessThan(0.035);
    expect(Math.max(...heard.slice(-2_000))).toBeCloseTo(0.1, 2);
  });

  it('starts in the middle as it would have come there', () => {
    const made = new Made([{ start: 0, length: 3, pitch: 57, strength: 1 }], 3);
    const whole = made.render();
    const graph = new SoundGraph(made.sound, context, new TreatmentCache());
    graph.startAt(2 * sampleRate, 0);
    const block = graph.next(1_000).channels[0]!.subarray(0, 1_000);
    expect(block.reduce((most, each) => Math.max(most, Math.abs(each)), 0)).toBeCloseTo(1, 1);
    expect(whole[2 * sampleRate]).toBeDefined();
  });
});
