import type { Frames } from '../units';
import type { ByteSource } from './byte-source';

/** Where in what a decoder gives the sound itself lies: codecs work in whole blocks, and put something in front. */
export interface CodedEnds {
  /** Frames in front of it. */
  readonly skip: Frames;
  /** How long it is. */
  readonly frames: Frames;
}

/** Frames that every MP3 decoder puts in front, beside what the encoder has put there (polyphase filters and MDCT). */
const mp3DecoderDelay: Frames = 529;
/** Bytes that are looked through for the first block, and for the last page. */
const headBytes = 16_384;
const tailBytes = 131_072;

/**
 * The ends of the sound in an MP3 file whose encoder has written them down (the delay and the padding of the “Xing” or “Info” frame), or in an Ogg file with Opus (RFC 7845) or Vorbis (the
 * last granule position). Undefined where the file does not tell, or is something else.
 */
export async function readCodedEnds(source: ByteSource): Promise<CodedEnds | undefined> {
  const start = await source.read(0, 10);
  if (isAt(start, 0, 'OggS')) return readOgg(source);
  const tagged =
    isAt(start, 0, 'ID3') && start.length === 10 ? 10 + start.subarray(6).reduce((size, byte) => size * 128 + (byte & 0x7f), 0) : 0;
  return readMp3(await source.read(tagged, tagged + headBytes));
}

function isAt(bytes: Uint8Array, at: number, text: string): boolean {
  return at + text.length <= bytes.length && [...text].every((letter, i) => bytes[at + i] === letter.charCodeAt(0));
}

const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

function readMp3(bytes: Uint8Array): CodedEnds | undefined {
  const at = bytes.findIndex((byte, i) => byte === 0xff && ((bytes[i + 1] ?? 0) & 0xe6) === 0xe2);
  if (at < 0 || at + 4 > bytes.length) return undefined;
  const version = (bytes[at + 1]! >> 3) & 3;
  const isFirst = version === 3;
  const isMono = bytes[at + 3]! >> 6 === 3;
  // Behind the header and the side information, whose length depends on both.
  let place = at + 4 + (isFirst ? (isMono ? 17 : 32) : isMono ? 9 : 17);
  if (!isAt(bytes, place, 'Xing') && !isAt(bytes, place, 'Info')) return undefined;
  const view = viewOf(bytes);
  if (place + 120 > bytes.length) return undefined;
  const flags = view.getUint32(place + 4);
  // Without a number of frames nobody knows where the last one ends.
  if ((flags & 1) === 0) return undefined;
  const blocks = view.getUint32(place + 8);
  place += 12 + (flags & 2 ? 4 : 0) + (flags & 4 ? 100 : 0) + (flags & 8 ? 4 : 0);
  if (place + 24 > bytes.length || bytes[place] === 0) return undefined;
  const delay = (bytes[place + 21]! << 4) | (bytes[place + 22]! >> 4);
  const padding = ((bytes[place + 22]! & 15) << 8) | bytes[place + 23]!;
  const frames = blocks * (isFirst ? 1_152 : 576) - delay - padding;
  return delay > 0 && frames > 0 ? { skip: delay + mp3DecoderDelay, frames } : undefined;
}

async function readOgg(source: ByteSource): Promise<CodedEnds | undefined> {
  const head = await source.read(0, headBytes);
  if (head.length < 64) return undefined;
  const packet = 27 + head[26]!;
  const isOpus = isAt(head, packet, 'OpusHead');
  if (!isOpus && !isAt(head, packet + 1, 'vorbis')) return undefined;
  const before = isOpus ? viewOf(head).getUint16(packet + 10, true) : 0;
  const serial = viewOf(head).getUint32(14, true);
  const tail = await source.read(Math.max(0, source.size - tailBytes), source.size);
  const view = viewOf(tail);
  for (let at = tail.length - 27; at >= 0; at--) {
    if (!isAt(tail, at, 'OggS')) continue;
    // What is chained begins to count anew.
    if (view.getUint32(at + 14, true) !== serial) return undefined;
    const granule = Number(view.getBigInt64(at + 6, true));
    if (granule < 0) continue;
    // A decoder leaves out itself what Opus wants to be left out in front.
    return granule > before ? { skip: 0, frames: granule - before } : undefined;
  }
  return undefined;
}

/** The part of decoded pieces that is the sound itself. */
export async function* withinEnds(
  pieces: AsyncIterable<readonly Float32Array[]>,
  { skip, frames }: CodedEnds,
): AsyncGenerator<readonly Float32Array[]> {
  let at = 0;
  for await (const piece of pieces) {
    const length = piece[0]?.length ?? 0;
    const from = Math.max(0, skip - at);
    const to = Math.min(length, skip + frames - at);
    at += length;
    if (to <= from) continue;
    yield from === 0 && to === length ? piece : piece.map((channel) => channel.subarray(from, to));
  }
}
