import type { Clip, Strain } from '@tangled-choir/core';
import { plainStretch } from '@tangled-choir/core';
import { describeStrain, isStrained, remedyFor, strainStrip } from './strain-words';

const none: Strain = { smear: 0, flutter: 0, lost: -Infinity, invented: -Infinity, image: 0, amount: 0, reason: undefined, moments: [] };
const smeared: Strain = { ...none, smear: 12.3, amount: 0.6, reason: 'smeared attacks' };
const clip = (changes: Partial<Clip> = {}): Clip => ({ ...plainStretch, stretch: 2, ...changes }) as unknown as Clip;

describe('strain in words', () => {
  it('is not mentioned where nobody hears it', () => {
    expect(isStrained(undefined)).toBe(false);
    expect(isStrained(none)).toBe(false);
    expect(isStrained({ ...smeared, amount: 0.05 })).toBe(false);
    expect(isStrained(smeared)).toBe(true);
  });

  it('says what was measured', () => {
    expect(describeStrain(smeared)).toBe('smeared attacks: an attack stands 12 dB less sharply');
    expect(describeStrain(none)).toBe('');
  });

  it('names what helps soonest: wear first, then what keeps what was lost, at last nothing but less', () => {
    expect(remedyFor(smeared, clip({ wear: 0.4 }))?.settings).toEqual({ wear: 0 });
    expect(remedyFor(smeared, clip({ method: 'tones' }))?.settings).toEqual({ method: 'hits' });
    expect(remedyFor(smeared, clip({ method: 'hits' }))).toBeUndefined();
    expect(remedyFor(smeared, clip({ stretch: 20 }))?.settings).toEqual({ attack: 1 });
    const invented: Strain = { ...none, invented: -5, amount: 1, reason: 'invented tones' };
    expect(remedyFor(invented, clip({ method: 'texture' }))?.settings).toEqual({ method: 'tones' });
    expect(remedyFor(invented, clip({ method: 'tones' }), { method: 'hits', attacks: 3, tonal: 0.2 })?.settings).toEqual({
      method: 'hits',
    });
  });

  it('is drawn where it is heard', () => {
    const moments = [0.05, 0.5, 0.2].map((amount, n) => ({ time: n, amount, reason: 'flutter' as const }));
    expect(strainStrip({ ...smeared, moments }, 4)).toEqual([
      { left: 25, width: 25, amount: 0.5 },
      { left: 50, width: 50, amount: 0.2 },
    ]);
  });
});
