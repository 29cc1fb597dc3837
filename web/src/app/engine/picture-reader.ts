import type { VideoSample } from 'mediabunny';
import { ALL_FORMATS, BlobSource, CanvasSink, Input, VideoSampleSink } from 'mediabunny';

/** What a video file is. */
export interface PictureInfo {
  readonly seconds: number;
  readonly width: number;
  readonly height: number;
  readonly framesPerSecond: number;
}

/** A decoded frame and when it is shown, in the picture's own time. Its memory is held until it is closed. */
export interface PictureFrame {
  readonly time: number;
  readonly duration: number;
  draw(context: CanvasRenderingContext2D, width: number, height: number): void;
  close(): void;
}

const thumbnailWidth = 96;

/** Decodes a video frame by frame, exactly. Opening rejects with a sentence that names the file. */
export class PictureReader {
  private constructor(
    readonly info: PictureInfo,
    private readonly input: Input,
    private readonly frames: VideoSampleSink,
    private readonly thumbnails: CanvasSink,
  ) {}

  static async open(video: Blob, what: string): Promise<PictureReader> {
    const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(video) });
    try {
      if (!(await input.canRead())) throw new Error(`${what} is in no video format that can be read.`);
      const track = await input.getPrimaryVideoTrack();
      if (!track) throw new Error(`${what} holds no picture.`);
      if (!(await track.canDecode()))
        throw new Error(
          `${what} is encoded as ${track.codec ?? 'an unknown codec'}, which this browser cannot decode. WebM and MP4 with H.264 work.`,
        );
      const [seconds, stats] = await Promise.all([track.computeDuration(), track.computePacketStats(200)]);
      const info = {
        seconds,
        width: track.displayWidth,
        height: track.displayHeight,
        framesPerSecond: stats.averagePacketRate,
      };
      // The first frame proves that decoding works: some files promise more than they hold.
      const frames = new VideoSampleSink(track);
      const first = await frames.getSample(await track.getFirstTimestamp());
      if (!first) throw new Error(`${what} has no frame that can be decoded.`);
      first.close();
      return new PictureReader(info, input, frames, new CanvasSink(track, { width: thumbnailWidth }));
    } catch (error) {
      input.dispose();
      const message = error instanceof Error ? error.message : String(error);
      throw new Error(message.startsWith(what) ? message : `${what} cannot be decoded: ${message}`, { cause: error });
    }
  }

  /** The frame that is shown at `time`. */
  async frameAt(time: number): Promise<PictureFrame | undefined> {
    const sample = await this.frames.getSample(time);
    return sample ? frameOf(sample) : undefined;
  }

  /** The frames that are shown at rising times, small; what lies between two of them is decoded once at most. */
  async *thumbnailsAt(times: readonly number[]): AsyncGenerator<CanvasImageSource | undefined, void, undefined> {
    for await (const wrapped of this.thumbnails.canvasesAtTimestamps(times)) yield wrapped?.canvas;
  }

  /** The frames from the one shown at `time` on. */
  async *framesFrom(time: number): AsyncGenerator<PictureFrame, void, undefined> {
    for await (const sample of this.frames.samples(time)) yield frameOf(sample);
  }

  /** When its own sound begins, in the picture's time; undefined when it has none. */
  async soundStart(): Promise<number | undefined> {
    const track = await this.input.getPrimaryAudioTrack();
    return track ? Math.max(0, await track.getFirstTimestamp()) : undefined;
  }

  close(): void {
    this.input.dispose();
  }
}

function frameOf(sample: VideoSample): PictureFrame {
  return {
    time: sample.timestamp,
    duration: sample.duration,
    draw: (context, width, height) => sample.draw(context, 0, 0, width, height),
    close: () => sample.close(),
  };
}
