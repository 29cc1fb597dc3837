import { BufferTarget, CanvasSource, Output, WebMOutputFormat } from 'mediabunny';
import { drawScene, moments, pictureRate, pictureSize } from '../../demo/src/picture/scene';

/** Draws and encodes the demo picture in a browser; main.mjs runs it and keeps the file. */
export async function encodePicture(): Promise<number[]> {
  const canvas = new OffscreenCanvas(pictureSize.width, pictureSize.height);
  const context = canvas.getContext('2d');
  if (!context) throw new Error('There is no canvas to draw on.');
  const target = new BufferTarget();
  const output = new Output({ format: new WebMOutputFormat(), target });
  const source = new CanvasSource(canvas, { codec: 'vp9', bitrate: 130_000, keyFrameInterval: 2 });
  output.addVideoTrack(source, { frameRate: pictureRate });
  await output.start();
  for (let frame = 0; frame < moments.end * pictureRate; frame++) {
    drawScene(context, frame / pictureRate);
    await source.add(frame / pictureRate, 1 / pictureRate);
  }
  await output.finalize();
  return [...new Uint8Array(target.buffer ?? new ArrayBuffer(0))];
}

Object.assign(globalThis, { encodePicture });
