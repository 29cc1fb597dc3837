import type { FastifyInstance } from 'fastify';

const mostAttempts = 20;

/**
 * Listens on `host`, on `port` or the next free one after it. Returns the address. Throws when none of the twenty ports from `port` on is
 * free, or when the host cannot be used.
 */
export async function listenOnFreePort(server: FastifyInstance, host: string, port: number): Promise<string> {
  for (let attempt = 0; attempt < mostAttempts; attempt++) {
    try {
      return await server.listen({ host, port: port + attempt });
    } catch (error) {
      if (!(typeof error === 'object' && error !== null && 'code' in error && error.code === 'EADDRINUSE')) throw error;
    }
  }
  throw new Error(`The ports ${port} to ${port + mostAttempts - 1} are all taken. Set PORT to a free one.`);
}

/** Closes the server when the process is asked to stop, letting answers under way finish. */
export function stopGracefully(server: FastifyInstance): void {
  let stopping = false;
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.on(signal, () => {
      if (stopping) return;
      stopping = true;
      void server.close().then(() => process.exit(0));
    });
  }
}
