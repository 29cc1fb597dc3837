const utf8 = new TextEncoder();

/** Writes little-endian numbers and text into a growing buffer. */
export class ByteWriter {
  private bytes: Uint8Array<ArrayBuffer>;
  private view: DataView;
  private length = 0;

  constructor(capacity = 1024) {
    this.bytes = new Uint8Array(capacity);
    this.view = new DataView(this.bytes.buffer);
  }

  /** Four characters of a chunk id. */
  id(text: string): void {
    for (let i = 0; i < 4; i++) this.u8(text.charCodeAt(i));
  }

  u8(value: number): void {
    this.reserve(1);
    this.view.setUint8(this.length, value);
    this.length += 1;
  }

  u16(value: number): void {
    this.reserve(2);
    this.view.setUint16(this.length, value, true);
    this.length += 2;
  }

  i16(value: number): void {
    this.u16(value & 0xffff);
  }

  u32(value: number): void {
    this.reserve(4);
    this.view.setUint32(this.length, value, true);
    this.length += 4;
  }

  raw(bytes: Uint8Array): void {
    this.reserve(bytes.length);
    this.bytes.set(bytes, this.length);
    this.length += bytes.length;
  }

  /** Text in a field of fixed size, cut or filled with zeros; never cut within a UTF-8 character. */
  field(text: string, size: number): void {
    let encoded = utf8.encode(text);
    if (encoded.length > size) {
      let end = size;
      while (end > 0 && (encoded[end]! & 0xc0) === 0x80) end--;
      encoded = encoded.subarray(0, end);
    }
    this.raw(encoded);
    this.raw(new Uint8Array(size - encoded.length));
  }

  /** A RIFF chunk with its size and, after an odd one, its padding byte. */
  chunk(id: string, body: Uint8Array): void {
    this.id(id);
    this.u32(body.length);
    this.raw(body);
    if (body.length % 2) this.u8(0);
  }

  /** What was written; without a copy when the capacity was met exactly. */
  finish(): Uint8Array<ArrayBuffer> {
    return this.length === this.bytes.length ? this.bytes : this.bytes.slice(0, this.length);
  }

  private reserve(count: number): void {
    if (this.length + count <= this.bytes.length) return;
    const grown = new Uint8Array(Math.max(this.bytes.length * 2, this.length + count));
    grown.set(this.bytes);
    this.bytes = grown;
    this.view = new DataView(grown.buffer);
  }
}
