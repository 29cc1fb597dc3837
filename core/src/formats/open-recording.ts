import type { Recording } from '../audio/recording';
import { checkAiffStart, describeAiff, isAiff } from './aiff-read';
import type { ByteSource } from './byte-source';
import { iff, readChunks, riff } from './wav/chunks';
import type { PcmFile } from './pcm-file';
import { checkWavStart, describeWav, isWav } from './wav/wav-read';

/**
 * What the header of a WAV or AIFF file says, told by its first bytes, or by the ending of its path; undefined when the file is neither.
 * Rejects with DataError when it is damaged.
 */
export async function openPcm(source: ByteSource, path: string): Promise<PcmFile | undefined> {
  const what = `“${path}”`;
  const start = await source.read(0, 12);
  if (isWav(start) || (!isAiff(start) && /\.(wav|wave|bwf)$/i.test(path))) return openWav(source, what);
  if (isAiff(start) || /\.(aiff?|aifc)$/i.test(path)) {
    checkAiffStart(start, what);
    return describeAiff(await readChunks(source, iff), source.size, what);
  }
  return undefined;
}

/** What the header of a WAV file says. Rejects with DataError when it is none, or damaged; `what` is how errors call it. */
export async function openWav(source: ByteSource, what: string): Promise<PcmFile> {
  checkWavStart(await source.read(0, 12), source.size, what);
  return describeWav(await readChunks(source, riff), source.size, what);
}

/** The samples of a file, read where they are needed. */
export function pcmRecording(source: ByteSource, file: PcmFile): Recording {
  const { sampleRate, channelCount, frames, start, frameBytes } = file;
  return {
    sampleRate,
    channelCount,
    frames,
    read: async (from, to) => {
      const bytes = await source.read(start + from * frameBytes, start + to * frameBytes);
      const channels = Array.from({ length: channelCount }, () => new Float32Array(to - from));
      file.decode(bytes, channels);
      return { sampleRate, channels };
    },
  };
}
