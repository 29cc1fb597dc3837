import { findProperty } from '../project/address';
import { effectCatalogue } from '../catalogue';
import { effectsById } from '../effects';
import { drawnPoints } from '../effects/filters/drawn-eq';
import { toAxis } from '../project/axis';
import { siblingSound } from '../kin/take-draws';
import type { AutomationPoint, Project, Sound } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { amplitudeAt, largest, mono, residual, sine } from '../testing/signals';
import { decibelsToGain, gainToDecibels } from '../units';
import { SoundPlayer } from './live/player';
import { renderSound } from './render-sound';

const rate = 48_000;
const cut = { tail: 'cut at the last clip' } as const;
const at = (time: number, value: number, bend = 0): AutomationPoint => ({ time, value, bend });

/** A project with one tone, one of whose properties moves along points. */
function withLane(project: Project, address: string, points: readonly AutomationPoint[], stepped = false): Project {
  const sound = project.sounds[0]!.id;
  let changed = edited(project, 'addAutomation', { sound, address });
  const lane = changed.sounds[0]!.automation.at(-1)!.id;
  changed = edited(changed, 'setAutomationPoints', { sound, lane, points, action: 'Draw' });
  return stepped ? edited(changed, 'setAutomation', { sound, lane, settings: { stepped } }) : changed;
}

function firstSound(project: Project): Sound {
  return project.sounds[0]!;
}

const tone = mono(sine(1_000, 2, rate, -6));
const constant = mono(new Float32Array(2 * rate).fill(0.25));

describe('automation in a render', () => {
  it('moves a gain as the lane says, sample by sample', () => {
    const { project, context } = projectWith({ constant });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(withLane(project, `layer/${layer}/gain`, [at(0.5, 0), at(1.5, -24)]));
    const output = renderSound(sound, context, cut).channels[0]!;
    const expected = Float32Array.from({ length: 2 * rate }, (_, i) => {
      const time = i / rate;
      return 0.25 * decibelsToGain(time < 0.5 ? 0 : time > 1.5 ? -24 : -24 * (time - 0.5));
    });
    expect(residual(expected, output, 1_000, 90_000)).toBeLessThan(-80);
  });

  it('moves what belongs to the sound and pans what is panned', () => {
    const { project, context } = projectWith({ constant });
    const layer = firstSound(project).layers[0]!.id;
    const panned = withLane(project, `layer/${layer}/pan`, [at(0, -1), at(2, 1)]);
    const sound = firstSound(withLane(panned, 'sound/gain', [at(0, -6)]));
    const output = renderSound(sound, context, cut);
    const [left, right] = output.channels;
    expect(left![24_000]).toBeCloseTo(0.25 * decibelsToGain(-6), 4);
    expect(right![24_000]).toBeCloseTo(0.25 * decibelsToGain(-6) * Math.cos(Math.PI / 4), 3);
    expect(left![72_000]).toBeCloseTo(right![24_000]!, 3);
  });

  it('never clicks, even where the lane jumps: the change is spread over a few milliseconds', () => {
    const { project, context } = projectWith({ constant });
    const layer = firstSound(project).layers[0]!.id;
    for (const stepped of [false, true]) {
      const lane = withLane(project, `layer/${layer}/gain`, [at(0, 0), at(1, 0), at(1, -60), at(1.5, -60), at(1.5, 0)], stepped);
      const output = renderSound(firstSound(lane), context, cut).channels[0]!;
      let steepest = 0;
      for (let i = 1_000; i < 90_000; i++) steepest = Math.max(steepest, Math.abs(output[i]! - output[i - 1]!));
      // A jump in one sample would be 0.25; within 512 samples it is 0.0005.
      expect(steepest).toBeLessThan(0.001);
      expect(output[60_000]).toBeCloseTo(0.25 * decibelsToGain(-60), 4);
      expect(output[80_000]).toBeCloseTo(0.25, 3);
    }
  });

  it('moves any parameter of an effect, at the right time', () => {
    const { project, context } = projectWith({ tone });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    let changed = edited(project, 'addEffect', { sound, owner: { layer }, effect: 'eq' });
    const step = firstSound(changed).layers[0]!.chain[0]!.id;
    const address = `layer/${layer}/chain/${step}/band4Gain`;
    changed = edited(changed, 'setValues', {
      sound,
      values: { [`layer/${layer}/chain/${step}/band4On`]: true, [`layer/${layer}/chain/${step}/band4Frequency`]: 1_000 },
      label: 'Turn',
    });
    changed = withLane(changed, address, [at(0.5, 0), at(1.5, -20)]);
    const output = renderSound(firstSound(changed), context, cut).channels[0]!;
    const levelAt = (time: number): number =>
      gainToDecibels(amplitudeAt(output, 1_000, rate, Math.round((time - 0.01) * rate), Math.round((time + 0.01) * rate))) + 6;
    expect(levelAt(0.3)).toBeCloseTo(0, 1);
    for (const time of [0.8, 1, 1.2]) expect(Math.abs(levelAt(time) + 20 * (time - 0.5))).toBeLessThan(0.3);
    expect(levelAt(1.8)).toBeCloseTo(-20, 0);
  });

  it.each(['graphic-eq', 'drawn-eq'])('moves the strength of a %s in fades, a twentieth of a second late', (effect) => {
    const { project, context } = projectWith({ tone });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    let changed = edited(project, 'addEffect', { sound, owner: { layer }, effect });
    const step = `layer/${layer}/chain/${firstSound(changed).layers[0]!.chain[0]!.id}`;
    const sliders = Object.fromEntries([16, 17, 18, 19, 20].map((band) => [`${step}/band${band}`, -18]));
    const curve = { [`${step}/curve`]: drawnPoints.map(() => '-18').join(' ') };
    changed = edited(changed, 'setValues', { sound, values: effect === 'drawn-eq' ? curve : sliders, label: 'Turn' });
    changed = withLane(changed, `${step}/strength`, [at(0.5, 0), at(1.5, 1)]);
    const output = renderSound(firstSound(changed), context, cut).channels[0]!;
    const levelAt = (time: number): number =>
      gainToDecibels(amplitudeAt(output, 1_000, rate, Math.round((time - 0.01) * rate), Math.round((time + 0.01) * rate))) + 6;
    expect(levelAt(0.3)).toBeCloseTo(0, 1);
    for (const time of [0.8, 0.95, 1.1, 1.25]) {
      expect(levelAt(time)).toBeGreaterThan(-18 * (time - 0.5));
      expect(levelAt(time)).toBeLessThan(-18 * (time - 0.5 - 0.1));
    }
    expect(levelAt(1.8)).toBeCloseTo(-18, 0);
    // A sine bends by less than this each sample; a step of a response would break it.
    let sharpest = 0;
    for (let i = 2_000; i < 95_000; i++) sharpest = Math.max(sharpest, Math.abs(output[i + 1]! - 2 * output[i]! + output[i - 1]!));
    expect(sharpest).toBeLessThan(1.02 * 0.5012 * (2 - 2 * Math.cos((2 * Math.PI * 1_000) / rate)));
  });

  it('throws switches and choices, within a few milliseconds of its points', () => {
    const { project, context } = projectWith({ constant });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    const changed = edited(project, 'addEffect', { sound, owner: { layer }, effect: 'trim' });
    const step = firstSound(changed).layers[0]!.chain[0]!.id;
    const address = `layer/${layer}/chain/${step}/flipLeft`;
    const output = renderSound(firstSound(withLane(changed, address, [at(0, 0), at(0.5, 1), at(1, 0)])), context, cut).channels[0]!;
    const level = output[12_000]!;
    expect(level).toBeCloseTo(0.25, 4);
    for (const [time, sign] of [
      [0.48, 1],
      [0.52, -1],
      [0.98, -1],
      [1.02, 1],
    ] as const)
      expect(output[time * rate]).toBeCloseTo(sign * level, 4);
  });

  it('changes the notes that a time is counted in, and gives it back to its dial', () => {
    const click = new Float32Array(3 * rate);
    for (const second of [0, 1, 2]) click[second * rate] = 0.5;
    const { project, context } = projectWith({ click: mono(click) });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    let changed = edited(project, 'setTempo', { sound, tempo: { bpm: 120 } });
    changed = edited(changed, 'addEffect', { sound, owner: { layer }, effect: 'delay' });
    const step = firstSound(changed).layers[0]!.chain[0]!.id;
    const own = (key: string): string => `layer/${layer}/chain/${step}/${key}`;
    const values = { [own('time')]: 0.4, [own('feedback')]: 0, [own('echo')]: 1, [own('lowCut')]: 20, [own('highCut')]: 20_000 };
    changed = edited(changed, 'setValues', { sound, values, label: 'Delay' });
    const { parameters } = effectsById.get('delay')!;
    const place = (note: string): number => toAxis(parameters['note']!, note);
    const points = [at(0, place('1/8')), at(0.5, place('1/4')), at(1.55, place('seconds'))];
    const output = renderSound(firstSound(withLane(changed, own('note'), points)), context, cut).channels[0]!;
    const echo = (from: number): number => {
      const part = output.subarray(from * rate + 1_000, (from + 1) * rate - 1_000).map(Math.abs);
      return (part.indexOf(Math.max(...part)) + 1_000) / rate;
    };
    // At 120 beats per minute an eighth lasts a quarter of a second.
    expect(echo(0)).toBeCloseTo(0.25, 3);
    expect(echo(1)).toBeCloseTo(0.5, 3);
    expect(echo(2)).toBeCloseTo(0.4, 3);
  });

  it('is read where the sound is, whatever the chains behind it lag', () => {
    const { project, context } = projectWith({ constant });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    const lane = withLane(project, `layer/${layer}/gain`, [at(0.5, 0), at(1.5, -24)]);
    const plain = renderSound(firstSound(lane), context, cut).channels[0]!;
    let late = edited(lane, 'addEffect', { sound, owner: { layer }, effect: 'compressor' });
    late = edited(late, 'addEffect', { sound, owner: 'sound', effect: 'compressor' });
    const own = `layer/${layer}/chain/${firstSound(late).layers[0]!.chain[0]!.id}`;
    const whole = `sound/chain/${firstSound(late).chain[0]!.id}`;
    const values = Object.fromEntries(
      [own, whole].flatMap((step) => [
        [`${step}/lookahead`, 0.015],
        [`${step}/threshold`, 0],
      ]),
    );
    late = edited(late, 'setValues', { sound, values, label: 'Turn' });
    expect(residual(plain, renderSound(firstSound(late), context, cut).channels[0]!, 1_000, 90_000)).toBeLessThan(-60);
  });

  it('moves what is sent, beside what goes straight to the sound', () => {
    const { project, context } = projectWith({ constant });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    let sent = edited(project, 'addSharedBus', { sound, name: 'Hall' });
    const bus = firstSound(sent).buses[0]!.id;
    sent = edited(sent, 'setSend', { sound, owner: { layer }, bus, on: true });
    sent = withLane(sent, `layer/${layer}/send/${bus}`, [at(0, -96), at(1, -96), at(1.5, 0)]);
    const output = renderSound(firstSound(sent), context, cut).channels[0]!;
    expect(output[40_000]).toBeCloseTo(0.25, 4);
    expect(output[60_000]).toBeCloseTo(0.25 * (1 + decibelsToGain(-48)), 4);
    expect(output[80_000]).toBeCloseTo(0.5, 4);
    // The lane goes with its send.
    expect(firstSound(edited(sent, 'setSend', { sound, owner: { layer }, bus, on: false })).automation).toEqual([]);
  });

  it('does nothing while its lane is off, and cannot shift the sound in time', () => {
    const { project, context } = projectWith({ tone });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    const lane = withLane(project, `layer/${layer}/gain`, [at(0, -40)]);
    const off = edited(lane, 'setAutomation', { sound, lane: firstSound(lane).automation[0]!.id, settings: { enabled: false } });
    expect(renderSound(firstSound(off), context, cut)).toEqual(renderSound(firstSound(project), context, cut));
    const chained = edited(project, 'addEffect', { sound, owner: { layer }, effect: 'compressor' });
    const step = firstSound(chained).layers[0]!.chain[0]!.id;
    expect(() => edited(chained, 'addAutomation', { sound, address: `layer/${layer}/chain/${step}/lookahead` })).toThrow(
      'cannot be automated',
    );
    expect(() => edited(lane, 'addAutomation', { sound, address: `layer/${layer}/gain` })).toThrow('automated already');
  });

  it('rings out as long as its lanes ask for together: echoes counted in notes, that a lane says, fed back as another says', () => {
    const { project, context } = projectWith({ beep: mono(sine(1_000, 0.1, rate, -6)) });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    let changed = edited(project, 'setTempo', { sound, tempo: { bpm: 120 } });
    changed = edited(changed, 'addEffect', { sound, owner: { layer }, effect: 'delay' });
    const step = `layer/${layer}/chain/${firstSound(changed).layers[0]!.chain[0]!.id}`;
    changed = edited(changed, 'setValues', {
      sound,
      values: { [`${step}/feedback`]: 0.1, [`${step}/echo`]: 1, [`${step}/lowCut`]: 20, [`${step}/highCut`]: 20_000 },
      label: 'Turn',
    });
    const notes = effectCatalogue.get('delay')!.parameters['note']!;
    const wholeNote = toAxis(notes, '1/1') as number;
    changed = withLane(withLane(changed, `${step}/feedback`, [at(0, 0.5)]), `${step}/note`, [at(0, wholeNote)]);
    const output = renderSound(firstSound(changed), context, { tail: 'ring out' });
    // Echoes every two seconds, each half as loud: ten of them until −60 dB.
    const echoes = Array.from({ length: 10 }, (_, n) =>
      largest(Math.round((2 * n + 1.9) * rate), Math.round((2 * n + 2.2) * rate), (i) => output.channels[0]![i] ?? 0),
    );
    echoes.forEach((echo, n) => expect(Math.abs(gainToDecibels(echo / echoes[0]!) + 6.02 * n)).toBeLessThan(1));
  });

  it('is heard live as it is rendered, from any position', () => {
    const { project, context } = projectWith({ tone });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(withLane(project, `layer/${layer}/gain`, [at(0, -30), at(2, 0)]));
    const rendered = renderSound(sound, context, cut).channels[0]!;
    const player = new SoundPlayer(sound, context, 30_000);
    const left = new Float32Array(512);
    const heard = new Float32Array(512 * 40);
    for (let n = 0; n < 40; n++) {
      player.render([left, new Float32Array(512)], 512);
      heard.set(left, n * 512);
    }
    expect(residual(rendered.subarray(30_000, 30_000 + heard.length), heard)).toBeLessThan(-70);
  });

  it('moves mixes and levels with the sound that they are heard with, whatever their effect lags, live and rendered', () => {
    const { project, context } = projectWith({ constant });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    let changed = edited(project, 'addEffect', { sound, owner: { layer }, effect: 'drawn-eq' });
    changed = edited(changed, 'addEffect', { sound, owner: { layer }, effect: 'convolution' });
    const [drawn, reverb] = firstSound(changed).layers[0]!.chain.map(({ id }) => `layer/${layer}/chain/${id}`) as [string, string];
    const curve = drawnPoints.map(() => '-18').join(' ');
    const values = { [`${drawn}/curve`]: curve, [`${drawn}/phase`]: 'linear', [`${drawn}/taps`]: '16384', [`${reverb}/mix`]: 0 };
    changed = edited(changed, 'setValues', { sound, values, label: 'Turn' });
    const mixed = withLane(changed, `${drawn}/mix`, [at(1, 0), at(1, 1)]);
    const output = renderSound(firstSound(mixed), context, cut).channels[0]!;
    const level = output[30_000]!;
    expect(output[0.98 * rate]).toBeCloseTo(level, 3);
    expect(output[1.02 * rate]).toBeCloseTo(level * decibelsToGain(-18), 3);

    // The level of the room, heard live and rendered, where its lags are different.
    changed = edited(changed, 'setValues', { sound, values: { [`${reverb}/mix`]: 1, [`${drawn}/mix`]: 0 }, label: 'Turn' });
    const moving = firstSound(withLane(changed, `${reverb}/level`, [at(0.5, -6), at(1, -30), at(1.4, 0)]));
    const rendered = renderSound(moving, context, cut).channels[0]!;
    const player = new SoundPlayer(moving, context, 0);
    const [left, right] = [new Float32Array(512), new Float32Array(512)];
    const heard = new Float32Array(512 * 180);
    for (let n = 0; n < 180; n++) {
      player.render([left, right], 512);
      heard.set(left, n * 512);
    }
    expect(residual(rendered.subarray(0, heard.length), heard)).toBeLessThan(-60);
  });

  it('sways with its whole lane', () => {
    const { project } = projectWith({ tone });
    const layer = firstSound(project).layers[0]!.id;
    const address = `layer/${layer}/gain`;
    const lane = withLane(project, address, [at(0, -12), at(2, 0)]);
    const sound = firstSound(lane).id;
    const swayed = edited(lane, 'setSway', { sound, sway: { kind: 'range', address, low: -3, high: -3, locked: false }, label: 'Sway' });
    const sibling = siblingSound(firstSound(swayed), 0, effectCatalogue);
    expect(sibling.automation[0]!.trim).toBe(-3);
    expect(findProperty(sibling, address, effectCatalogue)!.value).toBe(0);
    expect(firstSound(swayed).automation[0]!.trim).toBe(0);
  });

  it('goes with what it belongs to: copied with its layer, forgotten with it', () => {
    const { project, context } = projectWith({ tone });
    const layer = firstSound(project).layers[0]!.id;
    const sound = firstSound(project).id;
    const lane = withLane(project, `layer/${layer}/gain`, [at(0, -12)]);
    const copied = edited(lane, 'duplicateLayer', { sound, layer });
    const copy = firstSound(copied).layers[1]!.id;
    expect(firstSound(copied).automation.map(({ address }) => address)).toEqual([`layer/${layer}/gain`, `layer/${copy}/gain`]);
    const removed = edited(copied, 'removeLayer', { sound, layer });
    expect(firstSound(removed).automation.map(({ address }) => address)).toEqual([`layer/${copy}/gain`]);
    expect(renderSound(firstSound(removed), context, cut)).toEqual(renderSound(firstSound(lane), context, cut));
  });
});
