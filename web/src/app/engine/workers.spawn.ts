import type { JobAnswer, SpawnWorker } from '@tangled-choir/jobs';
import encodersAddress from '../../generated/encoders.js' with { loader: 'file' };
import type { EncodersMessage } from './jobs.worker';

/** The only place that knows how workers are made; tests put a stub in its place, because `import.meta` needs a bundler. */
export function spawnEngine(): Worker {
  return new Worker(new URL('./live/engine.worker', import.meta.url), { type: 'module', name: 'engine' });
}

export const spawnJobWorker: SpawnWorker = (onAnswer, onFailure) => {
  const worker = new Worker(new URL('./jobs.worker', import.meta.url), { type: 'module', name: 'jobs' });
  // The builder makes addresses of files in pages alone.
  worker.postMessage({ encoders: new URL(encodersAddress, document.baseURI).href } satisfies EncodersMessage);
  worker.onmessage = ({ data }: MessageEvent<JobAnswer>) => onAnswer(data);
  worker.onerror = (event) => onFailure(event.message);
  return { post: (message) => worker.postMessage(message), terminate: () => worker.terminate() };
};
