/// <reference lib="webworker" />
import { EngineLoop } from './engine-loop';
import type { EngineMessage, EngineReport, PostedMessage } from '../protocol';
import type { RingProgress } from './ring-by-message';
import { RingSender, takeProgress } from './ring-by-message';
import { SoundUnpacker } from './sound-changes';

/** The engine's worker: renders ahead of the playhead into the ring, and never waits for the page. */
const report = (message: EngineReport): void => postMessage(message);
const loop = new EngineLoop(report);

const sounds = new SoundUnpacker();
const unpacked = (data: PostedMessage): EngineMessage =>
  data.type === 'changes' ? { type: 'sound', ...sounds.unpack(data.changes) } : data;

/** Where the ring cannot be shared with the worklet. */
let sender: RingSender | undefined;

addEventListener('message', ({ data }: MessageEvent<PostedMessage>) => {
  if (data.type === 'connect') sender = data.port && senderTo(data.port, data.samples, data.control);
  loop.receive(unpacked(data));
  sender?.send();
  timer ??= setInterval(topUp, 4);
});

function senderTo(port: MessagePort, samples: Float32Array, control: Int32Array): RingSender {
  port.onmessage = ({ data }: MessageEvent<RingProgress>) => takeProgress(control, data);
  return new RingSender(samples, control, (piece) => port.postMessage(piece, [piece.samples.buffer]));
}

/** Timers in workers are not slowed down; every few milliseconds the ring is topped up, until there is nothing to do. */
let timer: ReturnType<typeof setInterval> | undefined;

function topUp(): void {
  try {
    loop.fill();
    sender?.send();
  } catch (error) {
    loop.receive({ type: 'stop' });
    report({ type: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
  if (!loop.resting) return;
  clearInterval(timer);
  timer = undefined;
}
