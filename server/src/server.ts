import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fastifyStatic from '@fastify/static';
import type { FastifyInstance } from 'fastify';
import Fastify from 'fastify';
import type { DeliveryQueue } from './deliveries/delivery-queue';
import { addDeliveryRoutes } from './deliveries/delivery-routes';
import { addSecurityHeaders, contentSecurityPolicy, refuseAddress, refuseMalformed } from './security';

export interface ServerOptions {
  /** Folder of the built application, with its index.html. */
  readonly application: string;
  /** File of the demo project, served as /demo/halda-station.choir when it exists. */
  readonly demo?: string;
  /** Renders deliveries that pages send; left out, none are taken. */
  readonly deliveries?: { readonly queue: DeliveryQueue; readonly mostBytes: number };
}

const hashedFile = /-[A-Z0-9]{8}\.(js|css|woff2|svg)(\.(br|gz))?$/;
/** Milliseconds that a request may take to arrive: an archive of a project is large. */
const longestRequest = 600_000;
const nonceMark = '__NONCE__';
/** What the service worker asks with for the files that it keeps, exactly as the build has made them. */
const forKeeping = 'ngsw-cache-bust';

/** The methods that an address takes: everything is read, and only deliveries are sent and given up. */
function allowedAt(path: string): readonly string[] {
  if (path === '/api/deliveries') return ['GET', 'HEAD', 'POST'];
  return /^\/api\/deliveries\/[^/]+$/.test(path) ? ['GET', 'HEAD', 'DELETE'] : ['GET', 'HEAD'];
}

/** Makes the server; it listens only when told to. Paths that a request names are looked up in the built application alone. */
export async function createServer({ application, demo, deliveries }: ServerOptions): Promise<FastifyInstance> {
  const indexFile = join(application, 'index.html');
  if (!existsSync(indexFile)) throw new Error(`There is no built application in ${application}. Run “npm run build” first.`);
  const index = readFileSync(indexFile, 'utf8');
  const server = Fastify({
    bodyLimit: 1024,
    connectionTimeout: 30_000,
    requestTimeout: longestRequest,
    forceCloseConnections: true,
    clientErrorHandler: refuseMalformed,
    // An address that cannot be understood comes to no hook.
    frameworkErrors: (_error, _request, { raw }) => refuseAddress(raw),
  });
  addSecurityHeaders(server);

  if (deliveries) addDeliveryRoutes(server, deliveries.queue, deliveries.mostBytes);

  server.get('/health', async () => ({ status: 'ok' }));

  const sendIndex = async (
    request: { readonly query: unknown },
    reply: { header(name: string, value: string): unknown; type(type: string): { send(text: string): unknown } },
  ): Promise<unknown> => {
    // A page that is kept is the same for all who keep it; all others get a nonce of their own.
    const isKept = typeof request.query === 'object' && request.query !== null && forKeeping in request.query;
    const nonce = isKept ? nonceMark : randomBytes(16).toString('base64');
    reply.header('Content-Security-Policy', contentSecurityPolicy(nonce));
    reply.header('Cache-Control', 'no-store');
    return reply.type('text/html; charset=utf-8').send(index.replaceAll(nonceMark, nonce));
  };
  server.get('/', sendIndex);
  server.get('/index.html', sendIndex);

  if (demo && existsSync(demo)) {
    const archive = readFileSync(demo);
    server.get('/demo/halda-station.choir', async (_request, reply) =>
      reply.type('application/zip').header('Cache-Control', 'no-cache').send(archive),
    );
  }

  await server.register(fastifyStatic, {
    root: application,
    index: false,
    // The build puts compressed copies beside its files.
    preCompressed: true,
    setHeaders: (reply, path) => {
      void reply.header('Cache-Control', hashedFile.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache');
    },
  });

  // Addresses inside the application all lead to its page; missing files stay missing.
  server.setNotFoundHandler((request, reply) => {
    const path = request.url.split('?')[0] ?? '';
    const allowed = allowedAt(path);
    if (!allowed.includes(request.method)) {
      return reply
        .code(405)
        .header('Allow', allowed.join(', '))
        .send({ error: `${path} takes ${allowed.join(' or ')}, not ${request.method}.` });
    }
    const isPage = request.method === 'GET' && !/\.[a-z0-9]+$/i.test(path) && !path.startsWith('/demo/') && !path.startsWith('/api/');
    if (isPage) return sendIndex(request, reply);
    return reply.code(404).send({ error: `There is nothing at ${path}.` });
  });
  return server;
}
