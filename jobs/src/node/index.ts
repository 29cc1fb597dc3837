import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { WorkerPool } from '../pool';
import type { JobAnswer } from '../run-job';

/**
 * A pool of worker threads, as many as there are cores unless told otherwise.
 * @param worker where the bundle of `worker.ts` lies
 */
export function createNodePool(worker: URL, size = availableParallelism()): WorkerPool {
  return new WorkerPool((onAnswer, onFailure) => {
    const thread = new Worker(worker);
    thread.on('message', (answer: JobAnswer) => onAnswer(answer));
    thread.on('error', (error) => onFailure(error.message));
    // One that ends without an error has been ended, from here or from outside.
    thread.on('exit', (code) => onFailure(`it ended with code ${code}`));
    return { post: (message) => thread.postMessage(message), terminate: () => void thread.terminate() };
  }, size);
}
