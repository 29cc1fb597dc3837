/** The only place that knows how workers are made; tests put a stub in its place, because `import.meta` needs a bundler. */
export function spawnEngine(): Worker {
  return new Worker(new URL('./live/engine.worker', import.meta.url), { type: 'module', name: 'engine' });
}

export function spawnJobWorker(): Worker {
  return new Worker(new URL('./jobs.worker', import.meta.url), { type: 'module', name: 'jobs' });
}
