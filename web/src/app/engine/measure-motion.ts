import type { MotionTrack } from '@tangled-choir/core';
import { DataError, lumaHeight, lumaWidth, MotionMeter } from '@tangled-choir/core';
import type { VideoSample } from 'mediabunny';
import { ALL_FORMATS, BlobSource, Input, VideoSampleSink } from 'mediabunny';

/** Formats whose first plane is luma, one byte a pixel. */
const lumaFormats: ReadonlySet<string | null> = new Set(['I420', 'I420A', 'I422', 'I422A', 'I444', 'I444A', 'NV12']);

/** Decodes a whole video at a small size and measures how it moves. Throws DataError that names the file. */
export async function measureMotion(video: Blob, what: string, progress: (share: number) => boolean): Promise<MotionTrack> {
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(video) });
  try {
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw new DataError(`${what} holds no picture.`);
    const seconds = Math.max(0.001, await track.computeDuration());
    const reader = new FrameReader(what);
    for await (const sample of new VideoSampleSink(track).samples()) {
      const { timestamp } = sample;
      await reader.add(sample);
      if (!progress(Math.min(1, timestamp / seconds))) throw new DataError('Cancelled.');
    }
    return reader.meter.finish();
  } catch (error) {
    if (error instanceof DataError) throw error;
    throw new DataError(`${what} cannot be decoded: ${error instanceof Error ? error.message : String(error)}`);
  } finally {
    input.dispose();
  }
}

/** Reads the brightness of frames: as it was decoded where that can be had, and else by drawing them, which takes several times as long. */
class FrameReader {
  readonly meter = new MotionMeter();
  private bytes = new Uint8Array(0);
  private context: OffscreenCanvasRenderingContext2D | undefined;

  constructor(private readonly what: string) {}

  async add(sample: VideoSample): Promise<void> {
    try {
      if (lumaFormats.has(sample.format)) await this.addPlane(sample);
      else this.draw(sample);
    } finally {
      sample.close();
    }
  }

  private async addPlane(sample: VideoSample): Promise<void> {
    const size = sample.allocationSize();
    if (this.bytes.length < size) this.bytes = new Uint8Array(size);
    const [plane] = await sample.copyTo(this.bytes);
    if (!plane) throw new DataError(`${this.what} cannot be looked at: a frame is empty.`);
    const { width, height } = sample.visibleRect;
    const [black, white] = sample.colorSpace.fullRange ? [0, 255] : [16, 235];
    this.meter.addLuma(sample.timestamp, { bytes: this.bytes.subarray(plane.offset), width, height, stride: plane.stride, black, white });
  }

  private draw(sample: VideoSample): void {
    this.context ??= new OffscreenCanvas(lumaWidth, lumaHeight).getContext('2d', { willReadFrequently: true }) ?? undefined;
    if (!this.context) throw new DataError(`${this.what} cannot be looked at: there is no canvas.`);
    sample.draw(this.context, 0, 0, lumaWidth, lumaHeight);
    this.meter.add(sample.timestamp, this.context.getImageData(0, 0, lumaWidth, lumaHeight).data);
  }
}
