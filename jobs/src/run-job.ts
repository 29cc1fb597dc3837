import { Cancelled, DataError, UnknownFormat } from '@tangled-choir/core';
import type { Codecs, Job } from './job';
import type { JobName } from './registry';
import { jobs } from './registry';

/** A job on its way to a worker. */
export interface JobMessage {
  readonly id: number;
  readonly name: JobName;
  readonly input: unknown;
  /** Shared flag that turns 1 when the job is no longer wanted. */
  readonly cancel: Int32Array | undefined;
}

/** Why a job failed: a format that is not known, anything else a person can do something about, or a fault of ours. */
export type FailureKind = 'unknown format' | 'refused' | 'fault';

export type JobAnswer =
  | { readonly id: number; readonly type: 'progress'; readonly share: number }
  | { readonly id: number; readonly type: 'news'; readonly news: unknown }
  | { readonly id: number; readonly type: 'done'; readonly output: unknown }
  | { readonly id: number; readonly type: 'failed'; readonly message: string; readonly why: FailureKind };

/** Milliseconds between two reports of progress: more would keep whoever shows them busier than the work itself. */
const progressEvery = 50;

/** Does one job and answers with its output or with a sentence about what went wrong. */
export async function runJob(
  { id, name, input, cancel }: JobMessage,
  answer: (message: JobAnswer, movable: ArrayBuffer[]) => void,
  codecs: Codecs,
): Promise<void> {
  let told = -Infinity;
  const progress = (share: number): boolean => {
    const now = performance.now();
    if (now - told >= progressEvery || share >= 1) {
      told = now;
      answer({ id, type: 'progress', share }, []);
    }
    return !cancel || Atomics.load(cancel, 0) === 0;
  };
  try {
    // The pool has tied the name to its input; the compiler cannot follow that through a message.
    const job = jobs[name] as unknown as Job<unknown, unknown, unknown>;
    const output = await job.run(input, { progress, show: (news) => answer({ id, type: 'news', news }, []), codecs });
    answer({ id, type: 'done', output }, job.movable?.(output) ?? []);
  } catch (error) {
    const refused = error instanceof DataError || error instanceof Cancelled || error instanceof RangeError;
    const why = error instanceof UnknownFormat ? 'unknown format' : refused ? 'refused' : 'fault';
    answer({ id, type: 'failed', message: error instanceof Error ? error.message : String(error), why }, []);
  }
}
