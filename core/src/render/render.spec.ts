import type { Audio } from '../audio/audio';
import type { Project, Sound } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { amplitudeAt, largest, mono, noise, residual, sine } from '../testing/signals';
import { decibelsToGain } from '../units';
import { renderSound } from './render-sound';
import type { RenderContext } from './library';
import { panGain } from './fader';

const rate = 48_000;
const cut = { tail: 'cut at the last clip' } as const;

function impulse(at: number, frames: number): Audio {
  const samples = new Float32Array(frames);
  samples[at] = 0.5;
  return mono(samples);
}

function firstSound(project: Project): Sound {
  return project.sounds[0]!;
}

describe('rendering a sound', () => {
  it('of one layer gives the source back, on both sides, bit for bit', () => {
    const source = mono(noise(5_000, 2, -6));
    const { project, context } = projectWith({ a: source });
    const output = renderSound(firstSound(project), context, cut);
    // The last 3 ms are the edge fade that every new clip has.
    expect(output.channels[0]!.subarray(0, 4_800)).toEqual(source.channels[0]!.subarray(0, 4_800));
    expect(output.channels[1]).toEqual(output.channels[0]);
  });

  it('sums layers with their gains', () => {
    const { project, context } = projectWith({ a: mono(noise(4_000, 1, -12)), b: mono(noise(4_000, 2, -12)) });
    const sound = firstSound(project);
    const changed = edited(project, 'setValues', { sound: sound.id, values: { [`layer/${sound.layers[1]!.id}/gain`]: -6 }, label: '' });
    const output = renderSound(firstSound(changed), context, cut).channels[0]!;
    const expected = noise(4_000, 1, -12).map((value, i) => value + noise(4_000, 2, -12)[i]! * decibelsToGain(-6));
    expect(residual(expected, output, 0, 3_800)).toBeLessThan(-120);
  });

  it('is the same twice, whatever runs in between', () => {
    const { project, context } = projectWith({ a: mono(noise(20_000)), b: mono(noise(15_000, 3)) });
    const sound = edited(project, 'addEffect', { sound: firstSound(project).id, owner: 'sound', effect: 'compressor' }).sounds[0]!;
    const first = renderSound(sound, context, { tail: 'ring out' });
    renderSound(firstSound(project), context, cut);
    expect(renderSound(sound, context, { tail: 'ring out' })).toEqual(first);
  });

  it('keeps layers in line whatever latency their chains and the chain of the whole have', () => {
    const { project, context } = projectWith({ a: impulse(1_000, 4_000), b: impulse(1_000, 4_000) });
    const sound = firstSound(project).id;
    const layer = firstSound(project).layers[0]!.id;
    let changed = edited(project, 'addEffect', { sound, owner: { layer }, effect: 'compressor' });
    changed = edited(changed, 'addEffect', { sound, owner: 'sound', effect: 'compressor' });
    const [own] = changed.sounds[0]!.layers[0]!.chain;
    const [whole] = changed.sounds[0]!.chain;
    changed = edited(changed, 'setValues', {
      sound,
      values: {
        [`layer/${layer}/chain/${own!.id}/lookahead`]: 0.01,
        [`layer/${layer}/chain/${own!.id}/threshold`]: 0,
        [`sound/chain/${whole!.id}/lookahead`]: 0.0043,
        [`sound/chain/${whole!.id}/threshold`]: 0,
      },
      label: '',
    });
    const output = renderSound(changed.sounds[0]!, context, cut).channels[0]!;
    const peaks = [...output.entries()].filter(([, value]) => Math.abs(value) > 0.1);
    expect(peaks.map(([at]) => at)).toEqual([1_000]);
    expect(peaks[0]![1]).toBeGreaterThan(0.9);
  });

  it('mixes dry and wet without shifting them against each other', () => {
    const { project, context } = projectWith({ a: mono(sine(3_000, 0.2, rate, -12)) });
    const sound = firstSound(project).id;
    let changed = edited(project, 'addEffect', { sound, owner: 'sound', effect: 'compressor' });
    const step = changed.sounds[0]!.chain[0]!.id;
    changed = edited(changed, 'setValues', {
      sound,
      values: { [`sound/chain/${step}/lookahead`]: 0.008, [`sound/chain/${step}/threshold`]: 0, [`sound/chain/${step}/mix`]: 0.5 },
      label: '',
    });
    const output = renderSound(changed.sounds[0]!, context, cut).channels[0]!;
    expect(20 * Math.log10(amplitudeAt(output, 3_000, rate, 2_000, 8_000))).toBeCloseTo(-12, 2);
  });

  it('an effect that is off changes nothing', () => {
    const { project, context } = projectWith({ a: mono(noise(6_000)) });
    const sound = firstSound(project).id;
    let changed = edited(project, 'addEffect', { sound, owner: 'sound', effect: 'compressor' });
    changed = edited(changed, 'switchEffect', { sound, owner: 'sound', step: changed.sounds[0]!.chain[0]!.id, enabled: false });
    expect(renderSound(changed.sounds[0]!, context, cut)).toEqual(renderSound(firstSound(project), context, cut));
  });

  it('mute silences', () => {
    const { project, context } = projectWith({ a: mono(sine(500, 0.3, rate, -12)), b: mono(sine(2_000, 0.3, rate, -12)) });
    const sound = firstSound(project);
    const level = (changed: Project, tone: number): number =>
      amplitudeAt(renderSound(changed.sounds[0]!, context, cut).channels[0]!, tone, rate, 2_400, 12_000);
    const muted = edited(project, 'muteLayer', { sound: sound.id, layer: sound.layers[0]!.id, muted: true });
    expect(level(muted, 500)).toBeLessThan(1e-6);
    expect(level(muted, 2_000)).toBeCloseTo(0.2512, 3);
  });

  it('plays a clip an octave up in half the time', () => {
    const { project, context } = projectWith({ a: mono(sine(1_000, 1, rate, -6)) });
    const layer = firstSound(project).layers[0]!;
    const changed = edited(project, 'setValues', {
      sound: firstSound(project).id,
      values: { [`layer/${layer.id}/clip/${layer.clips[0]!.id}/speed`]: 12 },
      label: '',
    });
    const output = renderSound(changed.sounds[0]!, context, cut).channels[0]!;
    expect(output).toHaveLength(24_000);
    expect(20 * Math.log10(amplitudeAt(output, 2_000, rate, 4_000, 20_000))).toBeCloseTo(-6, 1);
  });

  it('fades follow their shape', () => {
    const { project, context } = projectWith({ a: mono(new Float32Array(9_600).fill(0.5)) });
    const clip = firstSound(project).layers[0]!.clips[0]!.id;
    const changed = edited(project, 'fadeClips', {
      sound: firstSound(project).id,
      clips: [clip],
      side: 'in',
      length: 0.1,
      shape: 'equal power',
    });
    const faded = edited(changed, 'fadeClips', {
      sound: firstSound(project).id,
      clips: [clip],
      side: 'out',
      length: 0.05,
      shape: 'linear',
    });
    const output = renderSound(faded.sounds[0]!, context, { tail: 'ring out' }).channels[0]!;
    // To half a frame: both ends of a fade lie between two samples.
    expect(largest(0, 4_800, (i) => output[i]! - 0.5 * Math.sin(((Math.PI / 2) * (i + 0.5)) / 4_800))).toBeLessThan(1e-6);
    expect(largest(0, 2_400, (i) => output[9_599 - i]! - (0.5 * (i + 0.5)) / 2_400)).toBeLessThan(1e-6);
    expect(largest(4_800, 7_200, (i) => output[i]! - 0.5)).toBe(0);
  });

  it('lets tails ring and cuts or fills as asked', () => {
    const { project, context } = projectWith({ a: impulse(0, 480) });
    const sound = firstSound(project).id;
    let changed = edited(project, 'addEffect', { sound, owner: 'sound', effect: 'eq' });
    const step = changed.sounds[0]!.chain[0]!.id;
    const prefix = `sound/chain/${step}/band3`;
    changed = edited(changed, 'setValues', {
      sound,
      values: { [`${prefix}On`]: true, [`${prefix}Q`]: 30, [`${prefix}Gain`]: 24, [`${prefix}Frequency`]: 200 },
      label: '',
    });
    const length = (options: Parameters<typeof renderSound>[2]): number =>
      renderSound(changed.sounds[0]!, context, options).channels[0]!.length;
    expect(length({ tail: 'ring out' })).toBeGreaterThan(4_800);
    expect(length(cut)).toBe(480);
    expect(length({ tail: 'fixed length', length: 0.5 })).toBe(24_000);
  });

  it('stops when it is told to', () => {
    const { project, context } = projectWith({ a: mono(noise(200_000)) });
    expect(() => renderSound(firstSound(project), context, { ...cut, progress: (share) => share < 0.3 })).toThrow('cancelled');
  });

  it('of an empty sound is empty', () => {
    const { project, context } = projectWith({});
    expect(renderSound(firstSound(project), context as RenderContext, { tail: 'ring out' }).channels[0]).toHaveLength(0);
  });

  it('pans by taking the far side away only', () => {
    expect([panGain(0, -1), panGain(0, 1)]).toEqual([1, 1]);
    expect(panGain(1, -1)).toBeCloseTo(0);
    expect([panGain(1, 1), panGain(1, 0), panGain(-1, 0)]).toEqual([1, 1, 1]);
    expect(panGain(-0.5, 1)).toBeCloseTo(Math.SQRT1_2);
  });
});
