import { fileURLToPath } from 'node:url';
import * as z from 'zod';
import { listenOnFreePort, stopGracefully } from './listen';
import { createServer } from './server';

const settings = z
  .object({ PORT: z.coerce.number().int().min(1).max(65_000).default(4860), HOST: z.string().min(1).default('127.0.0.1') })
  .safeParse({ PORT: process.env['PORT'], HOST: process.env['HOST'] });

if (!settings.success) {
  console.error(`PORT must be a number from 1 to 65000, not “${process.env['PORT'] ?? ''}”.`);
  process.exit(2);
}

try {
  const root = fileURLToPath(new URL('../../', import.meta.url));
  const server = await createServer({ application: `${root}web/dist/browser`, demo: `${root}dist/halda-station.choir` });
  const address = await listenOnFreePort(server, settings.data.HOST, settings.data.PORT);
  stopGracefully(server);
  console.log(`Tangled Choir listens on ${address}`);
  console.log(`Open ${address}/demo for the Halda Station project. Ctrl+C stops.`);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
}
