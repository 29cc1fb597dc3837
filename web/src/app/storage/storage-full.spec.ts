import Dexie from 'dexie';
import { StorageFull, storing } from './storage-full';

describe('writing into the browser’s storage', () => {
  it('tells in our words that there is no room, however the browser puts it', async () => {
    const plain = new DOMException('no', 'QuotaExceededError');
    const wrapped = new Dexie.AbortError('Transaction aborted', plain);
    await expect(storing(Promise.reject(plain))).rejects.toThrow(StorageFull);
    await expect(storing(Promise.reject(wrapped))).rejects.toThrow('storage is full; archive or remove another project');
  });

  it('leaves every other reason and every result as it is', async () => {
    await expect(storing(Promise.reject(new Error('closed')))).rejects.toThrow('closed');
    await expect(storing(Promise.resolve(3))).resolves.toBe(3);
  });
});
