import type { Delivery, Parameter, ParameterValue } from '@tangled-choir/core';
import { deliveryKinds, deliverySchema, startingDelivery } from '@tangled-choir/core';
import type { DialGroup } from './delivery-dials';
import { deliveryDials, deliveryFacts, dialChange, dialRows, levelFacts } from './delivery-dials';

const groups = Object.keys(deliveryDials) as DialGroup[];

/** Values of a dial, both ends of numbers among them. */
function valuesOf(parameter: Parameter): readonly ParameterValue[] {
  if (parameter.kind === 'choice') return parameter.options;
  if (parameter.kind === 'switch') return [true, false];
  return parameter.kind === 'number' ? [parameter.min, parameter.max] : [];
}

const everything: Delivery = { ...startingDelivery, sounds: [] };

describe('the dials of a delivery', () => {
  it('say what was chosen, and change what the document can keep, at both ends', () => {
    let tried = 0;
    for (const group of groups)
      for (const [key, parameter] of Object.entries<Parameter>(deliveryDials[group]))
        for (const value of valuesOf(parameter)) {
          // All others stand so that this one is needed.
          const shown = [
            everything,
            { ...everything, format: 'opus' as const },
            ...levels(),
            { ...everything, tail: 'fixed length' as const },
          ];
          const before = shown.find((delivery) => dialRows(delivery, group).some((row) => row.key === key))!;
          const after = { ...before, ...dialChange(key, value) };
          expect(deliverySchema.safeParse(after).success).toBe(true);
          expect(dialRows(after, group).find((row) => row.key === key)!.value).toBe(value);
          tried++;
        }
    expect(tried).toBeGreaterThan(50);
  });

  it('refuse what no dial offers', () => {
    expect(() => dialChange('encoding', '17 bit')).toThrow();
    expect(() => dialChange('bitrate', 1_000)).toThrow();
  });

  it.each(Object.keys(deliveryKinds))('tell what “%s” is in a few words', (kind) => {
    const delivery = { ...everything, ...deliveryKinds[kind]! };
    expect(deliveryFacts(delivery).length).toBeGreaterThan(5);
    expect(deliveryFacts(delivery)).not.toContain('undefined');
    expect(levelFacts(delivery)).not.toContain('undefined');
  });

  it('call a rate and a depth that the format does not have by what it has', () => {
    expect(deliveryFacts({ ...everything, format: 'opus', sampleRate: 22_050 })).toBe('Ogg Opus 64 kbit/s · 48 kHz');
    expect(deliveryFacts({ ...everything, format: 'flac', encoding: '32f' })).toBe('FLAC 24 bit · 48 kHz');
    expect(levelFacts({ ...everything, level: 'loudness', loudness: -23.5, ceiling: -1 })).toBe('−23.5 LUFS, ≤ −1 dBTP');
  });
});

function levels(): Delivery[] {
  return (['loudness', 'true peak', 'gain'] as const).map((level) => ({ ...everything, level }));
}
