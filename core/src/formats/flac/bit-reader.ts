/** Reads bits from bytes, the highest first. Behind the end it reads zeros, and `overrun` tells. */
export class BitReader {
  private byte = 0;
  private left = 0;
  private cache = 0;

  constructor(
    private readonly bytes: Uint8Array,
    /** Where the next byte comes from. */
    at = 0,
  ) {
    this.byte = at;
  }

  get overrun(): boolean {
    return this.byte - (this.left >> 3) > this.bytes.length;
  }

  /** Where the next whole byte lies; bits that are left of the latest one are dropped. */
  align(): number {
    this.byte -= this.left >> 3;
    this.left = this.cache = 0;
    return this.byte;
  }

  /** An unsigned number of up to 32 bits. */
  unsigned(bits: number): number {
    if (bits > 24) {
      const high = this.unsigned(bits - 16);
      return high * 65_536 + this.unsigned(16);
    }
    while (this.left < bits) {
      this.cache = ((this.cache & 0xffffff) << 8) | (this.bytes[this.byte++] ?? 0);
      this.left += 8;
    }
    this.left -= bits;
    return bits === 0 ? 0 : (this.cache >>> this.left) & ((1 << bits) - 1);
  }

  /** A number of up to 33 bits in two's complement. */
  signed(bits: number): number {
    if (bits === 0) return 0;
    const value = bits === 33 ? this.unsigned(1) * 2 ** 32 + this.unsigned(32) : this.unsigned(bits);
    return value >= 2 ** (bits - 1) ? value - 2 ** bits : value;
  }

  /** How many zeros come before the next one. */
  zeros(): number {
    let count = 0;
    for (;;) {
      const rest = this.left === 0 ? 0 : this.cache & ((1 << this.left) - 1);
      if (rest !== 0) {
        const zeros = this.left - (32 - Math.clz32(rest));
        this.left -= zeros + 1;
        return count + zeros;
      }
      count += this.left;
      this.left = 0;
      if (this.byte >= this.bytes.length) {
        this.byte++;
        return count;
      }
      this.cache = this.bytes[this.byte++]!;
      this.left = 8;
    }
  }
}
