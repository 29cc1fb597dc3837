/** What this browser's storage holds of ours, in bytes. */
export interface StorageUse {
  readonly used: number;
  /** What the browser would give at most. */
  readonly available: number;
  /** The browser may not clear it by itself when space runs short. */
  readonly lasting: boolean;
}

/** Asks the browser; undefined where it does not tell. */
export async function storageUse(): Promise<StorageUse | undefined> {
  if (!('storage' in navigator)) return undefined;
  const [{ usage, quota }, lasting] = await Promise.all([navigator.storage.estimate(), navigator.storage.persisted()]);
  return usage === undefined || quota === undefined ? undefined : { used: usage, available: quota, lasting };
}

/** Asks the browser to keep what is stored until a person removes it. Browsers decide by themselves, some by asking. */
export async function askToKeep(): Promise<void> {
  if ('storage' in navigator && !(await navigator.storage.persisted())) await navigator.storage.persist();
}
