import type { LayoutId } from '../audio/layout';
import { channelsOf, layoutIds } from '../audio/layout';
import type { Project, Sound } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { mono, noise, residual } from '../testing/signals';
import { SoundPlayer } from './live/player';
import { SlowPlayer } from './live/slow-player';
import { renderSound } from './render-sound';

const six = { sampleRate: 48_000, channels: Array.from({ length: 6 }, (_, c) => noise(9_600, c + 1, -12)) };
const { project, context } = projectWith({ wind: mono(noise(9_600, 9, -12)), station: six });
const id = project.sounds[0]!.id;
const [wind, station] = project.sounds[0]!.layers;

/** The sound in another layout. */
const inLayout = (layout: LayoutId, from: Project = project): Sound => ({ ...from.sounds[0]!, layout });
const cut = { tail: 'cut at the last clip' } as const;
const silent = (samples: Float32Array): boolean => samples.every((sample) => sample === 0);

describe('a sound in a layout', () => {
  it.each(layoutIds)('of %s renders and plays in as many channels', (layout) => {
    const sound = inLayout(layout);
    const rendered = renderSound(sound, context, cut);
    expect(rendered.channels).toHaveLength(channelsOf(layout));
    const player = new SoundPlayer(sound, context, 0);
    expect(player.channels).toBe(channelsOf(layout));
    const block = rendered.channels.map(() => new Float32Array(480));
    player.render(block, 480);
    block.forEach((samples, c) => expect(samples).toEqual(rendered.channels[c]!.subarray(0, 480)));
    const slow = new SlowPlayer(new SoundPlayer(sound, context, 0), 0.5);
    slow.render(block, 480);
    expect(block.some((samples) => !silent(samples))).toBe(true);
  });

  it('keeps every channel of a recording that has as many, and puts others into the front pair', () => {
    const only = (layer: string): Project =>
      edited(project, 'muteLayer', { sound: id, layer: layer === wind!.id ? station!.id : wind!.id, muted: true });
    const surround = renderSound(inLayout('5.1', only(station!.id)), context, cut);
    // But for the last 3 ms, where clips fade.
    surround.channels.forEach((samples, c) => expect(residual(six.channels[c]!, samples, 200, 9_300)).toBeLessThan(-120));
    const front = renderSound(inLayout('5.1', only(wind!.id)), context, cut);
    expect(front.channels.map(silent)).toEqual([false, false, true, true, true, true]);
  });

  it('is panned between its sides; what stands in the middle stays', () => {
    const panned = edited(project, 'setValues', { sound: id, values: { [`layer/${station!.id}/pan`]: 1 }, label: '' });
    const alone = edited(panned, 'muteLayer', { sound: id, layer: wind!.id, muted: true });
    const { channels } = renderSound(inLayout('5.1', alone), context, cut);
    const loud = channels.map((samples) => Math.max(...samples.map(Math.abs)) > 1e-6);
    // Left, right, centre, low frequencies, left and right behind.
    expect(loud).toEqual([false, true, true, true, false, true]);
  });

  it('goes through chains, groups and shared buses in all of its channels', () => {
    let busy = edited(project, 'groupLayers', { sound: id, layers: [station!.id], name: 'Ice' });
    busy = edited(busy, 'addSharedBus', { sound: id, name: 'Hall' });
    const [group, hall] = busy.sounds[0]!.buses;
    busy = edited(busy, 'setSend', { sound: id, owner: { layer: station!.id }, bus: hall!.id, on: true });
    for (const owner of [{ layer: station!.id }, { bus: group!.id }, { bus: hall!.id }, 'sound'] as const)
      busy = edited(busy, 'addEffect', { sound: id, owner, effect: 'limiter' });
    const { channels } = renderSound(inLayout('5.1', busy), context, cut);
    expect(channels.map(silent)).toEqual(new Array(6).fill(false));
    expect(channels.every((samples) => samples.every(Number.isFinite))).toBe(true);
  });
});
