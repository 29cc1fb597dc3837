import { ALL_FORMATS, BlobSource, CanvasSink, Input } from 'mediabunny';

/** What a video file is. */
export interface PictureInfo {
  readonly seconds: number;
  readonly width: number;
  readonly height: number;
  readonly framesPerSecond: number;
}

/** A decoded frame and when it is shown, in the picture's own time. */
export interface PictureFrame {
  readonly image: CanvasImageSource;
  readonly time: number;
  readonly duration: number;
}

const thumbnailWidth = 96;
const shownWidth = 640;
/** Frames that are decoded ahead; the sink reuses a few canvases more. */
const poolSize = 8;

/** Decodes a video frame by frame, exactly. Opening rejects with a sentence that names the file. */
export class PictureReader {
  private constructor(
    readonly info: PictureInfo,
    private readonly input: Input,
    private readonly sink: CanvasSink,
    private readonly still: CanvasSink,
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
      const sized = { width: Math.min(shownWidth, track.displayWidth) };
      // The first frame proves that decoding works: some files promise more than they hold.
      const still = new CanvasSink(track, { ...sized, poolSize: 3 });
      if (!(await still.getCanvas(await track.getFirstTimestamp()))) throw new Error(`${what} has no frame that can be decoded.`);
      return new PictureReader(
        info,
        input,
        new CanvasSink(track, { ...sized, poolSize }),
        still,
        new CanvasSink(track, { width: thumbnailWidth }),
      );
    } catch (error) {
      input.dispose();
      const message = error instanceof Error ? error.message : String(error);
      throw new Error(message.startsWith(what) ? message : `${what} cannot be decoded: ${message}`, { cause: error });
    }
  }

  /** The frame that is shown at `time`. */
  async frameAt(time: number): Promise<PictureFrame | undefined> {
    const found = await this.still.getCanvas(time);
    return found ? { image: found.canvas, time: found.timestamp, duration: found.duration } : undefined;
  }

  async thumbnailAt(time: number): Promise<CanvasImageSource | undefined> {
    return (await this.thumbnails.getCanvas(time))?.canvas;
  }

  /** The frames from the one shown at `time` on; an image is valid until five more have been taken. */
  async *framesFrom(time: number): AsyncGenerator<PictureFrame, void, undefined> {
    for await (const { canvas, timestamp, duration } of this.sink.canvases(time)) yield { image: canvas, time: timestamp, duration };
  }

  close(): void {
    this.input.dispose();
  }
}
