import { createReadStream, createWriteStream, rmSync } from 'node:fs';
import { PassThrough, Transform } from 'node:stream';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { FastifyInstance, FastifyReply } from 'fastify';
import * as z from 'zod';
import type { DeliveryQueue, DeliveryStatus } from './delivery-queue';
import { QueueFull } from './delivery-queue';

/** A connection without a word for this long looks dead to what lies between. */
const heartbeat = 10_000;
const over = new Set<DeliveryStatus['state']>(['done', 'failed', 'cancelled']);

const query = z.object({
  /** Names of deliveries; several by naming the word again. */
  name: z.union([z.string().min(1).max(300), z.array(z.string().min(1).max(300)).max(100)]).optional(),
});
const address = z.object({ id: z.string().regex(/^[0-9a-f]{24}$/) });

class TooLarge extends Error {}

/**
 * Deliveries as jobs: `POST /api/deliveries` takes a `.choir` archive, `GET` of its address tells how far it is, `…/events` tells it as server-sent
 * events, `…/result` is the zip, `DELETE` stops and forgets. Only pages of this server can use them: no other origin is allowed in.
 */
export function addDeliveryRoutes(server: FastifyInstance, queue: DeliveryQueue, mostBytes: number): void {
  server.addContentTypeParser('application/zip', (_request, payload, done) => done(null, payload));
  server.addHook('onClose', async () => queue.close());

  server.get('/api/deliveries', async () => ({ mostBytes }));

  server.post('/api/deliveries', async (request, reply) => {
    const asked = query.safeParse(request.query);
    if (!asked.success) return refuse(reply, 400, 'Names of deliveries are texts of up to 300 characters.');
    if (!isStream(request.body)) return refuse(reply, 415, 'Send a .choir archive as application/zip.');
    if (Number(request.headers['content-length'] ?? 0) > mostBytes) return refuse(reply, 413, tooLarge(mostBytes));
    const { name } = asked.data;
    const { id, archive } = queue.newPlace();
    try {
      queue.checkRoom();
      await pipeline(request.body, atMost(mostBytes), createWriteStream(archive));
      const status = queue.add(id, archive, name === undefined ? [] : [name].flat());
      return await reply.code(202).header('Location', `/api/deliveries/${id}`).send(status);
    } catch (error) {
      rmSync(archive, { force: true });
      if (error instanceof TooLarge) return refuse(reply, 413, tooLarge(mostBytes));
      if (error instanceof QueueFull) return refuse(reply.header('Retry-After', '60'), 503, error.message);
      throw error;
    }
  });

  server.get('/api/deliveries/:id', async ({ params }, reply) => {
    const status = statusOf(queue, params);
    return status ?? refuse(reply, 404, unknown);
  });

  server.get('/api/deliveries/:id/events', async ({ params }, reply) => {
    const status = statusOf(queue, params);
    if (!status) return refuse(reply, 404, unknown);
    const stream = new PassThrough();
    const tell = (now: DeliveryStatus): void => {
      stream.write(`data: ${JSON.stringify(now)}\n\n`);
      if (over.has(now.state)) stream.end();
    };
    const beat = setInterval(() => stream.write(':\n\n'), heartbeat);
    const stop = queue.listen(status.id, tell);
    stream.on('close', () => {
      clearInterval(beat);
      stop();
    });
    tell(status);
    return reply.type('text/event-stream').header('Cache-Control', 'no-store').send(stream);
  });

  server.get('/api/deliveries/:id/result', async ({ params }, reply) => {
    const status = statusOf(queue, params);
    const file = status && queue.result(status.id);
    if (!file) return refuse(reply, 404, status ? 'It is not done.' : unknown);
    return reply.type('application/zip').header('Cache-Control', 'no-store').send(createReadStream(file));
  });

  server.delete('/api/deliveries/:id', async ({ params }, reply) => {
    const status = statusOf(queue, params);
    if (!status) return refuse(reply, 404, unknown);
    queue.remove(status.id);
    return reply.code(204).send();
  });
}

const unknown = 'There is no such delivery; results are kept for a while only.';
const tooLarge = (most: number): string => `The archive is larger than ${Math.floor(most / 2 ** 20)} MB.`;

function statusOf(queue: DeliveryQueue, params: unknown): DeliveryStatus | undefined {
  const asked = address.safeParse(params);
  return asked.success ? queue.status(asked.data.id) : undefined;
}

function refuse(reply: FastifyReply, code: number, error: string): FastifyReply {
  return reply.code(code).send({ error });
}

function isStream(body: unknown): body is Readable {
  return typeof body === 'object' && body !== null && 'pipe' in body;
}

/** Passes bytes on up to a limit. */
function atMost(most: number): Transform {
  let count = 0;
  return new Transform({
    transform(piece: Buffer, _encoding, done) {
      count += piece.length;
      done(count > most ? new TooLarge() : null, piece);
    },
  });
}
