import { availableParallelism } from 'node:os';
import { prepareHashing } from '@tangled-choir/core';
import type { WorkerPool } from '@tangled-choir/jobs';
import type { Command } from 'commander';
import { wrongInput } from '../failure';
import type { Output } from '../output';
import { redisOption, wholeNumber } from './options';

const mostWorkers = 64;

export function workerCommand(program: Command, output: Output, createPool: (workers?: number) => WorkerPool): void {
  program
    .command('worker')
    .description('Renders files that others deliver, taken out of a queue in Redis, until it is stopped.')
    .option('--redis <url>', 'where the queue is; otherwise REDIS_URL')
    .option('--workers <n>', 'how many files at the same time; otherwise as many as there are cores')
    .action(async (options: { readonly redis?: string; readonly workers?: string }) => {
      const url = redisOption(options.redis);
      if (url === undefined) throw wrongInput('Which queue? Name a Redis with --redis or REDIS_URL.');
      const workers = options.workers === undefined ? availableParallelism() : wholeNumber('--workers', options.workers, 1, mostWorkers);
      await prepareHashing();
      const { startFarmWorker } = await import('@tangled-choir/farm');
      const pool = createPool(workers);
      const worker = await startFarmWorker(url, pool, workers, (label) => output.out(`${label}\n`));
      output.out(`Waiting for files, ${workers} at a time.\n`);
      await new Promise<void>((resolve) => {
        for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => resolve());
      });
      // What runs is finished; what waits is for others.
      await worker.close();
      pool.close();
    });
}
