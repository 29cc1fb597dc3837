/** Puts pieces behind each other. */
export function joined(pieces: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const whole = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}

const utf8 = new TextEncoder();

export function text(value: string): Uint8Array<ArrayBuffer> {
  return new Uint8Array(utf8.encode(value));
}

/** A 32-bit number, least byte first. */
export function u32(value: number): Uint8Array<ArrayBuffer> {
  return Uint8Array.of(value, value >>> 8, value >>> 16, value >>> 24);
}

/** Comments as Vorbis, Opus and FLAC have them: the maker of the encoder, then each with its length (Vorbis I specification, 5). */
export function commentList(vendor: string, comments: readonly string[]): Uint8Array<ArrayBuffer> {
  const counted = (value: string): Uint8Array[] => {
    const bytes = text(value);
    return [u32(bytes.length), bytes];
  };
  return joined([...counted(vendor), u32(comments.length), ...comments.flatMap(counted)]);
}
