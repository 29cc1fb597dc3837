import { effects, effectsById } from './index';
import { searchEffects, tradeWords } from './search';

const found = (text: string): string[] => searchEffects(text).map(({ effect }) => effect.id);

describe('finding effects by what is typed', () => {
  it('offers all while nothing is typed', () => {
    expect(found('')).toHaveLength(effects.length);
  });

  it('finds every effect by its name, first of all', () => {
    for (const { id, label } of effects) expect(found(label)[0]).toBe(id);
  });

  it.each([
    ['rev', 'reverb'],
    ['comp', 'compressor'],
    ['thicker', 'detune'],
    ['telephone', 'filter'],
    ['farther', 'distance'],
    ['ROBOT', 'ring-modulator'],
  ])('“%s” leads to %s', (text, id) => {
    expect(found(text)[0]).toBe(id);
  });

  it('shows the presets that fit, and needs all words to fit', () => {
    const [first] = searchEffects('ice cavern');
    expect(first!.effect.id).toBe('reverb');
    expect(first!.presets.map(({ name }) => name)).toEqual(['Ice cavern']);
    expect(found('telephone cavern')).toEqual([]);
    expect(found('xyzzy')).toEqual([]);
  });

  it('knows only effects that there are', () => {
    for (const id of Object.values(tradeWords).flat()) expect([id, effectsById.has(id)]).toEqual([id, true]);
  });
});
