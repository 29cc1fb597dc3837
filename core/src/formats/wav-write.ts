import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Random } from '../dsp/random';
import type { Encoding } from '../project/schema';
import type { Decibels, Frames, Hertz } from '../units';
import type { EncodedSamples } from './audio-file';
import { ByteWriter, encodeUtf8 } from './byte-writer';

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
  /** The samples as they are written, where they are known already. */
  readonly encoded?: EncodedSamples;
  readonly broadcast?: BroadcastInfo;
  /** Loop points for `smpl`, in frames: the first that is played and the one behind the last. */
  readonly loop?: { readonly from: Frames; readonly to: Frames };
  /** LIST INFO entries by their four-letter ids, for example `INAM`. */
  readonly info?: Readonly<Record<string, string>>;
}

/**
 * Writes a WAV file. Integers are scaled by 2^(bits-1) and clamped, which makes integer → float → integer exact without dither. Over two
 * channels or 24 bit the extensible format is used, as Microsoft's specification asks.
 */
export function writeWav(audio: Audio, options: WavOptions): Uint8Array<ArrayBuffer> {
  const bytesPerSample = options.encoding === '16' ? 2 : options.encoding === '24' ? 3 : 4;
  const chunks: [string, Uint8Array][] = [];
  if (options.broadcast) chunks.push(['bext', broadcastChunk(options.broadcast)]);
  chunks.push(['fmt ', formatChunk(audio, bytesPerSample, options.encoding === '32f')]);
  if (options.encoding === '32f') {
    const fact = new ByteWriter(4);
    fact.u32(frameCount(audio));
    chunks.push(['fact', fact.finish()]);
  }
  chunks.push(['data', options.encoded?.bytes ?? encodeSamples(audio, options, bytesPerSample)]);
  if (options.loop) chunks.push(['smpl', samplerChunk(options.loop, audio.sampleRate)]);
  if (options.info) chunks.push(['LIST', infoChunk(options.info)]);
  // Long recordings fill memory quickly, so the file is written once, at its final size.
  const content = chunks.reduce((sum, [, body]) => sum + 8 + body.length + (body.length % 2), 4);
  const file = new ByteWriter(content + 8);
  file.id('RIFF');
  file.u32(content);
  file.id('WAVE');
  for (const [id, body] of chunks) file.chunk(id, body);
  return file.finish();
}

function formatChunk(audio: Audio, bytesPerSample: number, float: boolean): Uint8Array {
  const channels = audio.channels.length;
  const extensible = channels > 2;
  const writer = new ByteWriter(40);
  writer.u16(extensible ? 0xfffe : float ? 3 : 1);
  writer.u16(channels);
  writer.u32(audio.sampleRate);
  writer.u32(audio.sampleRate * channels * bytesPerSample);
  writer.u16(channels * bytesPerSample);
  writer.u16(bytesPerSample * 8);
  if (extensible) {
    writer.u16(22);
    writer.u16(bytesPerSample * 8);
    writer.u32(0);
    writer.u16(float ? 3 : 1);
    // The rest of the GUID that turns a format number into a sub-format.
    writer.raw(Uint8Array.of(0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71));
  } else if (float) writer.u16(0);
  return writer.finish();
}

function encodeSamples(audio: Audio, { encoding, dither }: WavOptions, bytesPerSample: number): Uint8Array {
  const frames = frameCount(audio);
  const channelCount = audio.channels.length;
  const bytes = new Uint8Array(frames * channelCount * bytesPerSample);
  if (encoding === '32f') {
    writeFloats(audio.channels, bytes);
    return bytes;
  }
  const scale = encoding === '16' ? 32_768 : 8_388_608;
  let at = 0;
  for (let i = 0; i < frames; i++) {
    for (let c = 0; c < channelCount; c++) {
      const noise = dither ? dither.next() - dither.next() : 0;
      const rounded = Math.round(audio.channels[c]![i]! * scale + noise);
      const level = rounded < -scale ? -scale : rounded > scale - 1 ? scale - 1 : rounded;
      bytes[at] = level;
      bytes[at + 1] = level >> 8;
      if (bytesPerSample === 3) bytes[at + 2] = level >> 16;
      at += bytesPerSample;
    }
  }
  return bytes;
}

function writeFloats(channels: readonly Float32Array[], bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer);
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
  writer.raw(encodeUtf8(`${info.codingHistory}\r\n`));
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

function infoChunk(info: Readonly<Record<string, string>>): Uint8Array {
  const writer = new ByteWriter(512);
  writer.id('INFO');
  for (const [id, text] of Object.entries(info)) {
    const encoded = encodeUtf8(text);
    const terminated = new Uint8Array(encoded.length + 1);
    terminated.set(encoded);
    writer.chunk(id, terminated);
  }
  return writer.finish();
}
