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

/** SHA-256 of a text in UTF-8. */
export function hashText(text: string): string {
  return hashBytes(encodeUtf8(text));
}
