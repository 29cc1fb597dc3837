import { joined, text, u32 } from './bytes';

/** A page of an Ogg stream: whole packets, or the begin or the end of long ones (RFC 3533). */
export interface OggPage {
  readonly flags: number;
  /** Samples that are complete with this page; −1 where no packet ends in it. */
  readonly granule: bigint;
  /** Lengths of the segments. */
  readonly lacing: Uint8Array;
  readonly body: Uint8Array;
}

export const firstPage = 2;
export const lastPage = 4;
const continued = 1;
const mostSegments = 255;

/** Segments of a packet: 255 for each full one, and what is left, be it nothing. */
function lacingOf(length: number): number[] {
  return [...new Array<number>(Math.floor(length / 255)).fill(255), length % 255];
}

/** Lays packets into pages of at most 255 segments; the granule belongs to the last packet, pages that end within one say −1. */
export function pagesOf(packets: readonly Uint8Array[], granule: bigint, flags = 0): OggPage[] {
  const body = joined(packets);
  const lacing = packets.flatMap(({ length }) => lacingOf(length));
  const pages: OggPage[] = [];
  let at = 0;
  for (let from = 0; from < lacing.length; from += mostSegments) {
    const own = lacing.slice(from, from + mostSegments);
    const length = own.reduce((sum, segment) => sum + segment, 0);
    const last = from + mostSegments >= lacing.length;
    const begun = from > 0 && lacing[from - 1] === 255 ? continued : 0;
    pages.push({
      flags: (from === 0 ? flags : flags & ~firstPage) | begun,
      granule: last ? granule : -1n,
      lacing: Uint8Array.from(own),
      body: body.subarray(at, at + length),
    });
    at += length;
  }
  return pages;
}

/** Writes pages as one stream, numbered from 0. */
export function writeOgg(pages: readonly OggPage[], serial: number): Uint8Array<ArrayBuffer> {
  return joined(pages.map((page, number) => pageBytes(page, serial, number)));
}

function pageBytes({ flags, granule, lacing, body }: OggPage, serial: number, number: number): Uint8Array {
  const position = new Uint8Array(8);
  new DataView(position.buffer).setBigInt64(0, granule, true);
  const head = [text('OggS'), Uint8Array.of(0, flags), position, u32(serial), u32(number), u32(0), Uint8Array.of(lacing.length), lacing];
  const page = joined([...head, body]);
  page.set(u32(checksum(page)), 22);
  return page;
}

/** Reads the pages of a stream that an encoder has written. */
export function readOgg(bytes: Uint8Array): OggPage[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const pages: OggPage[] = [];
  for (let at = 0; at < bytes.length;) {
    const segments = bytes[at + 26]!;
    const lacing = bytes.subarray(at + 27, at + 27 + segments);
    const begin = at + 27 + segments;
    const end = begin + lacing.reduce((sum, segment) => sum + segment, 0);
    pages.push({ flags: bytes[at + 5]!, granule: view.getBigInt64(at + 6, true), lacing, body: bytes.subarray(begin, end) });
    at = end;
  }
  return pages;
}

/** The packets of pages in which none is cut off. */
export function packetsOf(pages: readonly OggPage[]): Uint8Array[] {
  const body = joined(pages.map((page) => page.body));
  const packets: Uint8Array[] = [];
  let begin = 0;
  let end = 0;
  for (const segment of pages.flatMap(({ lacing }) => [...lacing])) {
    end += segment;
    if (segment === 255) continue;
    packets.push(body.subarray(begin, end));
    begin = end;
  }
  return packets;
}

const table = Uint32Array.from({ length: 256 }, (_, index) => {
  let value = index << 24;
  for (let bit = 0; bit < 8; bit++) value = value & 0x80000000 ? (value << 1) ^ 0x04c11db7 : value << 1;
  return value >>> 0;
});

/** CRC of RFC 3533: polynomial 0x04c11db7, begun with 0, not turned. */
function checksum(bytes: Uint8Array): number {
  let sum = 0;
  for (const byte of bytes) sum = ((sum << 8) ^ table[((sum >>> 24) ^ byte) & 0xff]!) >>> 0;
  return sum;
}
