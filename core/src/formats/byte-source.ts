/** Bytes that are read where they are needed: those of a file on a disk, or in memory. */
export interface ByteSource {
  readonly size: number;
  /** The bytes from `from` up to `to`; fewer where they end before. */
  read(from: number, to: number): Promise<Uint8Array>;
}

/** Bytes that lie in memory already. */
export function memorySource(bytes: Uint8Array): ByteSource {
  return { size: bytes.length, read: (from, to) => Promise.resolve(bytes.subarray(from, to)) };
}
