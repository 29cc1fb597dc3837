/** Lists what the service worker keeps, so that the application works away from its server: the application itself and the demo project. */
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

const require = createRequire(import.meta.url);
const worker = dirname(require.resolve('@angular/service-worker/package.json'));

/**
 * @param root of the repository
 * @param application folder of the built application, from there
 */
export function listOfflineCopy(root, application) {
  const folder = join(root, application);
  mkdirSync(join(folder, 'demo'), { recursive: true });
  copyFileSync(join(root, 'dist/halda-station.choir'), join(folder, 'demo/halda-station.choir'));
  // It takes paths from where it runs, and no others.
  const { status } = spawnSync(process.execPath, [join(worker, 'ngsw-config.js'), application, 'web/ngsw-config.json'], {
    cwd: root,
    stdio: 'inherit',
  });
  if (status !== 0) throw new Error('What is kept for work away from the server could not be listed.');
  for (const file of ['ngsw-worker.js', 'safety-worker.js']) copyFileSync(join(worker, file), join(folder, file));
}
