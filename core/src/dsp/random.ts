/**
 * Seeded random numbers. Everything random in a render comes from here, so that the same project and seed give the same
 * samples on every machine.
 */

/** A source of uniform numbers in [0, 1). */
export interface Random {
  next(): number;
}

/**
 * Hashes words of text and numbers to 32 bits (FNV-1a over UTF-16 code units, finished with the MurmurHash3 mixer), so
 * that independent decisions draw from independent streams: `seedOf(seed, index, address)`.
 */
export function seedOf(...parts: readonly (string | number)[]): number {
  let hash = 0x811c9dc5;
  for (const part of parts) {
    const text = `${String(part)}\u0000`;
    for (let i = 0; i < text.length; i++) {
      hash ^= text.charCodeAt(i);
      hash = Math.imul(hash, 0x01000193);
    }
  }
  hash ^= hash >>> 16;
  hash = Math.imul(hash, 0x85ebca6b);
  hash ^= hash >>> 13;
  hash = Math.imul(hash, 0xc2b2ae35);
  hash ^= hash >>> 16;
  return hash >>> 0;
}

/** The sfc32 generator (Chris Doty-Humphrey, PractRand): 128 bits of state, passes the usual statistical batteries. */
export function createRandom(seed: number): Random {
  let a = seed >>> 0;
  let b = 0x9e3779b9;
  let c = 0x243f6a88;
  let counter = 1;
  const draw = (): number => {
    const sum = (((a + b) | 0) + counter) | 0;
    counter = (counter + 1) | 0;
    a = b ^ (b >>> 9);
    b = (c + (c << 3)) | 0;
    c = (c << 21) | (c >>> 11);
    c = (c + sum) | 0;
    return (sum >>> 0) / 4294967296;
  };
  for (let i = 0; i < 15; i++) draw();
  return { next: draw };
}

/** Puts a list into random order, in place (Fisher–Yates). */
export function shuffle<T>(list: T[], random: Random): void {
  for (let i = list.length - 1; i > 0; i--) {
    const j = Math.floor(random.next() * (i + 1));
    [list[i], list[j]] = [list[j]!, list[i]!];
  }
}
