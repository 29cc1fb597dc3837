import type { Audio } from '@tangled-choir/core';
import { DataError, frameCount } from '@tangled-choir/core';
import type { Movie } from '@tangled-choir/jobs';
import type { AudioCodec, OutputFormat } from 'mediabunny';
import {
  ALL_FORMATS,
  AudioSample,
  AudioSampleSource,
  BlobSource,
  BufferTarget,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  getFirstEncodableAudioCodec,
  Input,
  MkvOutputFormat,
  Mp4OutputFormat,
  Output,
  WebMOutputFormat,
} from 'mediabunny';

const audioBitRate = 192_000;
/** Samples that are encoded at a time. */
const portion = 48_000;
/** Audio codecs from the most wanted on, as far as a container takes them and the browser encodes them. */
const wantedCodecs: readonly AudioCodec[] = ['aac', 'opus', 'pcm-s16'];

/**
 * Puts a picture and a sound into one file. The picture's packets are copied as they are, so that no frame is lost or moved; the sound is
 * encoded. `offset` says where on the sound's time axis the picture begins: when that is before 0, the movie begins with it and the sound
 * comes later. Throws DataError that names the file.
 */
export async function makeMovie(
  video: Blob,
  what: string,
  sound: Audio,
  offset: number,
  progress: (share: number) => boolean,
): Promise<Movie> {
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(video) });
  try {
    const track = await input.getPrimaryVideoTrack();
    if (!track?.codec) throw new DataError(`${what} holds no picture that can be copied.`);
    const format = containerFor(track.codec);
    const { sampleRate } = sound;
    const codec = await getFirstEncodableAudioCodec(
      wantedCodecs.filter((candidate) => format.getSupportedAudioCodecs().includes(candidate)),
      { numberOfChannels: 2, sampleRate, bitrate: audioBitRate },
    );
    if (!codec) throw new DataError(`This browser cannot encode sound for a ${format.fileExtension} file.`);
    const target = new BufferTarget();
    const output = new Output({ format, target });
    const pictures = new EncodedVideoPacketSource(track.codec);
    const sounds = new AudioSampleSource({ codec, bitrate: audioBitRate });
    output.addVideoTrack(pictures, { rotation: track.rotation });
    // A sound without a clip has nothing to encode.
    const heard = frameCount(sound) > 0;
    if (heard) output.addAudioTrack(sounds);
    await output.start();
    const duration = Math.max(0.001, await track.computeDuration());
    const decoderConfig = (await track.getDecoderConfig()) ?? undefined;
    const copyPicture = async (): Promise<void> => {
      for await (const packet of new EncodedPacketSink(track).packets()) {
        await pictures.add(packet.clone({ timestamp: packet.timestamp + Math.max(0, offset) }), decoderConfig && { decoderConfig });
        if (!progress(Math.min(0.99, Math.max(0, packet.timestamp) / duration))) throw new DataError('Cancelled.');
      }
      pictures.close();
    };
    const encodeSound = async (): Promise<void> => {
      if (!heard) return;
      for (const sample of samplesOf(sound, Math.max(0, -offset))) {
        await sounds.add(sample);
        sample.close();
      }
      sounds.close();
    };
    await Promise.all([copyPicture(), encodeSound()]);
    await output.finalize();
    if (!target.buffer) throw new DataError(`The movie of ${what} could not be put together.`);
    return { bytes: new Uint8Array(target.buffer), ending: format.fileExtension, type: format.mimeType };
  } catch (error) {
    if (error instanceof DataError) throw error;
    throw new DataError(`The movie of ${what} could not be made: ${error instanceof Error ? error.message : String(error)}`, {
      cause: error,
    });
  } finally {
    input.dispose();
  }
}

/** WebM and MP4 play nearly everywhere; what fits neither goes into Matroska. */
function containerFor(codec: string): OutputFormat {
  if (['vp8', 'vp9', 'av1'].includes(codec)) return new WebMOutputFormat();
  return ['avc', 'hevc'].includes(codec) ? new Mp4OutputFormat() : new MkvOutputFormat();
}

/** The sound in portions, behind as much silence as it comes later. */
function* samplesOf({ sampleRate, channels }: Audio, silence: number): Generator<AudioSample> {
  const lead = Math.round(silence * sampleRate);
  const frames = frameCount({ sampleRate, channels }) + lead;
  for (let from = 0; from < frames; from += portion) {
    const count = Math.min(portion, frames - from);
    const data = new Float32Array(count * 2);
    channels.slice(0, 2).forEach((channel, c) => {
      for (let i = Math.max(0, lead - from); i < count; i++) data[c * count + i] = channel[from + i - lead]!;
    });
    yield new AudioSample({ data, format: 'f32-planar', numberOfChannels: 2, sampleRate, timestamp: from / sampleRate });
  }
}
