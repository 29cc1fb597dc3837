import type { Frames, Hertz } from '../../units';
import { BitReader } from './bit-reader';

/** What STREAMINFO says of a whole stream. */
export interface FlacInfo {
  readonly sampleRate: Hertz;
  readonly channelCount: number;
  readonly bits: number;
  /** 0 where it is not known. */
  readonly frames: Frames;
  /** Frames in every block, where all but the last have as many. */
  readonly blockFrames: Frames;
}

/** A block of samples. */
export interface FlacBlock {
  /** Where it begins in the stream. */
  readonly start: Frames;
  /** Whole numbers, one array per channel; valid until the next block is read. */
  readonly channels: readonly Float64Array[];
  readonly frames: Frames;
  /** Bits of these numbers. */
  readonly bits: number;
  /** Bytes that it takes. */
  readonly length: number;
}

const depths = [0, 8, 12, 0, 16, 20, 24, 32];
const rates = [0, 88_200, 176_400, 192_000, 8_000, 16_000, 22_050, 24_000, 32_000, 44_100, 48_000, 96_000];
const fixedPredictors = [[], [1], [2, -1], [3, -3, 1], [4, -6, 4, -1]];

interface Header {
  readonly start: Frames;
  readonly frames: Frames;
  readonly assignment: number;
  readonly bits: number;
  /** Where the samples begin. */
  readonly end: number;
}

/** Reads blocks of FLAC streams (RFC 9639). */
export class FlacBlockReader {
  private readonly channels: Float64Array[];

  constructor(private readonly info: FlacInfo) {
    this.channels = Array.from({ length: info.channelCount }, () => new Float64Array(0));
  }

  /** The block that begins at a byte; undefined where none does, or a damaged one. */
  read(bytes: Uint8Array, at: number): FlacBlock | undefined {
    const header = readHeader(bytes, at, this.info);
    if (!header) return undefined;
    const { frames, assignment, bits } = header;
    const reader = new BitReader(bytes, header.end);
    for (let c = 0; c < this.info.channelCount; c++) {
      if (this.channels[c]!.length < frames) this.channels[c] = new Float64Array(frames);
      // The difference of two channels takes a bit more.
      const isSide = (assignment === 8 && c === 1) || (assignment === 9 && c === 0) || (assignment === 10 && c === 1);
      if (!readSubframe(reader, this.channels[c]!, frames, bits + (isSide ? 1 : 0)) || reader.overrun) return undefined;
    }
    const end = reader.align();
    if (end + 2 > bytes.length || crc16(bytes, at, end) !== bytes[end]! * 256 + bytes[end + 1]!) return undefined;
    undoStereo(this.channels, assignment, frames);
    return { start: header.start, channels: this.channels, frames, bits, length: end + 2 - at };
  }
}

/** True where a block may begin, as far as four bytes tell. */
export function mayBeginBlock(bytes: Uint8Array, at: number): boolean {
  return (
    bytes[at] === 0xff &&
    (bytes[at + 1]! & 0xfe) === 0xf8 &&
    (bytes[at + 2]! & 0xf0) !== 0 &&
    (bytes[at + 2]! & 0x0f) !== 0x0f &&
    (bytes[at + 3]! & 1) === 0
  );
}

function readHeader(bytes: Uint8Array, at: number, info: FlacInfo): Header | undefined {
  if (at + 6 > bytes.length || !mayBeginBlock(bytes, at)) return undefined;
  const isVariable = (bytes[at + 1]! & 1) === 1;
  const [sizeCode, rateCode] = [bytes[at + 2]! >> 4, bytes[at + 2]! & 15];
  const [assignment, depthCode] = [bytes[at + 3]! >> 4, (bytes[at + 3]! >> 1) & 7];
  const reader = new BitReader(bytes, at + 4);
  const number = readCodedNumber(reader);
  if (number === undefined) return undefined;
  const frames =
    sizeCode === 6
      ? reader.unsigned(8) + 1
      : sizeCode === 7
        ? reader.unsigned(16) + 1
        : sizeCode === 1
          ? 192
          : sizeCode < 6
            ? 576 << (sizeCode - 2)
            : 256 << (sizeCode - 8);
  // Rates that no code stands for are written out: in kHz, in Hz, or in tens of Hz.
  const rate =
    rateCode === 0
      ? info.sampleRate
      : rateCode === 12
        ? reader.unsigned(8) * 1_000
        : rateCode === 13
          ? reader.unsigned(16)
          : rateCode === 14
            ? reader.unsigned(16) * 10
            : rates[rateCode]!;
  const bits = depthCode === 0 ? info.bits : depths[depthCode]!;
  const end = reader.align();
  const channelCount = assignment < 8 ? assignment + 1 : 2;
  if (end >= bytes.length || crc8(bytes, at, end) !== bytes[end]) return undefined;
  if (assignment > 10 || bits === 0 || channelCount !== info.channelCount || rate !== info.sampleRate) return undefined;
  return { start: isVariable ? number : number * info.blockFrames, frames, assignment, bits, end: end + 1 };
}

/** A number in one to seven bytes, as UTF-8 writes them. */
function readCodedNumber(reader: BitReader): number | undefined {
  const first = reader.unsigned(8);
  if (first < 0x80) return first;
  const more = Math.clz32(~(first << 24)) - 1;
  if (more < 1 || more > 6) return undefined;
  let value = first & (0x3f >> more);
  for (let n = 0; n < more; n++) {
    const next = reader.unsigned(8);
    if ((next & 0xc0) !== 0x80) return undefined;
    value = value * 64 + (next & 0x3f);
  }
  return value;
}

/** Reads one channel; false where it makes no sense. */
function readSubframe(reader: BitReader, samples: Float64Array, frames: Frames, depth: number): boolean {
  if (reader.unsigned(1) !== 0) return false;
  const kind = reader.unsigned(6);
  const wasted = reader.unsigned(1) === 1 ? reader.zeros() + 1 : 0;
  const bits = depth - wasted;
  if (bits <= 0) return false;
  if (kind === 0) samples.fill(reader.signed(bits), 0, frames);
  else if (kind === 1) for (let i = 0; i < frames; i++) samples[i] = reader.signed(bits);
  else if (kind >= 8 && kind <= 12) {
    const predictor = fixedPredictors[kind - 8]!;
    if (!readWarmUp(reader, samples, predictor.length, frames, bits) || !readResidual(reader, samples, predictor.length, frames))
      return false;
    predict(samples, predictor, 0, frames);
  } else if (kind >= 32) {
    const order = kind - 31;
    if (!readWarmUp(reader, samples, order, frames, bits)) return false;
    const precision = reader.unsigned(4) + 1;
    const shift = reader.signed(5);
    if (precision === 16 || shift < 0) return false;
    const predictor = Array.from({ length: order }, () => reader.signed(precision));
    if (!readResidual(reader, samples, order, frames)) return false;
    predict(samples, predictor, shift, frames);
  } else return false;
  if (wasted > 0) for (let i = 0; i < frames; i++) samples[i]! *= 2 ** wasted;
  return true;
}

function readWarmUp(reader: BitReader, samples: Float64Array, order: number, frames: Frames, bits: number): boolean {
  if (order > frames) return false;
  for (let i = 0; i < order; i++) samples[i] = reader.signed(bits);
  return true;
}

/** What prediction misses, in partitions of Rice codes. */
function readResidual(reader: BitReader, samples: Float64Array, order: number, frames: Frames): boolean {
  const method = reader.unsigned(2);
  if (method > 1) return false;
  const parameterBits = method === 0 ? 4 : 5;
  const partitions = 1 << reader.unsigned(4);
  const each = frames / partitions;
  if (!Number.isInteger(each) || each < order) return false;
  for (let p = 0, i = order; p < partitions; p++) {
    const parameter = reader.unsigned(parameterBits);
    const end = (p + 1) * each;
    if (parameter === (1 << parameterBits) - 1) {
      const bits = reader.unsigned(5);
      for (; i < end; i++) samples[i] = reader.signed(bits);
    } else {
      const scale = 2 ** parameter;
      for (; i < end; i++) {
        const folded = reader.zeros() * scale + reader.unsigned(parameter);
        samples[i] = folded % 2 === 0 ? folded / 2 : -(folded + 1) / 2;
      }
    }
    if (reader.overrun) return false;
  }
  return true;
}

function predict(samples: Float64Array, predictor: readonly number[], shift: number, frames: Frames): void {
  const order = predictor.length;
  const scale = 2 ** -shift;
  for (let i = order; i < frames; i++) {
    let sum = 0;
    for (let n = 0; n < order; n++) sum += predictor[n]! * samples[i - 1 - n]!;
    samples[i]! += Math.floor(sum * scale);
  }
}

/** Left and right out of one of them, or their mean, and their difference. */
function undoStereo([a, b]: readonly Float64Array[], assignment: number, frames: Frames): void {
  if (!a || !b || assignment < 8) return;
  if (assignment === 8) for (let i = 0; i < frames; i++) b[i] = a[i]! - b[i]!;
  else if (assignment === 9) for (let i = 0; i < frames; i++) a[i]! += b[i]!;
  else
    for (let i = 0; i < frames; i++) {
      const side = b[i]!;
      // Half of the sum was left out where it was odd.
      const sum = 2 * a[i]! + Math.abs(side % 2);
      a[i] = (sum + side) / 2;
      b[i] = (sum - side) / 2;
    }
}

function table(polynomial: number, bits: number): Uint16Array {
  return Uint16Array.from({ length: 256 }, (_, byte) => {
    let value = byte << (bits - 8);
    for (let n = 0; n < 8; n++) value = value & (1 << (bits - 1)) ? (value << 1) ^ polynomial : value << 1;
    return value & ((1 << bits) - 1);
  });
}
const table8 = table(0x07, 8);
const table16 = table(0x8005, 16);

function crc8(bytes: Uint8Array, from: number, to: number): number {
  let value = 0;
  for (let i = from; i < to; i++) value = table8[value ^ bytes[i]!]!;
  return value;
}

function crc16(bytes: Uint8Array, from: number, to: number): number {
  let value = 0;
  for (let i = from; i < to; i++) value = ((value << 8) & 0xffff) ^ table16[(value >> 8) ^ bytes[i]!]!;
  return value;
}
