import { Redis } from 'ioredis';

/** Everything of ours in a Redis begins so. */
export const prefix = 'tangled-choir';
export const queueName = 'files';
export const audioKey = (hash: string): string => `${prefix}:audio:${hash}`;
export const resultKey = (id: string): string => `${prefix}:result:${id}`;

/** Seconds that recordings and results lie there: a night’s work, and time to come back to it. */
export const audioSeconds = 24 * 3_600;
export const resultSeconds = 6 * 3_600;

const longestPause = 2_000;

/** Connects, and keeps trying where the connection breaks: what is asked meanwhile is answered when it is back. */
export function connect(url: string): Redis {
  const redis = new Redis(url, {
    // The queue waits for answers as long as it takes.
    maxRetriesPerRequest: null,
    retryStrategy: (times) => Math.min(longestPause, 50 * 2 ** times),
  });
  // Whoever waits sees that nothing comes; an error nobody listens to would end the process.
  redis.on('error', () => undefined);
  return redis;
}

/** Milliseconds that a first answer may take. */
const patience = 5_000;

/** A connection that was heard of at least once. Rejects with Error where none comes about. */
export async function firstContact(url: string): Promise<Redis> {
  const redis = connect(url);
  const refused = new Error(`There is no answer from Redis at ${withoutPassword(url)}.`);
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => (timer = setTimeout(() => reject(refused), patience)));
  try {
    await Promise.race([redis.ping(), late]);
    return redis;
  } catch (error) {
    redis.disconnect();
    throw error === refused || !(error instanceof Error) ? refused : new Error(`${refused.message} It says: ${error.message}`);
  } finally {
    clearTimeout(timer);
  }
}

function withoutPassword(url: string): string {
  return url.replace(/\/\/[^@/]*@/, '//');
}
