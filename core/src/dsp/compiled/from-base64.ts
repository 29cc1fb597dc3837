const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** The bytes of a text in base64 (RFC 4648, section 4). Worklets have no function for it. */
export function fromBase64(text: string): Uint8Array {
  const digits = text.replace(/=+$/, '');
  const bytes = new Uint8Array((digits.length * 3) >> 2);
  let bits = 0;
  for (let i = 0, held = 0, at = 0; i < digits.length; i++) {
    bits = (bits << 6) | letters.indexOf(digits[i]!);
    held += 6;
    if (held < 8) continue;
    held -= 8;
    bytes[at++] = bits >> held;
    bits &= (1 << held) - 1;
  }
  return bytes;
}
