import { memorySource } from './byte-source';
import { readCodedEnds, withinEnds } from './coded-ends';

const text = (words: string): number[] => [...words].map((letter) => letter.charCodeAt(0));
const number = (value: number, bytes: number): number[] => Array.from({ length: bytes }, (_, i) => (value >>> (8 * (bytes - 1 - i))) & 255);
const ends = (bytes: readonly number[]) => readCodedEnds(memorySource(Uint8Array.from(bytes)));

/** The beginning of an MP3 file as its encoder writes it: 48 kHz stereo, or mono at half the rate. */
function mp3({ blocks = 49, delay = 576, padding = 1_431, half = false, flags = 15 } = {}): number[] {
  const header = half ? [0xff, 0xf3, 0x94, 0xc4] : [0xff, 0xfb, 0x94, 0x44];
  const side = Array.from<number>({ length: half ? 9 : 32 }).fill(0);
  const counts = [
    ...(flags & 1 ? number(blocks, 4) : []),
    ...(flags & 2 ? number(9_999, 4) : []),
    ...(flags & 4 ? Array.from<number>({ length: 100 }).fill(7) : []),
    ...(flags & 8 ? number(57, 4) : []),
  ];
  const encoder = [...text('LAME3.100'), ...Array.from<number>({ length: 12 }).fill(1), ...number((delay << 12) | padding, 3)];
  return [...header, ...side, ...text('Info'), ...number(flags, 4), ...counts, ...encoder, ...Array.from<number>({ length: 200 }).fill(0)];
}

const little = (value: number, bytes: number): number[] => number(value, bytes).reverse();
function page(serial: number, granule: number, body: readonly number[]): number[] {
  const counted = granule < 0 ? Array.from<number>({ length: 8 }).fill(255) : [...little(granule, 4), 0, 0, 0, 0];
  return [...text('OggS'), 0, 0, ...counted, ...little(serial, 4), ...little(0, 4), 0, 0, 0, 0, 1, body.length, ...body];
}
const opusHead = [...text('OpusHead'), 1, 2, ...little(312, 2), ...little(48_000, 4), 0, 0, 0];
const rest = Array.from<number>({ length: 60 }).fill(0);

describe('the ends of compressed sound', () => {
  it('are read from what an MP3 encoder has written down, behind tags of any length', async () => {
    // 49 blocks of 1152, less what is in front and behind.
    const expected = { skip: 576 + 529, frames: 49 * 1_152 - 576 - 1_431 };
    expect(await ends(mp3())).toEqual(expected);
    const tag = [...text('ID3'), 4, 0, 0, 0, 0, 2, 10, ...Array.from<number>({ length: 266 }).fill(0xff)];
    expect(await ends([...tag, ...mp3()])).toEqual(expected);
    expect(await ends(mp3({ half: true }))).toEqual({ skip: 1_105, frames: 49 * 576 - 576 - 1_431 });
    expect(await ends(mp3({ flags: 9 }))).toEqual(expected);
  });

  it('stay unknown where nobody tells', async () => {
    expect(await ends(mp3({ flags: 14 }))).toBeUndefined();
    expect(await ends(mp3({ delay: 0 }))).toBeUndefined();
    expect(await ends(mp3().slice(0, 60))).toBeUndefined();
    expect(await ends(text('RIFF and something else that is no MP3'))).toBeUndefined();
    expect(await ends([])).toBeUndefined();
  });

  it('are read from the last granule position of an Ogg file', async () => {
    const opus = page(7, 0, opusHead);
    expect(await ends([...opus, ...page(7, 48_312, rest), ...page(7, -1, rest)])).toEqual({ skip: 0, frames: 48_000 });
    const vorbis = page(7, 0, [1, ...text('vorbis'), ...rest]);
    expect(await ends([...vorbis, ...page(7, 54_441, rest)])).toEqual({ skip: 0, frames: 54_441 });
    // A chain counts anew, and another codec differently.
    expect(await ends([...opus, ...page(7, 48_312, rest), ...page(8, 9_000, rest)])).toBeUndefined();
    expect(await ends([...page(7, 0, [0x7f, ...text('FLAC'), ...rest]), ...page(7, 48_000, rest)])).toBeUndefined();
  });

  it('cut pieces of any length', async () => {
    const whole = Float32Array.from({ length: 1_000 }, (_, i) => i);
    for (const size of [1, 7, 100, 1_000]) {
      const pieces = async function* (): AsyncGenerator<readonly Float32Array[]> {
        for (let at = 0; at < whole.length; at += size) yield await Promise.resolve([whole.subarray(at, at + size)]);
      };
      const heard: number[] = [];
      for await (const [channel] of withinEnds(pieces(), { skip: 105, frames: 600 })) heard.push(...channel!);
      expect(heard).toEqual([...whole.subarray(105, 705)]);
    }
  });
});
