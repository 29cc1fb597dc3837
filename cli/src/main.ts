import { createNodePool } from '@tangled-choir/jobs/node';
import { run } from './run';

// Whoever reads what is printed may have enough of it.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit();
});

// Beside this file, once both are bundled.
const worker = new URL('./jobs.worker.mjs', import.meta.url);

process.exitCode = await run(process.argv.slice(2), (workers) => createNodePool(worker, workers));
