/** Puts compressed copies beside the files of the built application; the server hands them to whoever takes them. */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

const kinds = /\.(js|css|svg|json|webmanifest|wasm)$/;
/** Smaller files go in one packet anyway. */
const smallest = 1_400;

export function compressBelow(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true })) {
    const file = join(entry.parentPath ?? entry.path, entry.name);
    if (!entry.isFile() || !kinds.test(entry.name)) continue;
    const bytes = readFileSync(file);
    if (bytes.length < smallest) continue;
    writeFileSync(`${file}.br`, brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 10 } }));
    writeFileSync(`${file}.gz`, gzipSync(bytes, { level: 9 }));
  }
}
