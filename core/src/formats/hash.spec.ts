import { memorySource } from './byte-source';
import { hashBytes, hashSource, hashText, prepareHashing } from './hash';

/** Examples of FIPS 180-4 and their kind. */
const examples: [string, string][] = [
  ['', 'e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855'],
  ['abc', 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad'],
  ['abcdbcdecdefdefgefghfghighijhijkijkljklmklmnlmnomnopnopq', '248d6a61d20638b8e5c026930c3e6039a33ce45964ff2167f6ecedd419db06c1'],
];

describe('SHA-256', () => {
  it('is right for the examples of the standard, before and after the fast way is ready', async () => {
    const bytes = Uint8Array.from({ length: 100_003 }, (_, i) => (i * 31) % 251);
    const slow = hashBytes(bytes);
    for (const [text, hash] of examples) expect(hashText(text)).toBe(hash);
    await prepareHashing();
    for (const [text, hash] of examples) expect(hashText(text)).toBe(hash);
    expect(hashBytes(bytes)).toBe(slow);
  });

  it('is the same for what is read, with the hashing of the platform and without', async () => {
    const bytes = Uint8Array.from({ length: 100_003 }, (_, i) => (i * 31) % 251);
    expect(await hashSource(memorySource(bytes))).toBe(hashBytes(bytes));
    const without = jest.spyOn(globalThis.crypto.subtle, 'digest').mockRejectedValue(new Error('not allowed'));
    expect(await hashSource(memorySource(bytes))).toBe(hashBytes(bytes));
    without.mockRestore();
  });

  it('is the same for what is too large to be read at once', async () => {
    // 300 MB of zeros; the digest is that of `head -c 300000000 /dev/zero | sha256sum`.
    const zeros = new Uint8Array(4 * 2 ** 20);
    const shares: number[] = [];
    const source = { size: 300_000_000, read: (from: number, to: number) => Promise.resolve(zeros.subarray(0, to - from)) };
    expect(await hashSource(source, (share) => void shares.push(share))).toBe(
      'e8671610daa5dc152578d9bfe8e25346aa73fa600f908b235f55bf51d0eb5a05',
    );
    expect(shares.at(-1)).toBe(1);
    expect(shares.every((share, i) => share > (shares[i - 1] ?? 0))).toBe(true);
  });
});
