import { mono, noise } from '../../testing/signals';
import { ByteWriter } from '../byte-writer';
import { readWav } from './wav-read';
import { writeWav } from './wav-write';

const utf8 = new TextEncoder();

/** A WAV file with more chunks appended. */
function withChunks(...chunks: [string, Uint8Array][]): Uint8Array {
  const wav = writeWav(mono(noise(480)), { encoding: '16' });
  const size = chunks.reduce((sum, [, body]) => sum + 8 + body.length + (body.length % 2), wav.length);
  const file = new ByteWriter(size);
  file.raw(wav);
  for (const [id, body] of chunks) file.chunk(id, body);
  const bytes = file.finish();
  new DataView(bytes.buffer).setUint32(4, bytes.length - 8, true);
  return bytes;
}

function words(...values: number[]): Uint8Array {
  const writer = new ByteWriter(values.length * 4);
  for (const value of values) writer.u32(value);
  return writer.finish();
}

const join = (...parts: Uint8Array[]): Uint8Array => Uint8Array.from(parts.flatMap((part) => [...part]));

describe('what a WAV file tells of itself', () => {
  it('bext: description, originator, date and time', () => {
    const wav = writeWav(mono(noise(480)), {
      encoding: '16',
      broadcast: { description: 'Crack at the outlet', reference: 'HS-014', date: '2026-02-03', time: '04:05:06', codingHistory: '' },
    });
    const { details } = readWav(wav);
    expect(details.description).toBe('Crack at the outlet');
    expect(details.date).toBe('2026-02-03 04:05:06');
  });

  it('smpl: the loop that was written', () => {
    const wav = writeWav(mono(noise(480)), { encoding: '24', loop: { from: 40, to: 480 } });
    expect(readWav(wav).details.loop).toEqual({ from: 40, to: 480 });
  });

  it('iXML: scene, take and note', () => {
    const xml = '<BWFXML><SCENE>12</SCENE><TAKE>3</TAKE><NOTE>wind &amp; boots</NOTE></BWFXML>';
    expect(readWav(withChunks(['iXML', utf8.encode(xml)])).details.description).toBe('Scene: 12\nTake: 3\nwind & boots');
  });

  it('cue and labels: names at frames, in the order of time', () => {
    const cue = words(2, 7, 0, 0x61746164, 0, 0, 300, 9, 0, 0x61746164, 0, 0, 120);
    const label = (id: number, name: string): Uint8Array => {
      const text = utf8.encode(`${name}\0`);
      const padded = text.length % 2 ? join(text, Uint8Array.of(0)) : text;
      return join(utf8.encode('labl'), words(4 + text.length, id), padded);
    };
    const list = join(utf8.encode('adtl'), label(7, 'Slab'), label(9, 'Crack'));
    expect(readWav(withChunks(['cue ', cue], ['LIST', list])).details.cues).toEqual([
      { name: 'Crack', frame: 120 },
      { name: 'Slab', frame: 300 },
    ]);
  });

  it('smpl: the loop, its last frame included', () => {
    const smpl = words(0, 0, 20_833, 60, 0, 0, 0, 1, 0, 0, 0, 100, 399, 0, 0);
    expect(readWav(withChunks(['smpl', smpl])).details.loop).toEqual({ from: 100, to: 400 });
  });

  it('INFO: comment, artist and date', () => {
    const wav = writeWav(mono(noise(480)), { encoding: '16', info: { ICMT: 'Made up', IART: 'A. Halda', ICRD: '2026-02-03' } });
    expect(readWav(wav).details).toMatchObject({ description: 'Made up', recordist: 'A. Halda', date: '2026-02-03' });
  });

  it('nothing where the chunks are damaged', () => {
    const { details, audio } = readWav(withChunks(['cue ', words(4_000_000)], ['smpl', words(1, 2)], ['LIST', utf8.encode('adtllabl')]));
    expect(details.cues).toEqual([]);
    expect(details.loop).toBeUndefined();
    expect(audio.channels[0]).toHaveLength(480);
  });
});
