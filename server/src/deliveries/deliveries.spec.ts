import { existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { FastifyInstance } from 'fastify';
import { createServer } from '../server';
import type { DeliveryStatus } from './delivery-queue';
import { DeliveryQueue } from './delivery-queue';

/** Does what the archive says, in place of rendering it. The command line itself is tried in the browser tests. */
const choir = `
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
const [, , , archive, , out, , ...more] = process.argv;
const [what, gate] = readFileSync(archive, 'utf8').split(' ');
const say = (line) => process.stdout.write(JSON.stringify(line) + '\\n');
say({ done: 0, of: 2 });
while (gate && !existsSync(gate)) await new Promise((resolve) => setTimeout(resolve, 10));
if (what === 'bad') { process.stderr.write(archive + ' is not a project.\\n'); process.exit(2); }
if (what === 'die') process.kill(process.pid, 'SIGKILL');
if (what === 'hang') await new Promise(() => setInterval(() => undefined, 1000));
say({ done: 2, of: 2 });
writeFileSync(out, 'zip of ' + more.join('+'));
say({ checked: 2, written: 5, unchanged: 0, faults: 1, findings: [] });
`;

let folder: string;
let server: FastifyInstance;

async function start(options: { mostWaiting?: number; longest?: number; kept?: number; redis?: string } = {}): Promise<void> {
  folder = mkdtempSync(join(tmpdir(), 'choir-server-'));
  writeFileSync(join(folder, 'index.html'), '<app-root ngCspNonce="__NONCE__"></app-root>');
  writeFileSync(join(folder, 'choir.mjs'), choir);
  const queue = new DeliveryQueue({
    folder: join(folder, 'queue'),
    choir: join(folder, 'choir.mjs'),
    mostWaiting: 2,
    longest: 60_000,
    kept: 60_000,
    memory: 256,
    ...options,
  });
  server = await createServer({ application: folder, deliveries: { queue, mostBytes: 1_000 } });
}

afterEach(async () => {
  await server.close();
  rmSync(folder, { recursive: true });
});

const gate = (): string => join(folder, 'gate');
const open = (): void => writeFileSync(gate(), '');
const send = (payload: string, search = '') =>
  server.inject({ method: 'POST', url: `/api/deliveries${search}`, headers: { 'content-type': 'application/zip' }, payload });
const status = async (id: string): Promise<DeliveryStatus> => (await server.inject(`/api/deliveries/${id}`)).json();

/** Everything that is told of a delivery until it is over. */
async function events(id: string): Promise<DeliveryStatus[]> {
  const { body, headers } = await server.inject(`/api/deliveries/${id}/events`);
  expect(headers['content-type']).toBe('text/event-stream');
  expect(headers['cross-origin-resource-policy']).toBe('same-origin');
  return [...body.matchAll(/^data: (.*)$/gm)].map(([, data]) => JSON.parse(data!) as DeliveryStatus);
}

describe('deliveries on the server', () => {
  it('are taken, told about while they are made, and handed out', async () => {
    await start();
    const sent = await send(`ok ${gate()}`, '?name=Game&name=--out');
    expect(sent.statusCode).toBe(202);
    const { id } = sent.json<DeliveryStatus>();
    expect(sent.headers['location']).toBe(`/api/deliveries/${id}`);
    expect((await server.inject(`/api/deliveries/${id}/result`)).statusCode).toBe(404);
    const told = events(id);
    open();
    const all = await told;
    expect(all.at(-1)).toMatchObject({ state: 'done', done: 2, of: 2, outcome: { written: 5, faults: 1 }, bytes: 43 });
    expect(all.map(({ state }) => state)).not.toContain('failed');
    const result = await server.inject(`/api/deliveries/${id}/result`);
    expect(result.body).toBe('zip of --deliveries=Game+--deliveries=--out');
    expect(readdirSync(join(folder, 'queue'))).toEqual([`${id}.zip`]);
    expect((await server.inject({ method: 'DELETE', url: `/api/deliveries/${id}` })).statusCode).toBe(204);
    expect(readdirSync(join(folder, 'queue'))).toEqual([]);
    expect((await server.inject(`/api/deliveries/${id}`)).statusCode).toBe(404);
  });

  it('run one after the other, and no more may wait than there is room for', async () => {
    await start();
    const [first, second, third] = await Promise.all([1, 2, 3].map(async () => (await send(`ok ${gate()}`)).json<DeliveryStatus>()));
    expect([first!.state, second!.state, third!.state].sort()).toEqual(['running', 'waiting', 'waiting']);
    const refused = await send('ok');
    expect(refused.statusCode).toBe(503);
    expect(refused.headers['retry-after']).toBe('60');
    expect(refused.json()).toEqual({ error: '2 deliveries wait already; try again in a while.' });
    open();
    for (const { id } of [first!, second!, third!]) expect((await events(id)).at(-1)!.state).toBe('done');
  });

  it('can be stopped while they run and while they wait, and the next goes on', async () => {
    await start();
    const running = (await send(`hang ${gate()}`)).json<DeliveryStatus>();
    const waiting = (await send('ok')).json<DeliveryStatus>();
    const last = (await send('ok')).json<DeliveryStatus>();
    const told = events(running.id);
    await server.inject({ method: 'DELETE', url: `/api/deliveries/${waiting.id}` });
    await server.inject({ method: 'DELETE', url: `/api/deliveries/${running.id}` });
    expect((await told).at(-1)!.state).toBe('cancelled');
    expect((await events(last.id)).at(-1)!.state).toBe('done');
  });

  it.each([
    ['bad', 'The project is not a project.'],
    ['die', 'It took more memory than a delivery may, or was stopped from outside.'],
  ])('that go wrong (%s) say why, and take nothing with them', async (what, message) => {
    await start();
    const { id } = (await send(what)).json<DeliveryStatus>();
    expect((await events(id)).at(-1)).toMatchObject({ state: 'failed', message });
    expect((await server.inject(`/api/deliveries/${id}/result`)).json()).toEqual({ error: 'It is not done.' });
    const next = (await send('ok')).json<DeliveryStatus>();
    expect((await events(next.id)).at(-1)!.state).toBe('done');
  });

  it('are stopped when they take too long, and their results are not kept for ever', async () => {
    await start({ longest: 300, kept: 1 });
    const { id } = (await send('hang')).json<DeliveryStatus>();
    expect((await events(id)).at(-1)).toMatchObject({ state: 'failed', message: 'It was stopped after 0 minutes.' });
    while ((await server.inject(`/api/deliveries/${id}`)).statusCode !== 404) await new Promise((resolve) => setTimeout(resolve, 5));
    expect(readdirSync(join(folder, 'queue'))).toEqual([]);
  });

  it('are refused when they are too large, no zip, or ask for nonsense', async () => {
    await start();
    const large = await send('x'.repeat(1_001));
    expect([large.statusCode, large.json()]).toEqual([413, { error: 'The archive is larger than 0 MB.' }]);
    const text = await server.inject({ method: 'POST', url: '/api/deliveries', headers: { 'content-type': 'text/plain' }, payload: 'x' });
    expect(text.statusCode).toBe(415);
    expect((await send('ok', `?name=${'x'.repeat(301)}`)).statusCode).toBe(400);
    for (const id of ['0'.repeat(24), '..%2f..%2fetc', 'x']) expect((await server.inject(`/api/deliveries/${id}`)).statusCode).toBe(404);
    expect(readdirSync(join(folder, 'queue'))).toEqual([]);
    expect((await server.inject('/api/nothing')).statusCode).toBe(404);
    expect((await server.inject('/api/deliveries')).json()).toEqual({ mostBytes: 1_000 });
  });

  it('are left to a farm where there is one', async () => {
    await start({ redis: 'redis://farm' });
    const { id } = (await send('ok', '?name=Game')).json<DeliveryStatus>();
    expect((await events(id)).at(-1)!.state).toBe('done');
    expect((await server.inject(`/api/deliveries/${id}/result`)).body).toBe('zip of --redis+redis://farm+--deliveries=Game');
  });

  it('end with the server, with all their files', async () => {
    await start();
    const { id } = (await send(`hang ${gate()}`)).json<DeliveryStatus>();
    expect((await status(id)).state).toBe('running');
    await server.close();
    expect(existsSync(join(folder, 'queue'))).toBe(false);
  });
});
