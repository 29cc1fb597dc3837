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

export function addSecurityHeaders(server: FastifyInstance): void {
  server.addHook('onSend', async (_request, reply) => {
    reply.header('Cross-Origin-Opener-Policy', 'same-origin');
    reply.header('Cross-Origin-Embedder-Policy', 'require-corp');
    reply.header('Cross-Origin-Resource-Policy', 'same-origin');
    reply.header('X-Content-Type-Options', 'nosniff');
    reply.header('Referrer-Policy', 'no-referrer');
    if (!reply.hasHeader('Content-Security-Policy')) reply.header('Content-Security-Policy', contentSecurityPolicy(undefined));
  });
}
