import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { encodeUtf8 } from './byte-writer';

/** SHA-256 of bytes as 64 hexadecimal digits: the name of audio within a project. */
export function hashBytes(bytes: Uint8Array): string {
  return bytesToHex(sha256(bytes));
}

/** SHA-256 of a text in UTF-8. */
export function hashText(text: string): string {
  return hashBytes(encodeUtf8(text));
}
