import type { ServerResponse } from 'node:http';
import type { Socket } from 'node:net';
import type { FastifyInstance } from 'fastify';

/**
 * Headers of every answer. Cross-origin isolation gives the page shared memory between its worker and its audio worklet; the content
 * security policy allows nothing from elsewhere and no inline scripts. Styles that Angular adds at run time carry the page's nonce.
 */
export function contentSecurityPolicy(nonce: string | undefined): string {
  return [
    "default-src 'none'",
    "script-src 'self' 'wasm-unsafe-eval'",
    `style-src 'self'${nonce ? ` 'nonce-${nonce}'` : ''}`,
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "media-src 'self' blob:",
    "worker-src 'self'",
    "manifest-src 'self'",
    "base-uri 'self'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/** What the page may ask a person for: a microphone to record with, and keyboards to play. */
const permissions = [
  ...['microphone', 'midi', 'fullscreen', 'autoplay'].map((feature) => `${feature}=(self)`),
  ...[
    'accelerometer',
    'bluetooth',
    'camera',
    'display-capture',
    'geolocation',
    'gyroscope',
    'hid',
    'magnetometer',
    'payment',
    'serial',
    'usb',
  ].map((feature) => `${feature}=()`),
].join(', ');

const securityHeaders: Readonly<Record<string, string>> = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
  'Permissions-Policy': permissions,
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer',
};

export function addSecurityHeaders(server: FastifyInstance): void {
  server.addHook('onSend', async (_request, reply) => {
    for (const [name, value] of Object.entries(securityHeaders)) reply.header(name, value);
    if (!reply.hasHeader('Content-Security-Policy')) reply.header('Content-Security-Policy', contentSecurityPolicy(undefined));
  });
}

/** Head and body of an answer that comes from no route, and to which therefore no hook comes. */
function refusal(error: string): { readonly headers: Readonly<Record<string, string>>; readonly body: string } {
  const body = JSON.stringify({ error });
  const headers = {
    ...securityHeaders,
    'Content-Security-Policy': contentSecurityPolicy(undefined),
    'Content-Type': 'application/json; charset=utf-8',
    'Content-Length': String(body.length),
  };
  return { headers, body };
}

/** Answers a request for an address that cannot be understood. */
export function refuseAddress(response: ServerResponse): void {
  const { headers, body } = refusal('This address cannot be understood.');
  response.writeHead(400, headers).end(body);
}

/** Answers what is no request at all, with the same headers, and hangs up. */
export function refuseMalformed(error: NodeJS.ErrnoException, socket: Socket): void {
  // Who has hung up already hears nothing.
  if (error.code === 'ECONNRESET' || !socket.writable) {
    socket.destroy();
    return;
  }
  const status = error.code === 'HPE_HEADER_OVERFLOW' ? '431 Request Header Fields Too Large' : '400 Bad Request';
  const { headers, body } = refusal('This is no request that can be understood.');
  const lines = Object.entries({ ...headers, Connection: 'close' }).map(([name, value]) => `${name}: ${value}`);
  socket.end([`HTTP/1.1 ${status}`, ...lines, '', body].join('\r\n'));
}
