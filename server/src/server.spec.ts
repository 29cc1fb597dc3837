import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import type { FastifyInstance } from 'fastify';
import { listenOnFreePort } from './listen';
import { compressBelow } from '../../scripts/compress.mjs';
import { createServer } from './server';

let folder: string;
let server: FastifyInstance;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'choir-'));
  writeFileSync(join(folder, 'index.html'), '<app-root ngCspNonce="__NONCE__"></app-root>');
  writeFileSync(join(folder, 'main-ABCDEFGH.js'), 'export {};');
  writeFileSync(join(folder, 'demo.choir'), 'zip');
  server = await createServer({ application: folder, demo: join(folder, 'demo.choir') });
});

afterAll(async () => {
  await server.close();
  rmSync(folder, { recursive: true });
});

describe('the server', () => {
  it('isolates the page and allows nothing from elsewhere', async () => {
    const { headers } = await server.inject('/');
    expect(headers['cross-origin-opener-policy']).toBe('same-origin');
    expect(headers['cross-origin-embedder-policy']).toBe('require-corp');
    expect(headers['cross-origin-resource-policy']).toBe('same-origin');
    expect(headers['content-security-policy']).toContain("default-src 'none'");
    expect(headers['content-security-policy']).not.toContain('unsafe-inline');
  });

  it('gives every page a nonce of its own that its policy names', async () => {
    const nonces = await Promise.all(
      ['/', '/'].map(async (url) => {
        const { body, headers } = await server.inject(url);
        const nonce = /ngCspNonce="([^"]+)"/.exec(body)![1]!;
        expect(headers['content-security-policy']).toContain(`'nonce-${nonce}'`);
        return nonce;
      }),
    );
    expect(nonces[0]).not.toBe(nonces[1]);
  });

  it('gives the service worker the page as it was built, under a policy that lets it work', async () => {
    const { body, headers } = await server.inject('/index.html?ngsw-cache-bust=0.5');
    expect(body).toBe(readFileSync(join(folder, 'index.html'), 'utf8'));
    expect(headers['content-security-policy']).toContain("'nonce-__NONCE__'");
    expect(headers['cross-origin-embedder-policy']).toBe('require-corp');
  });

  it('serves files to be kept, with the same headers', async () => {
    const file = await server.inject('/main-ABCDEFGH.js');
    expect(file.statusCode).toBe(200);
    expect(file.headers['cache-control']).toContain('immutable');
    expect(file.headers['cross-origin-resource-policy']).toBe('same-origin');
  });

  it('hands out compressed copies to whoever takes them, and the file itself to others', async () => {
    const text = 'export const words = "snow ";'.repeat(200);
    writeFileSync(join(folder, 'big-ABCDEFGH.js'), text);
    compressBelow(folder);
    for (const [encoding, open] of [
      ['br', brotliDecompressSync],
      ['gzip', gunzipSync],
    ] as const) {
      const packed = await server.inject({ url: '/big-ABCDEFGH.js', headers: { 'accept-encoding': encoding } });
      expect(packed.headers['content-encoding']).toBe(encoding);
      expect(packed.headers['content-type']).toContain('javascript');
      expect(packed.headers['cache-control']).toContain('immutable');
      expect(packed.headers['vary']).toMatch(/accept-encoding/i);
      expect(packed.rawPayload.length).toBeLessThan(text.length / 10);
      expect(open(packed.rawPayload).toString()).toBe(text);
    }
    const plain = await server.inject('/big-ABCDEFGH.js');
    expect(plain.headers['content-encoding']).toBeUndefined();
    expect(plain.body).toBe(text);
    // What has no copy comes as it is.
    expect((await server.inject({ url: '/main-ABCDEFGH.js', headers: { 'accept-encoding': 'br' } })).body).toBe('export {};');
  });

  it('gives its headers with every answer, to malformed requests too', async () => {
    for (const url of ['/', '/missing.js', '/health', '/%zz', '/main-ABCDEFGH.js']) {
      const { headers } = await server.inject(url);
      expect(headers['permissions-policy']).toContain('microphone=(self)');
      expect(headers['permissions-policy']).toContain('camera=()');
      expect(headers['content-security-policy']).toContain("default-src 'none'");
      expect(headers['x-content-type-options']).toBe('nosniff');
    }
    const other = await createServer({ application: folder });
    const address = new URL(await listenOnFreePort(other, '127.0.0.1', 48_660));
    const answer = await new Promise<string>((resolve, reject) => {
      const socket = connect(Number(address.port), address.hostname, () => socket.write('SNOW and no request\r\n\r\n'));
      let heard = '';
      socket
        .on('data', (data) => (heard += data.toString()))
        .on('end', () => resolve(heard))
        .on('error', reject);
    });
    expect(answer).toMatch(/^HTTP\/1\.1 400 /);
    expect(answer).toContain('Permissions-Policy: microphone=(self)');
    expect(answer).toContain("Content-Security-Policy: default-src 'none'");
    await other.close();
  });

  it.each([
    ['POST', '/', 'GET, HEAD'],
    ['DELETE', '/project/x/loft', 'GET, HEAD'],
    ['PUT', '/main-ABCDEFGH.js', 'GET, HEAD'],
    ['PATCH', '/api/deliveries', 'GET, HEAD, POST'],
    ['POST', '/api/deliveries/7', 'GET, HEAD, DELETE'],
  ] as const)('does not take %s at %s', async (method, url, allow) => {
    const answer = await server.inject({ method, url });
    expect(answer.statusCode).toBe(405);
    expect(answer.headers.allow).toBe(allow);
    expect(answer.json()).toEqual({ error: `${url} takes ${allow.replaceAll(', ', ' or ')}, not ${method}.` });
  });

  it('leads addresses inside the application to its page, and tells of missing files', async () => {
    expect((await server.inject('/project/x/loft')).body).toContain('app-root');
    const missing = await server.inject('/missing.js');
    expect(missing.statusCode).toBe(404);
    expect(missing.json()).toEqual({ error: 'There is nothing at /missing.js.' });
  });

  it('serves the demo and its health', async () => {
    expect((await server.inject('/demo/halda-station.choir')).body).toBe('zip');
    expect((await server.inject('/health')).json()).toEqual({ status: 'ok' });
  });

  it.each(['/../package.json', '/..%2f..%2fetc%2fpasswd', '/%2e%2e/%2e%2e/etc/passwd'])('never leaves its folder for %s', async (url) => {
    const answer = await server.inject(url);
    expect(answer.body).not.toContain('root:');
    expect([200, 400, 403, 404]).toContain(answer.statusCode);
    if (answer.statusCode === 200) expect(answer.body).toContain('app-root');
  });

  it('refuses to start without a built application', async () => {
    await expect(createServer({ application: join(folder, 'nothing') })).rejects.toThrow('Run “npm run build” first');
  });

  it('takes the next port when one is taken', async () => {
    const other = await createServer({ application: folder });
    const first = await listenOnFreePort(server, '127.0.0.1', 48_610);
    const second = await listenOnFreePort(other, '127.0.0.1', 48_610);
    expect(Number(new URL(second).port)).toBeGreaterThan(Number(new URL(first).port) - 1);
    expect(second).not.toBe(first);
    await other.close();
  });
});
