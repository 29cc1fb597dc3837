// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- so that whoever imports this knows what a file of WebAssembly is
/// <reference path="./wasm.d.ts" />
import module from '@evan/opus/wasm/opus.wasm';
import type { EncodedFile, EncodeInput } from './index';
import { commentList, joined, text, u32 } from './bytes';
import { firstPage, lastPage, pagesOf, writeOgg } from './ogg';

type OpusInput = Extract<EncodeInput, { format: 'opus' | 'vorbis' }>;

/** The functions of libopus that we call; the rest of the module is its memory. */
interface Opus {
  readonly memory: WebAssembly.Memory;
  malloc(bytes: number): number;
  free(address: number): void;
  opus_encoder_get_size(channels: number): number;
  opus_encoder_init(encoder: number, sampleRate: number, channels: number, application: number): number;
  opus_encoder_ctl_set(encoder: number, request: number, value: number): number;
  opus_encoder_ctl_get(encoder: number, request: number): number;
  opus_encode(encoder: number, samples: number, frames: number, packet: number, most: number): number;
  opus_decoder_get_size(channels: number): number;
  opus_decoder_init(decoder: number, sampleRate: number, channels: number): number;
  opus_decoder_ctl_set(decoder: number, request: number, value: number): number;
  opus_decode(decoder: number, packet: number, bytes: number, samples: number, frames: number, forwardErrorCorrection: number): number;
}

/** Numbers of opus_defines.h. */
const applicationAudio = 2_049;
const setBitrate = 4_002;
const getLookahead = 4_027;
const setGain = 4_034;
/** Decoders give whole numbers; so many decibels lower, peaks above full scale are left whole. */
const headroom = 12;
const sampleRate = 48_000;
/** 20 ms at 48 kHz. */
const packetFrames = 960;
const mostPacketBytes = 4_000;
/** Packets on a page: a second. */
const pagePackets = 50;

let library: Promise<Opus> | undefined;

function loadLibrary(): Promise<Opus> {
  return (library ??= (async () => {
    const nothing = (): number => 0;
    const { instance } = await WebAssembly.instantiate(module, {
      wasi_snapshot_preview1: { proc_exit: nothing, fd_close: nothing, fd_write: nothing, fd_seek: nothing },
      env: { emscripten_notify_memory_growth: nothing },
    });
    // The package says what it exports, not WebAssembly.
    return instance.exports as unknown as Opus;
  })());
}

/**
 * Encodes Ogg Opus (RFC 7845) at 48 kHz. What the encoder delays is said in the head as to be skipped, and the last page says where the sound ends,
 * so that it comes back as long as it was, and in its place.
 */
export async function encodeOpus({ channels, bitrate, comments, serial }: OpusInput): Promise<EncodedFile> {
  const opus = await loadLibrary();
  const count = channels.length;
  const frames = channels[0]?.length ?? 0;
  const encoder = opus.malloc(opus.opus_encoder_get_size(count));
  const input = opus.malloc(packetFrames * count * 2);
  const output = opus.malloc(mostPacketBytes);
  try {
    const status = opus.opus_encoder_init(encoder, sampleRate, count, applicationAudio);
    if (status < 0) throw new Error(`The Opus encoder does not begin (${status}).`);
    opus.opus_encoder_ctl_set(encoder, setBitrate, Math.round(bitrate * 1_000));
    const skipped = opus.opus_encoder_ctl_get(encoder, getLookahead);
    const packets: Uint8Array[] = [];
    for (let from = 0; from < frames + skipped; from += packetFrames) {
      interleave(channels, from, new Int16Array(opus.memory.buffer, input, packetFrames * count));
      const length = opus.opus_encode(encoder, input, packetFrames, output, mostPacketBytes);
      if (length < 0) throw new Error(`The Opus encoder stopped (${length}).`);
      packets.push(new Uint8Array(opus.memory.buffer, output, length).slice());
    }
    const heard = decodePackets(opus, packets, { channels: count, frames, skipped });
    return { bytes: oggFile(packets, { channels: count, frames, skipped, comments, serial }), heard };
  } finally {
    for (const address of [encoder, input, output]) opus.free(address);
  }
}

/** Sixteen bits are below the noise of the format itself; behind the end there is silence. */
function interleave(channels: readonly Float32Array[], from: number, samples: Int16Array): void {
  channels.forEach((channel, c) => {
    for (let i = 0; i < packetFrames; i++) {
      const sample = Math.round((channel[from + i] ?? 0) * 32_768);
      samples[i * channels.length + c] = sample > 32_767 ? 32_767 : sample < -32_768 ? -32_768 : sample;
    }
  });
}

interface Extent {
  readonly channels: number;
  readonly frames: number;
  readonly skipped: number;
}

/** What a decoder makes of packets, without what is to be skipped. */
function decodePackets(opus: Opus, packets: readonly Uint8Array[], { channels, frames, skipped }: Extent): Float32Array<ArrayBuffer>[] {
  const decoder = opus.malloc(opus.opus_decoder_get_size(channels));
  const input = opus.malloc(mostPacketBytes);
  const output = opus.malloc(packetFrames * channels * 2);
  try {
    const status = opus.opus_decoder_init(decoder, sampleRate, channels);
    if (status < 0) throw new Error(`The Opus decoder does not begin (${status}).`);
    opus.opus_decoder_ctl_set(decoder, setGain, -headroom * 256);
    const scale = 10 ** (headroom / 20) / 32_768;
    const heard = Array.from({ length: channels }, () => new Float32Array(frames));
    let at = -skipped;
    for (const packet of packets) {
      new Uint8Array(opus.memory.buffer, input, packet.length).set(packet);
      const length = opus.opus_decode(decoder, input, packet.length, output, packetFrames, 0);
      if (length < 0) throw new Error(`The Opus decoder stopped (${length}).`);
      const samples = new Int16Array(opus.memory.buffer, output, length * channels);
      heard.forEach((channel, c) => {
        for (let i = Math.max(0, -at); i < length && at + i < frames; i++) channel[at + i] = samples[i * channels + c]! * scale;
      });
      at += length;
    }
    return heard;
  } finally {
    for (const address of [decoder, input, output]) opus.free(address);
  }
}

interface Stream extends Extent {
  readonly comments: readonly string[];
  readonly serial: number;
}

function oggFile(packets: readonly Uint8Array[], { channels, frames, skipped, comments, serial }: Stream): Uint8Array<ArrayBuffer> {
  const u16 = (value: number): Uint8Array => Uint8Array.of(value, value >>> 8);
  const head = joined([text('OpusHead'), Uint8Array.of(1, channels), u16(skipped), u32(sampleRate), u16(0), Uint8Array.of(0)]);
  const tags = joined([text('OpusTags'), commentList('libopus', comments)]);
  const pages = [...pagesOf([head], 0n, firstPage), ...pagesOf([tags], 0n)];
  for (let from = 0; from < packets.length; from += pagePackets) {
    const last = from + pagePackets >= packets.length;
    const granule = last ? skipped + frames : (from + pagePackets) * packetFrames;
    pages.push(...pagesOf(packets.slice(from, from + pagePackets), BigInt(granule), last ? lastPage : 0));
  }
  return writeOgg(pages, serial);
}
