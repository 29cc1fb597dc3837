import type { Source } from '@tangled-choir/core';
import { createProject, createSound } from '@tangled-choir/core';
import { searchSources, sourceUses } from './search-sources';

const source = (id: string, name: string, tags: string[], role?: Source['role']): Source => ({
  kind: 'recording',
  id,
  name,
  tags,
  audio: '0'.repeat(64),
  frames: 10,
  channels: 1,
  notes: '',
  regions: [],
  cues: [],
  origin: { file: `${id}.wav`, sampleRate: 48_000, encoding: '24 bit' },
  ...(role && { role }),
});
const sources = [
  source('a', 'River ice, long crack', ['ice'], 'Strike'),
  source('b', 'Wind over the ridge', ['ambience'], 'Bed'),
  source('c', 'Crack, thin sheet', ['ice', 'small']),
];

describe('searching sources', () => {
  const found = (query: string, used: string[] = []): string[] => searchSources(sources, query, () => new Set(used)).map((each) => each.id);

  it('finds by the names of good parts', () => {
    const marked = { ...sources[1]!, regions: [{ id: 'r', name: 'Gust at dawn', from: 0, to: 1 }] };
    expect(searchSources([...sources, marked], 'dawn wind', () => new Set())).toEqual([marked]);
  });

  it('needs every word, anywhere, in any order', () => {
    expect(found('crack ice')).toEqual(['a', 'c']);
    expect(found('ICE small')).toEqual(['c']);
    expect(found('crack wind')).toEqual([]);
    expect(found('')).toEqual(['a', 'b', 'c']);
  });

  it('knows roles, files and use', () => {
    expect(found('strike')).toEqual(['a']);
    expect(found('b.wav')).toEqual(['b']);
    expect(found('unused', ['a'])).toEqual(['b', 'c']);
    expect(found('used', ['a'])).toEqual(['a']);
  });
});

describe('uses of sources', () => {
  it('counts clips, and knows of what effects take and what a sound leaves room for', () => {
    const project = createProject('p', 'Halda');
    const step = { id: 'step-1', effect: 'convolution', enabled: true, mix: 1, parameters: { response: 'source/b' } };
    const uses = sourceUses({
      ...project,
      sources,
      sounds: [{ ...createSound('s', 'Slab'), chain: [step], guide: { source: 'c', start: 0, gain: 0, on: true, repeats: false } }],
    });
    expect(Object.fromEntries(uses)).toEqual({ b: [{ sound: 'Slab', clips: 0 }], c: [{ sound: 'Slab', clips: 0 }] });
  });
});
