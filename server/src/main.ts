import { fileURLToPath } from 'node:url';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as z from 'zod';
import { DeliveryQueue } from './deliveries/delivery-queue';
import { listenOnFreePort, stopGracefully } from './listen';
import { createServer } from './server';

const settings = z
  .object({
    DELIVERY_MEGABYTES: z.coerce.number().int().min(1).max(16_384).default(1_024),
    DELIVERY_MINUTES: z.coerce.number().min(0.1).max(1_440).default(60),
    PORT: z.coerce.number().int().min(1).max(65_000).default(4860),
    HOST: z.string().min(1).default('127.0.0.1'),
    REDIS_URL: z
      .string()
      .regex(/^rediss?:\/\/\S+$/, 'an address begins with redis://')
      .optional(),
  })
  .safeParse({
    PORT: process.env['PORT'],
    HOST: process.env['HOST'],
    REDIS_URL: process.env['REDIS_URL'],
    DELIVERY_MEGABYTES: process.env['DELIVERY_MEGABYTES'],
    DELIVERY_MINUTES: process.env['DELIVERY_MINUTES'],
  });

if (!settings.success) {
  const [issue] = settings.error.issues;
  const name = String(issue?.path[0]);
  console.error(`${name}: “${process.env[name] ?? ''}” does not fit: ${issue?.message}.`);
  process.exit(2);
}

try {
  const root = fileURLToPath(new URL('../../', import.meta.url));
  const { DELIVERY_MEGABYTES, DELIVERY_MINUTES, REDIS_URL } = settings.data;
  const queue = new DeliveryQueue({
    folder: join(tmpdir(), `tangled-choir-${process.pid}`),
    choir: `${root}cli/dist/choir.mjs`,
    ...(REDIS_URL !== undefined && { redis: REDIS_URL }),
    mostWaiting: 8,
    longest: DELIVERY_MINUTES * 60_000,
    kept: 60 * 60_000,
    memory: 4_096,
  });
  const server = await createServer({
    application: `${root}web/dist/browser`,
    demo: `${root}dist/halda-station.choir`,
    deliveries: { queue, mostBytes: DELIVERY_MEGABYTES * 2 ** 20 },
  });
  const address = await listenOnFreePort(server, settings.data.HOST, settings.data.PORT);
  stopGracefully(server);
  console.log(`Tangled Choir listens on ${address}`);
  console.log(`Open ${address}/demo for the Halda Station project. Ctrl+C stops.`);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
}
