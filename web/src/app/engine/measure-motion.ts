import type { MotionTrack } from '@tangled-choir/core';
import { DataError, lumaHeight, lumaWidth, MotionMeter } from '@tangled-choir/core';
import { ALL_FORMATS, BlobSource, CanvasSink, Input } from 'mediabunny';

/** Decodes a whole video at a small size and measures how it moves. Throws DataError that names the file. */
export async function measureMotion(video: Blob, what: string, progress: (share: number) => boolean): Promise<MotionTrack> {
  const input = new Input({ formats: ALL_FORMATS, source: new BlobSource(video) });
  try {
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw new DataError(`${what} holds no picture.`);
    const seconds = Math.max(0.001, await track.computeDuration());
    const meter = new MotionMeter();
    const sink = new CanvasSink(track, { width: lumaWidth, height: lumaHeight, fit: 'fill', poolSize: 2 });
    for await (const { canvas, timestamp } of sink.canvases()) {
      const context = canvas.getContext('2d', { willReadFrequently: true });
      if (!context || !('getImageData' in context)) throw new DataError(`${what} cannot be looked at: there is no canvas.`);
      meter.add(timestamp, context.getImageData(0, 0, lumaWidth, lumaHeight).data);
      if (!progress(Math.min(1, timestamp / seconds))) throw new DataError('Cancelled.');
    }
    return meter.finish();
  } catch (error) {
    if (error instanceof DataError) throw error;
    throw new DataError(`${what} cannot be decoded: ${error instanceof Error ? error.message : String(error)}`);
  } finally {
    input.dispose();
  }
}
