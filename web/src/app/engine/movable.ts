import type { JobKind, JobResults } from './protocol';

/** Memory of a result that its sender does not need any more, and that therefore moves instead of being copied. */
export function movable(result: JobResults[JobKind]): ArrayBuffer[] {
  if ('ending' in result) return [result.bytes.buffer];
  if ('wav' in result && result.wav instanceof Uint8Array) return [result.wav.buffer];
  return [];
}
