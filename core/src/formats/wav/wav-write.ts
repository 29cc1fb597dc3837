import type { Audio } from '../../audio/audio';
import { frameCount } from '../../audio/audio';
import type { Random } from '../../dsp/random';
import type { Encoding } from '../../project/schema';
import type { Decibels, Frames, Hertz } from '../../units';
import { ByteWriter } from '../byte-writer';
import { unknownSize } from './chunks';

const utf8 = new TextEncoder();

/** Broadcast metadata (EBU Tech 3285 v2) as far as we fill it. */
export interface BroadcastInfo {
  readonly description: string;
  readonly reference: string;
  /** yyyy-mm-dd */
  readonly date: string;
  /** hh:mm:ss */
  readonly time: string;
  /** Where the first sample lies on the clock of the picture: samples since midnight. */
  readonly timeReference?: Frames;
  readonly loudness?: {
    readonly integrated: number;
    readonly range: number;
    readonly truePeak: Decibels;
    readonly momentary: number;
    readonly shortTerm: number;
  };
  readonly codingHistory: string;
}

export interface WavOptions {
  readonly encoding: Encoding;
  /** Randomness for triangular dither (TPDF, two steps wide) on 16 and 24 bit; without it samples are only rounded. */
  readonly dither?: Random;
  readonly broadcast?: BroadcastInfo;
  /** Loop points for `smpl`, in frames: the first that is played and the one behind the last. */
  readonly loop?: { readonly from: Frames; readonly to: Frames };
  /** Cue points with names, in frames. */
  readonly cues?: readonly CuePoint[];
  /** An iXML document (iXML specification 1.61). */
  readonly ixml?: string;
  /** LIST INFO entries by their four-letter ids, for example `INAM`. */
  readonly info?: Readonly<Record<string, string>>;
}

/** A named moment of a file. */
export interface CuePoint {
  readonly at: Frames;
  readonly name: string;
}

/** A WAV file's shape: what its header says of the samples. */
export interface WavLayout {
  readonly sampleRate: Hertz;
  readonly channelCount: number;
  readonly frames: Frames;
  readonly encoding: Encoding;
}

const bytesPerSample = { '16': 2, '24': 3, '32f': 4 } as const;

/** Bytes that a frame has in a file of ours. */
export function frameBytes({ encoding, channelCount }: Pick<WavLayout, 'encoding' | 'channelCount'>): number {
  return bytesPerSample[encoding] * channelCount;
}

/**
 * Writes a WAV file. Integers are scaled by 2^(bits-1) and clamped, which makes integer → float → integer exact without dither. Over two
 * channels or 24 bit the extensible format is used, as Microsoft's specification asks.
 */
export function writeWav(audio: Audio, options: WavOptions): Uint8Array<ArrayBuffer> {
  const { encoding, dither } = options;
  const layout = { sampleRate: audio.sampleRate, channelCount: audio.channels.length, frames: frameCount(audio), encoding };
  const { head, tail } = wavFrame(layout, options);
  // Long recordings fill memory quickly, so the file is written once, at its final size.
  const samples = layout.frames * frameBytes(layout);
  const file = new Uint8Array(head.length + samples + tail.length);
  file.set(head);
  encodeSamples(audio.channels, encoding, file.subarray(head.length, head.length + samples), dither);
  file.set(tail, head.length + samples);
  return file;
}

/** From this size on a file says its sizes as 64-bit numbers (RF64, EBU Tech 3306). */
const largeFile = 2 ** 32 - 1;

/** What stands in front of the samples of a WAV file and behind them. */
export function wavFrame(
  layout: WavLayout,
  { broadcast, loop, cues = [], ixml, info }: Pick<WavOptions, 'broadcast' | 'loop' | 'cues' | 'ixml' | 'info'> = {},
): { head: Uint8Array<ArrayBuffer>; tail: Uint8Array<ArrayBuffer> } {
  const samples = layout.frames * frameBytes(layout);
  const tail = new ByteWriter(64);
  if (samples % 2) tail.u8(0);
  if (loop) tail.chunk('smpl', samplerChunk(loop, layout.sampleRate));
  if (cues.length > 0) {
    tail.chunk('cue ', cueChunk(cues));
    tail.chunk('LIST', labelChunk(cues));
  }
  if (info) tail.chunk('LIST', infoChunk(info));
  const behind = tail.finish();

  const described = new ByteWriter(1024);
  if (broadcast) described.chunk('bext', broadcastChunk(broadcast));
  if (ixml !== undefined) described.chunk('iXML', utf8.encode(ixml));
  described.chunk('fmt ', formatChunk(layout));
  if (layout.encoding === '32f') {
    const fact = new ByteWriter(4);
    fact.u32(Math.min(layout.frames, unknownSize));
    described.chunk('fact', fact.finish());
  }
  const front = described.finish();
  const content = 4 + front.length + 8 + samples + behind.length;
  const large = content + 8 >= largeFile;
  const head = new ByteWriter(front.length + 64);
  head.id(large ? 'RF64' : 'RIFF');
  head.u32(large ? unknownSize : content);
  head.id('WAVE');
  if (large) head.chunk('ds64', largeSizes(content, samples, layout.frames));
  head.raw(front);
  head.id('data');
  head.u32(large ? unknownSize : samples);
  return { head: head.finish(), tail: behind };
}

function largeSizes(content: number, samples: number, frames: Frames): Uint8Array {
  const writer = new ByteWriter(28);
  // The chunk itself, with its header, is part of the content.
  for (const size of [content + 36, samples, frames]) {
    writer.u32(size % 2 ** 32);
    writer.u32(Math.floor(size / 2 ** 32));
  }
  writer.u32(0);
  return writer.finish();
}

function formatChunk(layout: WavLayout): Uint8Array {
  const { sampleRate, channelCount, encoding } = layout;
  const float = encoding === '32f';
  const extensible = channelCount > 2;
  const bits = bytesPerSample[encoding] * 8;
  const writer = new ByteWriter(40);
  writer.u16(extensible ? 0xfffe : float ? 3 : 1);
  writer.u16(channelCount);
  writer.u32(sampleRate);
  writer.u32(sampleRate * frameBytes(layout));
  writer.u16(frameBytes(layout));
  writer.u16(bits);
  if (extensible) {
    writer.u16(22);
    writer.u16(bits);
    writer.u32(0);
    writer.u16(float ? 3 : 1);
    // The rest of the GUID that turns a format number into a sub-format.
    writer.raw(Uint8Array.of(0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71));
  } else if (float) writer.u16(0);
  return writer.finish();
}

/** Writes samples as a WAV file has them, frame by frame, into `bytes`. */
export function encodeSamples(channels: readonly Float32Array[], encoding: Encoding, bytes: Uint8Array, dither?: Random): void {
  if (encoding === '32f') {
    writeFloats(channels, bytes);
    return;
  }
  const frames = channels[0]?.length ?? 0;
  const scale = encoding === '16' ? 32_768 : 8_388_608;
  const size = bytesPerSample[encoding];
  let at = 0;
  for (let i = 0; i < frames; i++) {
    for (const channel of channels) {
      const noise = dither ? dither.next() - dither.next() : 0;
      const rounded = Math.round(channel[i]! * scale + noise);
      const level = rounded < -scale ? -scale : rounded > scale - 1 ? scale - 1 : rounded;
      bytes[at] = level;
      bytes[at + 1] = level >> 8;
      if (size === 3) bytes[at + 2] = level >> 16;
      at += size;
    }
  }
}

function writeFloats(channels: readonly Float32Array[], bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  channels.forEach((samples, c) => {
    let at = 4 * c;
    for (let i = 0; i < samples.length; i++, at += 4 * channels.length) view.setFloat32(at, samples[i]!, true);
  });
}

function broadcastChunk(info: BroadcastInfo): Uint8Array {
  const writer = new ByteWriter(1024);
  writer.field(info.description, 256);
  writer.field('Tangled Choir', 32);
  writer.field(info.reference, 32);
  writer.field(info.date, 10);
  writer.field(info.time, 8);
  const { timeReference = 0 } = info;
  writer.u32(timeReference % 2 ** 32);
  writer.u32(Math.floor(timeReference / 2 ** 32));
  writer.u16(2);
  writer.raw(new Uint8Array(64));
  const { loudness } = info;
  // 0x7fff says “not set” (EBU Tech 3285 v2).
  const hundredths = (value: number | undefined): number =>
    value === undefined || !Number.isFinite(value) ? 0x7fff : Math.max(-9_999, Math.min(9_999, Math.round(value * 100)));
  for (const value of [loudness?.integrated, loudness?.range, loudness?.truePeak, loudness?.momentary, loudness?.shortTerm])
    writer.i16(hundredths(value));
  writer.raw(new Uint8Array(180));
  writer.raw(utf8.encode(`${info.codingHistory}\r\n`));
  return writer.finish();
}

/** One forward loop that goes on forever. */
function samplerChunk(loop: { from: Frames; to: Frames }, sampleRate: Hertz): Uint8Array {
  const writer = new ByteWriter(60);
  const middleC = 60;
  for (const value of [0, 0, Math.round(1e9 / sampleRate), middleC, 0, 0, 0, 1, 0]) writer.u32(value);
  // The end of a sampler loop is the last frame that is played.
  for (const value of [0, 0, loop.from, loop.to - 1, 0, 0]) writer.u32(value);
  return writer.finish();
}

/** Where the cue points lie; their ids count from 1. */
function cueChunk(cues: readonly CuePoint[]): Uint8Array {
  const writer = new ByteWriter(4 + 24 * cues.length);
  writer.u32(cues.length);
  cues.forEach(({ at }, index) => {
    writer.u32(index + 1);
    writer.u32(at);
    writer.id('data');
    for (const value of [0, 0, at]) writer.u32(value);
  });
  return writer.finish();
}

/** What they are called. */
function labelChunk(cues: readonly CuePoint[]): Uint8Array {
  const writer = new ByteWriter(64 * cues.length);
  writer.id('adtl');
  cues.forEach(({ name }, index) => {
    const text = utf8.encode(name);
    const label = new Uint8Array(4 + text.length + 1);
    new DataView(label.buffer).setUint32(0, index + 1, true);
    label.set(text, 4);
    writer.chunk('labl', label);
  });
  return writer.finish();
}

function infoChunk(info: Readonly<Record<string, string>>): Uint8Array {
  const writer = new ByteWriter(512);
  writer.id('INFO');
  for (const [id, text] of Object.entries(info)) {
    const encoded = utf8.encode(text);
    const terminated = new Uint8Array(encoded.length + 1);
    terminated.set(encoded);
    writer.chunk(id, terminated);
  }
  return writer.finish();
}
