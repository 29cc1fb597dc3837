import type { AudioFile } from '@tangled-choir/core';
import { DataError, noDetails, UnknownFormat } from '@tangled-choir/core';
import { ALL_FORMATS, AudioSampleSink, BufferSource, EncodedPacketSink, Input } from 'mediabunny';

const mostChannels = 8;
/** An hour in stereo at 48 kHz. */
const mostSamples = 2 * 3_600 * 48_000;

const names: Readonly<Record<string, string>> = { mp3: 'MP3', vorbis: 'Vorbis', opus: 'Opus', flac: 'FLAC', aac: 'AAC', alac: 'ALAC' };

/**
 * Decodes compressed audio (MP3, Ogg Vorbis, Opus, FLAC, AAC and what else the browser has codecs for) at the file's own rate. Throws
 * DataError that names the file.
 * @param progress called with the finished share; false stops the work
 */
export async function decodeAudio(bytes: Uint8Array<ArrayBuffer>, what: string, progress: (share: number) => boolean): Promise<AudioFile> {
  const input = new Input({ formats: ALL_FORMATS, source: new BufferSource(bytes.buffer) });
  try {
    if (!(await input.canRead()))
      throw new UnknownFormat(`${what} is in no format that can be read: its first bytes are of no known kind.`);
    const track = await input.getPrimaryAudioTrack();
    if (!track) throw new DataError(`${what} holds no audio.`);
    const codec = names[track.codec ?? ''] ?? track.codec ?? 'an unknown codec';
    if (!(await track.canDecode())) throw new UnknownFormat(`${what} is encoded as ${codec}, which this browser cannot decode.`);
    if (track.numberOfChannels > mostChannels)
      throw new DataError(`${what} has ${track.numberOfChannels} channels; at most ${mostChannels} can be read in this format.`);
    // Asked for first, because a FLAC file without one whole frame keeps the reader searching for its duration forever.
    if (!(await new EncodedPacketSink(track).getFirstPacket())) throw new DataError(`${what} ends before its first block of samples.`);
    const seconds = Math.max(0.001, await track.computeDuration());
    if (seconds * track.sampleRate * track.numberOfChannels > mostSamples)
      throw new DataError(
        `${what} lasts ${(seconds / 60).toFixed(0)} minutes; at most an hour in stereo can be imported. Cut it into parts first.`,
      );
    const parts: Float32Array[][] = [];
    let frames = 0;
    for await (const sample of new AudioSampleSink(track).samples()) {
      // What codecs put in front of the beginning is not part of the sound.
      const skipped = Math.min(sample.numberOfFrames, Math.max(0, Math.round(-sample.timestamp * sample.sampleRate)));
      const part = Array.from({ length: track.numberOfChannels }, (_, planeIndex) => {
        const samples = new Float32Array(sample.numberOfFrames);
        sample.copyTo(samples, { planeIndex, format: 'f32-planar' });
        return samples.subarray(skipped);
      });
      const wanted = progress(Math.min(0.9, sample.timestamp / seconds));
      sample.close();
      if (!wanted) throw new DataError(`${what} was not imported: it was cancelled.`);
      parts.push(part);
      frames += part[0]!.length;
      if (frames * track.numberOfChannels > mostSamples)
        throw new DataError(`${what} lasts longer than an hour in stereo; cut it into parts first.`);
    }
    if (frames === 0) throw new DataError(`${what} holds no samples that can be decoded.`);
    const channels = Array.from({ length: track.numberOfChannels }, (_, c) => {
      const channel = new Float32Array(frames);
      let at = 0;
      for (const part of parts) {
        channel.set(part[c]!, at);
        at += part[c]!.length;
      }
      return channel;
    });
    const missing = seconds - frames / track.sampleRate;
    return {
      audio: { sampleRate: track.sampleRate, channels },
      encoding: codec,
      notes:
        missing > 0.2
          ? [`The file promises ${seconds.toFixed(1)} s and holds ${(frames / track.sampleRate).toFixed(1)} s; read as far as it goes.`]
          : [],
      details: await describeTags(input),
    };
  } catch (error) {
    if (error instanceof DataError) throw error;
    throw new DataError(`${what} is damaged or cut off and cannot be decoded: ${error instanceof Error ? error.message : String(error)}`);
  } finally {
    input.dispose();
  }
}

async function describeTags(input: Input): Promise<AudioFile['details']> {
  const tags = await input.getMetadataTags().catch(() => undefined);
  const description = [tags?.title, tags?.description, tags?.comment].filter(Boolean).join('\n').slice(0, 10_000);
  return {
    ...noDetails,
    ...(description && { description }),
    ...(tags?.artist && { recordist: tags.artist.slice(0, 200) }),
    ...(tags?.date && { date: tags.date.toISOString().slice(0, 10) }),
  };
}
