import type { SharedAudio } from '@tangled-choir/jobs';

/**
 * Decodes with what the browser itself can play, which may be more than our own readers know, at the wanted rate. Undefined when it
 * cannot either. Only a page has this decoder, so it is asked last.
 */
export async function decodeByBrowser(bytes: ArrayBuffer, sampleRate: number): Promise<SharedAudio | undefined> {
  if (typeof OfflineAudioContext === 'undefined') return undefined;
  try {
    const decoded = await new OfflineAudioContext(1, 1, sampleRate).decodeAudioData(bytes);
    if (decoded.length === 0) return undefined;
    const channels = Array.from({ length: decoded.numberOfChannels }, (_, c) => decoded.getChannelData(c));
    return { sampleRate, channels };
  } catch {
    return undefined;
  }
}
