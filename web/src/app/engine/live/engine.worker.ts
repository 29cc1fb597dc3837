/// <reference lib="webworker" />
import { EngineLoop } from './engine-loop';
import type { EngineMessage, EngineReport, PostedMessage } from '../protocol';
import { SoundUnpacker } from './sound-changes';

/** The engine's worker: renders ahead of the playhead into the ring, and never waits for the page. */
const report = (message: EngineReport): void => postMessage(message);
const loop = new EngineLoop(report);

const sounds = new SoundUnpacker();
const unpacked = (data: PostedMessage): EngineMessage =>
  data.type === 'changes' ? { type: 'sound', ...sounds.unpack(data.changes) } : data;

addEventListener('message', ({ data }: MessageEvent<PostedMessage>) => loop.receive(unpacked(data)));

// Timers in workers are not slowed down; every few milliseconds the ring is topped up.
setInterval(() => {
  try {
    loop.fill();
  } catch (error) {
    loop.receive({ type: 'stop' });
    report({ type: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
}, 4);
