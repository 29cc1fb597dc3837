import { measure } from '../analysis/loudness/measure';
import { withGain } from '../audio/audio';
import { effectCatalogue } from '../catalogue';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { mono, noise, sine } from '../testing/signals';
import { evenGain } from './even-pair';
import { siblingSound } from './take-draws';

describe('two siblings beside each other', () => {
  const quiet = mono(sine(1_000, 1, 48_000, -30));
  const loud = mono(noise(48_000, 2, -6));

  it('are as loud as the quieter of them, which stays as it is', () => {
    const [a, b] = [measure(quiet), measure(loud)];
    expect(evenGain(a, b)).toBe(0);
    const even = measure(withGain(loud, evenGain(b, a)));
    expect(even.integratedLufs).toBeCloseTo(a.integratedLufs, 2);
    expect(even.samplePeakDbfs).toBeLessThan(b.samplePeakDbfs);
  });

  it('are left alone where one is silent', () => {
    const silent = measure(mono(new Float32Array(48_000)));
    expect(evenGain(measure(loud), silent)).toBe(0);
    expect(evenGain(silent, measure(loud))).toBe(0);
  });
});

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
