// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- so that whoever imports this knows what a file of WebAssembly is
/// <reference path="./wasm.d.ts" />
import { createEncoder } from 'wasm-media-encoders';
import module from 'wasm-media-encoders/wasm/ogg';
import { StbVorbis } from 'stb-vorbis';
import type { EncodedFile, EncodeInput } from './index';
import { commentList, joined, text } from './bytes';
import type { OggPage } from './ogg';
import { firstPage, lastPage, packetsOf, pagesOf, readOgg, writeOgg } from './ogg';

type VorbisInput = Extract<EncodeInput, { format: 'opus' | 'vorbis' }>;

/** Frames that are handed over at once. */
const piece = 16_384;
/** Packets on a page: about a second. */
const pagePackets = 40;
const vendor = 'Xiph.Org libVorbis I 20200704 (Reducing Environment)';
/** kbit/s of two channels at about 48 kHz for the qualities −1 to 10 of libvorbis. */
const bitrates = [45, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 500] as const;

/** The quality whose bitrate comes nearest to what is wanted. */
function qualityFor(bitrate: number, channels: number): number {
  const wanted = channels === 1 ? bitrate * 2 : bitrate;
  const above = bitrates.findIndex((each) => each >= wanted);
  if (above <= 0) return above === 0 ? -1 : 10;
  const [low, high] = [bitrates[above - 1]!, bitrates[above]!];
  return above - 2 + (wanted - low) / (high - low);
}

/** Encodes Ogg Vorbis; the encoder says in its last page where the sound ends. */
export async function encodeVorbis({ sampleRate, channels, bitrate, comments, serial }: VorbisInput): Promise<EncodedFile> {
  const encoder = await createEncoder('audio/ogg', module);
  const count = channels.length === 1 ? 1 : 2;
  encoder.configure({ sampleRate, channels: count, vbrQuality: qualityFor(bitrate, count), oggSerialNo: serial });
  const written: Uint8Array[] = [];
  const frames = channels[0]?.length ?? 0;
  for (let from = 0; from < frames; from += piece)
    written.push(encoder.encode(channels.map((channel) => channel.subarray(from, Math.min(frames, from + piece)))).slice());
  written.push(encoder.finalize().slice());
  const bytes = writeOgg(withComments(readOgg(joined(written)), comments), serial);
  await StbVorbis.ready;
  return { bytes, heard: StbVorbis.decode(bytes).channels.map((channel) => new Float32Array(channel)) };
}

/**
 * The same stream with our comments in its second packet (Vorbis I specification, A.2), and its last packet on a page of its own: decoders that
 * reckon the begin of a page from its end otherwise take the end of a short file, which is cut, for its begin.
 */
function withComments(pages: readonly OggPage[], comments: readonly string[]): OggPage[] {
  const [head, , setup, ...packets] = packetsOf(pages);
  const end = pages.at(-1)?.granule;
  if (!head || !setup || end === undefined || packets.length === 0) throw new Error('The Vorbis encoder wrote nothing.');
  const told = joined([Uint8Array.of(3), text('vorbis'), commentList(vendor, comments), Uint8Array.of(1)]);
  const written = [...pagesOf([head], 0n, firstPage), ...pagesOf([told, setup], 0n)];
  const ends = packetEnds(head, packets);
  for (let from = 0; from < packets.length;) {
    const isLast = from === packets.length - 1;
    const to = isLast ? packets.length : Math.min(packets.length - 1, from + pagePackets);
    written.push(...pagesOf(packets.slice(from, to), isLast ? end : BigInt(ends[to - 1]!), isLast ? lastPage : 0));
    from = to;
  }
  return written;
}

/**
 * How many frames are complete with each packet: a quarter of its block and of the one before it (Vorbis I specification, 1.3.2 and 4.3.8). The
 * encoder knows two kinds of blocks, short and long, and the second bit of a packet says which.
 */
function packetEnds(head: Uint8Array, packets: readonly Uint8Array[]): number[] {
  const sizes = head[28]!;
  const blockOf = (packet: Uint8Array): number => 2 ** ((packet[0] ?? 0) & 2 ? sizes >> 4 : sizes & 15);
  let end = 0;
  return packets.map((packet, index) => (end += index === 0 ? 0 : (blockOf(packets[index - 1]!) + blockOf(packet)) / 4));
}
