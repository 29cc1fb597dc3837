import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import type { IHasher } from 'hash-wasm';
import { createSHA256 } from 'hash-wasm';
import { encodeUtf8 } from './byte-writer';

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
  readonly crypto?: { readonly subtle?: { digest(algorithm: 'SHA-256', data: Uint8Array<ArrayBuffer>): Promise<ArrayBuffer> } };
}

/** `hashBytes` for whole recordings, by the platform itself where it can: nearly twice as fast. */
export async function hashRecording(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const digest = await (globalThis as PlatformHashing).crypto?.subtle?.digest('SHA-256', bytes).catch(() => undefined);
  return digest ? bytesToHex(new Uint8Array(digest)) : hashBytes(bytes);
}

/** SHA-256 of a text in UTF-8. */
export function hashText(text: string): string {
  return hashBytes(encodeUtf8(text));
}
