import { createSoundLoader, JobRefused, share } from '@tangled-choir/jobs';
import type { SharedAudio, WorkerPool } from '@tangled-choir/jobs';
import { readWav, sourceIdentities } from '@tangled-choir/core';
import { UnrecoverableError, Worker } from 'bullmq';
import type { Redis } from 'ioredis';
import { audioKey, firstContact, prefix, queueName, resultKey, resultSeconds } from './connection';
import type { FarmedOutput, FarmMessage } from './farm-message';
import { packResult, soundsOf, unpackWork } from './farm-message';

/** Milliseconds that a worker holds a job without a word; then it counts as dead, and another takes the job. */
const lock = 10_000;
/** Deaths that a job may bring about, before it is thought to be their reason. */
const mostDeaths = 3;
/** Bytes of decoded recordings that are kept for the next jobs. */
const mostKept = 512 * 2 ** 20;

export interface FarmWorker {
  /** Lets running jobs end, and takes no more. */
  close(): Promise<void>;
}

/** Takes files out of the queue at `url` and renders them in a pool, so many at once. Rejects with Error where nothing answers there. */
export async function startFarmWorker(
  url: string,
  pool: Pick<WorkerPool, 'run'>,
  atOnce: number,
  onDone: (label: string) => void = () => undefined,
): Promise<FarmWorker> {
  const redis = await firstContact(url);
  // The queue waits on a connection of its own.
  const connection = redis.duplicate();
  connection.on('error', () => undefined);
  const recordings = new RecordingCache(redis);
  const worker = new Worker<FarmMessage>(
    queueName,
    async (job) => {
      const { label, output } = await doWork(job.data, pool, recordings);
      await redis.set(resultKey(job.id!), packResult(output), 'EX', resultSeconds);
      onDone(label);
    },
    {
      connection,
      prefix,
      concurrency: atOnce,
      lockDuration: lock,
      stalledInterval: lock / 2,
      maxStalledCount: mostDeaths,
    },
  );
  worker.on('error', () => undefined);
  return {
    async close() {
      await worker.close();
      connection.disconnect();
      redis.disconnect();
    },
  };
}

async function doWork(
  message: FarmMessage,
  pool: Pick<WorkerPool, 'run'>,
  recordings: RecordingCache,
): Promise<{ readonly label: string; readonly output: FarmedOutput }> {
  const work = unpackWork(message);
  const { item, project } = work;
  const audio = await recordings.load(message.audio);
  try {
    const loaded = await createSoundLoader(pool, sourceIdentities(project.sources), audio)(soundsOf(item));
    return { label: item.file, output: await pool.run('deliver', { ...work, ...loaded }, item.file) };
  } catch (error) {
    // Another try would be refused as well.
    if (error instanceof JobRefused) throw new UnrecoverableError(error.message);
    throw error;
  }
}

/** Decoded recordings by hash; those that were not used for longest go first. */
class RecordingCache {
  private readonly kept = new Map<string, SharedAudio>();

  constructor(private readonly redis: Redis) {}

  async load(hashes: readonly string[]): Promise<ReadonlyMap<string, SharedAudio>> {
    const audio = new Map<string, SharedAudio>();
    for (const hash of hashes) audio.set(hash, await this.one(hash));
    return audio;
  }

  private async one(hash: string): Promise<SharedAudio> {
    const known = this.kept.get(hash);
    const audio = known ?? (await this.fetch(hash));
    this.kept.delete(hash);
    this.kept.set(hash, audio);
    for (const oldest of [...this.kept.keys()]) {
      if (this.bytes() <= mostKept || oldest === hash) break;
      this.kept.delete(oldest);
    }
    return audio;
  }

  private async fetch(hash: string): Promise<SharedAudio> {
    const wav = await this.redis.getBuffer(audioKey(hash));
    if (!wav) throw new Error('A recording is not there any more.');
    return share(readWav(new Uint8Array(wav), hash).audio);
  }

  private bytes(): number {
    let sum = 0;
    for (const { channels } of this.kept.values()) for (const channel of channels) sum += channel.byteLength;
    return sum;
  }
}
