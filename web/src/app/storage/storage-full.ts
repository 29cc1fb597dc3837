/** The browser has no room left for what should be stored. */
export class StorageFull extends Error {
  override readonly name = 'StorageFull';
  constructor(options?: ErrorOptions) {
    super('the browser’s storage is full; archive or remove another project to make room', options);
  }
}

/** Names under which browsers and Dexie tell that the storage is full; Dexie may hide the first behind an aborted transaction. */
function isQuotaError(error: unknown): boolean {
  if (typeof error !== 'object' || error === null) return false;
  if ('name' in error && error.name === 'QuotaExceededError') return true;
  return 'inner' in error && isQuotaError(error.inner);
}

/** Waits for a write and tells in our words when there was no room for it. */
export async function storing<T>(write: PromiseLike<T>): Promise<T> {
  try {
    return await write;
  } catch (error) {
    throw isQuotaError(error) ? new StorageFull({ cause: error }) : error;
  }
}
