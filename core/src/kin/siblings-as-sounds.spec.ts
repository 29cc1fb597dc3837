import { effectCatalogue } from '../catalogue';
import { presenceAddress } from '../project/address';
import type { Sound } from '../project/schema';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { siblingSound } from './take-draws';

describe('a sibling that becomes a sound of its own', () => {
  it('sounds as the sibling did, has no family, and leaves the first as it was', () => {
    const made = projectWith({ Crack: mono(noise(9_600, 4, -12)) });
    const { id, layers } = made.project.sounds[0]!;
    const address = `layer/${layers[0]!.id}/gain`;
    let project = edited(made.project, 'setSway', {
      sound: id,
      sway: { kind: 'range', address, low: -9, high: -3, locked: false },
      label: '',
    });
    project = edited(project, 'setFamily', { sound: id, size: 4, seed: 9 });
    const sibling = siblingSound(project.sounds[0]!, 2, effectCatalogue);
    const after = edited(project, 'siblingToSound', { sound: id, index: 2, realised: sibling });
    expect(after.sounds).toHaveLength(2);
    expect(after.sounds[0]).toBe(project.sounds[0]);
    const own = after.sounds[1]!;
    expect(own.name).toBe('Slab test 3');
    expect(own.family.siblings).toEqual([]);
    expect(own.layers[0]!.id).not.toBe(layers[0]!.id);
    const render = (sound: typeof own) => renderSound(sound, made.context, { tail: 'ring out' }).channels;
    expect(render(own)).toEqual(render(sibling));
    expect(render(own)).not.toEqual(render(project.sounds[0]!));
    expect(() => edited(project, 'siblingToSound', { sound: id, index: 9, realised: sibling })).toThrow('has no sibling 10');
  });
});

describe('siblings that follow one another', () => {
  const every = 0.3;
  const { project: bare, context } = projectWith({ heel: mono(noise(9_600, 4, -12)), toe: mono(noise(4_800, 5, -18)) });
  const { id, layers } = bare.sounds[0]!;
  const speed = `layer/${layers[0]!.id}/clip/${layers[0]!.clips[0]!.id}/speed`;

  function familyOf(): { project: typeof bare; realised: Sound[] } {
    let project = edited(bare, 'setSway', {
      sound: id,
      sway: { kind: 'range', address: speed, low: -4, high: 4, locked: false },
      label: '',
    });
    const presence = { kind: 'presence', address: presenceAddress(layers[1]!.id), chance: 0.5, locked: false } as const;
    project = edited(project, 'setSway', { sound: id, sway: presence, label: '' });
    project = edited(project, 'setSway', {
      sound: id,
      sway: { kind: 'range', address: 'sound/gain', low: -6, high: 6, locked: false },
      label: '',
    });
    project = edited(project, 'addAutomation', { sound: id, address: `layer/${layers[0]!.id}/gain` });
    project = edited(project, 'setAutomationPoints', {
      sound: id,
      lane: project.sounds[0]!.automation[0]!.id,
      points: [
        { time: 0, value: -20, bend: 0 },
        { time: 0.1, value: 0, bend: 0 },
      ],
      action: 'Draw',
    });
    project = edited(project, 'setFamily', { sound: id, size: 4, seed: 9 });
    return { project, realised: [0, 1, 2, 3].map((index) => siblingSound(project.sounds[0]!, index, effectCatalogue)) };
  }

  it('sound as the siblings do, each at its time, with its layers, its lanes and its level', () => {
    const { project, realised } = familyOf();
    const after = edited(project, 'layOutSiblings', { sound: id, realised, every });
    const whole = after.sounds[1]!;
    expect(whole.name).toBe('Slab test × 4');
    expect(after.sounds[0]).toBe(project.sounds[0]);
    const there = realised.flatMap((sibling) => sibling.layers.filter(({ muted }) => !muted));
    expect(whole.layers).toHaveLength(there.length);
    expect(there.length).toBeLessThan(8);
    const [rendered] = renderSound(whole, context, { tail: 'ring out' }).channels;
    const sum = new Float64Array(rendered!.length);
    for (const [place, sibling] of realised.entries())
      renderSound(sibling, context, { tail: 'ring out' }).channels[0]!.forEach(
        (sample, i) => (sum[Math.round(place * every * 48_000) + i]! += sample),
      );
    let most = 0;
    for (const [i, sample] of rendered!.entries()) most = Math.max(most, Math.abs(sample - sum[i]!));
    expect(most).toBeLessThan(1e-5);
  });

  it('need a distance, and somebody', () => {
    const { project, realised } = familyOf();
    expect(() => edited(project, 'layOutSiblings', { sound: id, realised, every: 0 })).toThrow('at a distance, not at 0 s');
    expect(() => edited(project, 'layOutSiblings', { sound: id, realised: [], every })).toThrow('is kept');
  });
});
