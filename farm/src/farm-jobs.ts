import { usedSources } from '@tangled-choir/core';
import type { JobInput, JobName, JobOptions, JobOutput, WorkerPool } from '@tangled-choir/jobs';
import { JobCancelled, JobRefused } from '@tangled-choir/jobs';
import { Queue } from 'bullmq';
import type { Redis } from 'ioredis';
import { audioKey, audioSeconds, firstContact, prefix, queueName, resultKey, resultSeconds } from './connection';
import type { FarmedInput, FarmedOutput, FarmMessage } from './farm-message';
import { packWork, soundsOf, unpackResult } from './farm-message';

/** Milliseconds between two looks for a result. */
const pause = 100;
/** Every so many looks the queue itself is asked: a job may have failed, or be lost. */
const looksBetween = 10;
/** A file is tried again when it fails for a reason that may go away; a worker that dies counts apart. */
const attempts = 3;

/** Does the files of a delivery on the workers of a farm, and everything else in a pool of its own. */
export class FarmJobs implements Pick<WorkerPool, 'run'> {
  private constructor(
    private readonly redis: Redis,
    private readonly queue: Queue<FarmMessage>,
    private readonly local: Pick<WorkerPool, 'run'>,
    /** WAV files by hash. */
    private readonly audio: ReadonlyMap<string, Uint8Array>,
  ) {}

  /** Rejects with Error where nothing answers at `url`. */
  static async connect(url: string, local: Pick<WorkerPool, 'run'>, audio: ReadonlyMap<string, Uint8Array>): Promise<FarmJobs> {
    const redis = await firstContact(url);
    const queue = new Queue<FarmMessage>(queueName, { connection: redis, prefix });
    queue.on('error', () => undefined);
    return new FarmJobs(redis, queue, local, audio);
  }

  /** Rejects with JobCancelled, JobRefused or Error, as a pool does. */
  run<N extends JobName>(name: N, input: JobInput<N>, label: string, options: JobOptions<N> = {}): Promise<JobOutput<N>> {
    // All but the files themselves is small, and done where it is wanted.
    if (name !== 'deliver') return this.local.run(name, input, label, options);
    const { audio: _audio, treated: _treated, ...work } = input as JobInput<'deliver'>;
    // The name and its output belong together; the compiler cannot follow that through a queue.
    return this.fetch(work, options.signal) as Promise<JobOutput<N>>;
  }

  async close(): Promise<void> {
    await this.queue.close();
    this.redis.disconnect();
  }

  private async fetch(work: FarmedInput, signal: AbortSignal | undefined): Promise<FarmedOutput> {
    const hashes = this.hashesOf(work);
    const { id, message } = packWork(work, hashes);
    for (let look = 0; ; look++) {
      if (signal?.aborted) {
        await this.queue.remove(id).catch(() => undefined);
        throw new JobCancelled('Cancelled.');
      }
      const result = await this.redis.getBuffer(resultKey(id));
      if (result) return unpackResult(result);
      if (look % looksBetween === 0) await this.see(id, message);
      await new Promise((resolve) => setTimeout(resolve, pause));
    }
  }

  /** Sees to it that a job is in the queue: it may be new, or a Redis may have come back without it. Throws JobRefused where it failed for good. */
  private async see(id: string, message: FarmMessage): Promise<void> {
    const job = await this.queue.getJob(id);
    const state = job ? await job.getState() : 'unknown';
    if (state === 'failed') {
      const reason = job?.failedReason ?? 'A worker failed.';
      await job?.remove();
      throw new JobRefused(reason);
    }
    // What is done and has lost its result is done again.
    if (state === 'completed' && !(await this.redis.exists(resultKey(id)))) await job?.remove();
    else if (state !== 'unknown') return;
    await this.offer(message.audio);
    await this.queue.add('file', message, {
      jobId: id,
      attempts,
      removeOnComplete: { age: resultSeconds },
      removeOnFail: { age: resultSeconds },
    });
  }

  /** Puts recordings where workers find them. */
  private async offer(hashes: readonly string[]): Promise<void> {
    for (const hash of hashes) {
      if (await this.redis.expire(audioKey(hash), audioSeconds)) continue;
      const wav = this.audio.get(hash);
      if (wav) await this.redis.set(audioKey(hash), Buffer.from(wav.buffer, wav.byteOffset, wav.byteLength), 'EX', audioSeconds);
    }
  }

  private hashesOf({ item, project }: FarmedInput): string[] {
    const used = new Set(soundsOf(item).flatMap((sound) => [...usedSources(sound)]));
    const hashes = project.sources.filter(({ id }) => used.has(id)).map(({ audio }) => audio);
    return [...new Set(hashes)].filter((hash) => this.audio.has(hash)).sort();
  }
}
