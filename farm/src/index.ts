/** Renders on many machines: whoever delivers puts files into a queue in Redis, and workers anywhere take them out. */
export { FarmJobs } from './farm-jobs';
export type { FarmWorker } from './farm-worker';
export { startFarmWorker } from './farm-worker';
