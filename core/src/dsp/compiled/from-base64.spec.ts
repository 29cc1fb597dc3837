import fc from 'fast-check';
import { fromBase64 } from './from-base64';

describe('base64', () => {
  it('is read back as what was written', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => expect(fromBase64(Buffer.from(bytes).toString('base64'))).toEqual(bytes)),
    );
  });
});
