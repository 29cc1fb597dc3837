import type { JobKind, JobRequest, JobResults } from './protocol';

/** Memory of a request or a result that its sender does not need any more, and that therefore moves instead of being copied. */
export function movable(content: JobRequest | JobResults[JobKind]): ArrayBuffer[] {
  if ('kind' in content && (content.kind === 'import' || content.kind === 'unpack' || content.kind === 'unzip'))
    return [content.bytes.buffer];
  if ('kind' in content && content.kind === 'decode') return [content.wav.buffer];
  if ('ending' in content) return [content.bytes.buffer];
  if ('wav' in content && content.wav instanceof Uint8Array) return [content.wav.buffer];
  return [];
}
