import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import type { IHasher } from 'hash-wasm';
import { createSHA256 } from 'hash-wasm';
import type { Unit } from '../units';
import type { ByteSource } from './byte-source';

let compiled: IHasher | undefined;

/** Makes hashing several times as fast from when it is done; who hashes whole recordings waits for it first. */
export async function prepareHashing(): Promise<void> {
  compiled ??= await createSHA256();
}

/** SHA-256 of bytes as 64 hexadecimal digits: the name of audio within a project. */
export function hashBytes(bytes: Uint8Array): string {
  return compiled ? compiled.init().update(bytes).digest('hex') : bytesToHex(sha256(bytes));
}

/** The part of the Web Cryptography API that is used; core's library has no types for it. Pages that are not secure do not have it. */
interface PlatformHashing {
  readonly crypto?: { readonly subtle?: { digest(algorithm: 'SHA-256', data: Uint8Array): Promise<ArrayBuffer> } };
}

/** Bytes that the platform may hash in one go: it is two to three times as fast as we are, but takes no pieces. */
const mostAtOnce = 256 * 2 ** 20;
const pieceBytes = 4 * 2 ** 20;

/**
 * SHA-256 of what may be too large for memory, as 64 hexadecimal digits.
 * @param progress called with the finished share
 */
export async function hashSource(source: ByteSource, progress: (share: Unit) => void = () => undefined): Promise<string> {
  if (source.size <= mostAtOnce) {
    const bytes = await source.read(0, source.size);
    const digest = await (globalThis as PlatformHashing).crypto?.subtle?.digest('SHA-256', bytes).catch(() => undefined);
    progress(1);
    return digest ? bytesToHex(new Uint8Array(digest)) : hashBytes(bytes);
  }
  const hasher = await hashPieces();
  for (let at = 0; at < source.size; at += pieceBytes) {
    hasher.update(await source.read(at, Math.min(source.size, at + pieceBytes)));
    progress(Math.min(1, (at + pieceBytes) / source.size));
  }
  return hasher.digest();
}

/** A SHA-256 that takes its bytes piece by piece. */
export async function hashPieces(): Promise<{ update(bytes: Uint8Array): void; digest(): string }> {
  const hasher = (await createSHA256()).init();
  return { update: (bytes) => void hasher.update(bytes), digest: () => hasher.digest('hex') };
}

/** SHA-256 of a text in UTF-8. */
export function hashText(text: string): string {
  return hashBytes(new TextEncoder().encode(text));
}

/** Plain objects with their keys in one order. */
function inOrder(_key: string, value: unknown): unknown {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
  return Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** SHA-256 of data as JSON, whichever order the keys of its objects have: what was edited is not in that of what was read. */
export function hashData(data: unknown): string {
  return hashText(JSON.stringify(data, inOrder));
}
