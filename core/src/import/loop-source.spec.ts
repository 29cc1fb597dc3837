import { inMemory } from '../audio/recording';
import { readWav } from '../formats/wav/wav-read';
import { mono, noise } from '../testing/signals';
import { loopSource } from './loop-source';

describe('a loop as a source', () => {
  it('is the seamless audio with loop points and remembers where it was cut from', async () => {
    const rate = 48_000;
    const audio = mono(noise(3 * rate, 2, -18));
    const parent = {
      kind: 'recording' as const,
      id: 'source-1',
      name: 'wind',
      audio: 'a'.repeat(64),
      frames: 3 * rate,
      channels: 1,
      tags: ['ridge'],
      notes: '',
      regions: [],
      cues: [],
      origin: { file: 'ridge/wind.wav', sampleRate: rate, encoding: '16 bit' },
    };
    const made = await loopSource(inMemory(audio), parent, { from: 0.5, to: 2.5, crossfade: 0.1 });
    const file = readWav(made.wav);
    expect(file.audio.channels).toEqual(made.audio.channels);
    expect(file.details.loop).toEqual({ from: 0, to: made.source.frames });
    expect(made.source).toMatchObject({
      name: 'wind loop',
      frames: made.audio.channels[0]!.length,
      loop: { from: 0, to: made.source.frames / rate },
      origin: { file: 'ridge/wind.wav', cutFrom: { name: 'wind', audio: parent.audio, from: 0.5, to: 2.5 } },
    });
    expect(made.source.tags).toEqual(['ridge', 'loop']);
  });
});
