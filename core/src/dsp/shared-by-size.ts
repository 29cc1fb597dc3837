import type { Frames } from '../units';

/** Gives one thing for each size, made at the first call: for what takes longer to make than to use, and keeps nothing between two uses. */
export function sharedBySize<T>(make: (size: Frames) => T): (size: Frames) => T {
  const made = new Map<Frames, T>();
  return (size) => {
    const known = made.get(size);
    if (known !== undefined) return known;
    const fresh = make(size);
    made.set(size, fresh);
    return fresh;
  };
}
