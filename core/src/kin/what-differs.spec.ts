import { timbrePrint } from '../analysis/timbre';
import { presenceAddress, someAddress } from '../project/address';
import { edited, projectWith } from '../testing/project';
import { mono, noise, sine } from '../testing/signals';
import { drawGroups, rankDifferences } from './what-differs';

const heard = (samples: Float32Array, integratedLufs: number) => ({ print: timbrePrint(mono(samples)), integratedLufs });

describe('what differs in a sibling', () => {
  it('is ranked by ear: nothing for what is not heard, loudness by itself, timbre most', () => {
    const tone = sine(440, 0.5, 48_000, -12);
    const whole = heard(tone, -20);
    const ranked = rankDifferences(whole, [
      { addresses: ['same'], ...heard(tone, -20) },
      { addresses: ['louder'], ...heard(tone, -17) },
      { addresses: ['other'], ...heard(noise(24_000), -20) },
    ]);
    expect(ranked.map(({ addresses }) => addresses[0])).toEqual(['other', 'louder', 'same']);
    expect(ranked[1]!.by).toBeCloseTo(3, 9);
    expect(ranked[2]!.by).toBe(0);
  });

  it('of two silences is nothing', () => {
    const silence = heard(new Float32Array(4_800), -Infinity);
    expect(rankDifferences(silence, [{ addresses: ['any'], ...silence }])).toEqual([{ addresses: ['any'], by: 0 }]);
  });

  it('takes draws together that share a chance, and leaves out those that change nothing', () => {
    const { project } = projectWith({ heel: mono(noise(4_800)), toe: mono(noise(4_800, 2)) });
    const sound = project.sounds[0]!;
    const [first, second] = sound.layers;
    const speed = `layer/${first!.id}/clip/${first!.clips[0]!.id}/speed`;
    const swayed = edited(project, 'setSway', {
      sound: sound.id,
      sway: { kind: 'range', address: 'sound/gain', low: -1, high: 1, locked: false, like: speed },
      label: '',
    }).sounds[0]!;
    const draws = {
      [speed]: 1,
      'sound/gain': 0.5,
      [presenceAddress(first!.id)]: 1,
      [presenceAddress(second!.id)]: 0,
      [`layer/${second!.id}/gain`]: 0,
      [someAddress(1)]: first!.id,
    };
    expect(drawGroups(swayed, draws)).toEqual([[speed, 'sound/gain'], [presenceAddress(second!.id)], [someAddress(1)]]);
  });
});
