/** What of a clip movers pull: what moves neither its ends nor what lies behind it. It is pulled as they stand when the clip begins. */
export const pulledClipKeys = ['pitch', 'formant', 'wear', 'gain'] as const;

export function clipAddress(layer: string, clip: string): string {
  return `layer/${layer}/clip/${clip}`;
}

/** True for addresses of what belongs to a clip, its notes included. */
export function isClipAddress(address: string): boolean {
  return /^layer\/[^/]+\/clip\//.test(address);
}

/** True for what of a clip movers can pull. */
export function isPulledOfClip(address: string): boolean {
  const [, , , , key, ...more] = address.split('/');
  return isClipAddress(address) && more.length === 0 && pulledClipKeys.some((pulled) => pulled === key);
}
