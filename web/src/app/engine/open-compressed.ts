import type { AudioStream } from '@tangled-choir/core';
import { DataError, formatName, noDetails, readCodedEnds, UnknownFormat, withinEnds } from '@tangled-choir/core';
import type { InputAudioTrack } from 'mediabunny';
import { ALL_FORMATS, AudioSampleSink, BlobSource, EncodedPacketSink, Input } from 'mediabunny';

const mostChannels = 8;

const names: Readonly<Record<string, string>> = {
  mp3: 'MP3',
  vorbis: 'Vorbis',
  opus: 'Opus',
  flac: 'FLAC',
  aac: 'AAC',
  alac: 'Apple Lossless (ALAC)',
};

/**
 * Opens compressed audio (MP3, Ogg Vorbis, Opus, FLAC, AAC and what else the browser has codecs for), to be decoded piece by piece at its
 * own rate. Rejects with DataError that names the file, as its pieces do; whoever opens it has to read them, which closes it.
 */
export async function openCompressed(file: Blob, what: string): Promise<AudioStream> {
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(file) });
  try {
    const name = formatName(new Uint8Array(await file.slice(0, 64).arrayBuffer()));
    if (name) throw new UnknownFormat(`${what} is ${name}, which cannot be read here; as WAV, AIFF or FLAC it can.`);
    if (!(await input.canRead()))
      throw new UnknownFormat(`${what} is in no format that can be read: its first bytes are of no known kind.`);
    const track = await input.getPrimaryAudioTrack();
    if (!track) throw new DataError(`${what} holds no audio.`);
    const inside = track.codec ?? (typeof track.internalCodecId === 'string' ? track.internalCodecId : '');
    const codec = names[inside] ?? (inside || 'an unknown codec');
    if (!(await track.canDecode())) throw new UnknownFormat(`${what} is encoded as ${codec}, which this browser cannot decode.`);
    if (track.numberOfChannels > mostChannels)
      throw new DataError(`${what} has ${track.numberOfChannels} channels; at most ${mostChannels} can be read in this format.`);
    // Asked for first, because a FLAC file without one whole frame keeps the reader searching for its duration forever.
    if (!(await new EncodedPacketSink(track).getFirstPacket())) throw new DataError(`${what} ends before its first block of samples.`);
    const seconds = Math.max(0.001, await track.computeDuration());
    const { sampleRate } = track;
    const ends = await readCodedEnds({
      size: file.size,
      read: async (from, to) => new Uint8Array(await file.slice(from, to).arrayBuffer()),
    });
    let frames = 0;
    return {
      sampleRate,
      channelCount: track.numberOfChannels,
      expectedFrames: ends?.frames ?? Math.round(seconds * sampleRate),
      encoding: codec,
      details: await describeTags(input),
      pieces: async function* () {
        try {
          for await (const piece of ends ? withinEnds(decode(track), ends) : decode(track)) {
            frames += piece[0]!.length;
            yield piece;
          }
          if (frames === 0) throw new DataError(`${what} holds no samples that can be decoded.`);
        } catch (error) {
          throw damaged(what, error);
        } finally {
          input.dispose();
        }
      },
      notes: () => {
        const found = frames / sampleRate;
        const promised = ends ? ends.frames / sampleRate : seconds;
        const missing = promised - found > 0.2;
        return missing ? [`The file promises ${promised.toFixed(1)} s and holds ${found.toFixed(1)} s; read as far as it goes.`] : [];
      },
    };
  } catch (error) {
    input.dispose();
    throw damaged(what, error);
  }
}

async function* decode(track: InputAudioTrack): AsyncGenerator<readonly Float32Array[]> {
  for await (const sample of new AudioSampleSink(track).samples()) {
    // What codecs put in front of the beginning is not part of the sound.
    const skipped = Math.min(sample.numberOfFrames, Math.max(0, Math.round(-sample.timestamp * sample.sampleRate)));
    const piece = Array.from({ length: track.numberOfChannels }, (_, planeIndex) => {
      const samples = new Float32Array(sample.numberOfFrames);
      sample.copyTo(samples, { planeIndex, format: 'f32-planar' });
      return samples.subarray(skipped);
    });
    sample.close();
    yield piece;
  }
}

function damaged(what: string, error: unknown): DataError {
  if (error instanceof DataError) return error;
  return new DataError(`${what} is damaged or cut off and cannot be decoded: ${error instanceof Error ? error.message : String(error)}`);
}

async function describeTags(input: Input): Promise<AudioStream['details']> {
  const tags = await input.getMetadataTags().catch(() => undefined);
  const description = [tags?.title, tags?.description, tags?.comment].filter(Boolean).join('\n').slice(0, 10_000);
  return {
    ...noDetails,
    ...(description && { description }),
    ...(tags?.artist && { recordist: tags.artist.slice(0, 200) }),
    ...(tags?.date && { date: tags.date.toISOString().slice(0, 10) }),
  };
}
