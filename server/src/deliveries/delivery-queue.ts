import { spawn } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import * as z from 'zod';

export interface QueueOptions {
  /** Where archives wait and results lie; everything in it is ours. */
  readonly folder: string;
  /** The built command line: each delivery is a process of its own, so that none takes the server with it. */
  readonly choir: string;
  /** Where the workers of a farm find their work; left out, everything is rendered here. */
  readonly redis?: string;
  /** Deliveries that wait at most, beside the one that runs on all cores. */
  readonly mostWaiting: number;
  /** Milliseconds that one may take, and that its result is kept. */
  readonly longest: number;
  readonly kept: number;
  /** Megabytes of memory that one may take. */
  readonly memory: number;
}

export type DeliveryState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';

/** What is told of a delivery. */
export interface DeliveryStatus {
  readonly id: string;
  readonly state: DeliveryState;
  readonly done: number;
  readonly of: number;
  /** Why it failed. */
  readonly message?: string;
  /** Of one that is done. */
  readonly outcome?: Outcome;
  /** Bytes of its zip. */
  readonly bytes?: number;
}

const outcome = z.object({ checked: z.int(), written: z.int(), faults: z.int() });
type Outcome = z.infer<typeof outcome>;
const progress = z.object({ done: z.int(), of: z.int() });

interface Delivery {
  status: DeliveryStatus;
  readonly archive: string;
  readonly result: string;
  readonly names: readonly string[];
  readonly listeners: Set<(status: DeliveryStatus) => void>;
  process?: ChildProcess;
}

/** Refused because too many wait. */
export class QueueFull extends Error {
  override readonly name = 'QueueFull';
}

const mostMessage = 1_000;

/** Renders archives, one after the other, each in a process of its own; what is done is kept for a while. */
export class DeliveryQueue {
  private readonly deliveries = new Map<string, Delivery>();
  private readonly timers = new Set<NodeJS.Timeout>();

  constructor(private readonly options: QueueOptions) {
    rmSync(options.folder, { recursive: true, force: true });
    mkdirSync(options.folder, { recursive: true });
  }

  /** Throws QueueFull where no more may wait. */
  checkRoom(): void {
    const waiting = [...this.deliveries.values()].filter(({ status }) => status.state === 'waiting').length;
    if (waiting >= this.options.mostWaiting) throw new QueueFull(`${waiting} deliveries wait already; try again in a while.`);
  }

  /** Where the archive of a new delivery is to be written, before it is added. */
  newPlace(): { readonly id: string; readonly archive: string } {
    const id = randomBytes(12).toString('hex');
    return { id, archive: join(this.options.folder, `${id}.choir`) };
  }

  /** Adds an archive that lies in its place; `names` are the deliveries that are wanted, none for all that are on. Throws QueueFull. */
  add(id: string, archive: string, names: readonly string[]): DeliveryStatus {
    this.checkRoom();
    const status: DeliveryStatus = { id, state: 'waiting', done: 0, of: 0 };
    const result = join(this.options.folder, `${id}.zip`);
    this.deliveries.set(id, { status, archive, result, names, listeners: new Set() });
    this.startNext();
    return this.deliveries.get(id)!.status;
  }

  status(id: string): DeliveryStatus | undefined {
    return this.deliveries.get(id)?.status;
  }

  /** The zip of a delivery that is done. */
  result(id: string): string | undefined {
    const delivery = this.deliveries.get(id);
    return delivery?.status.state === 'done' ? delivery.result : undefined;
  }

  /** Hears of every change; the returned function ends it. */
  listen(id: string, listener: (status: DeliveryStatus) => void): () => void {
    const listeners = this.deliveries.get(id)?.listeners;
    listeners?.add(listener);
    return () => listeners?.delete(listener);
  }

  /** Stops a delivery, or forgets one that is over, with its files. */
  remove(id: string): void {
    const delivery = this.deliveries.get(id);
    if (!delivery) return;
    if (delivery.status.state === 'waiting' || delivery.status.state === 'running') this.change(delivery, { state: 'cancelled' });
    delivery.process?.kill('SIGKILL');
    this.deliveries.delete(id);
    for (const file of [delivery.archive, delivery.result, `${delivery.result}.part`]) rmSync(file, { force: true });
    this.startNext();
  }

  close(): void {
    for (const id of [...this.deliveries.keys()]) this.remove(id);
    for (const timer of this.timers) clearTimeout(timer);
    rmSync(this.options.folder, { recursive: true, force: true });
  }

  private startNext(): void {
    const all = [...this.deliveries.values()];
    if (all.some(({ status }) => status.state === 'running')) return;
    const next = all.find(({ status }) => status.state === 'waiting');
    if (next) this.start(next);
  }

  private start(delivery: Delivery): void {
    const { choir, memory, longest, redis } = this.options;
    this.change(delivery, { state: 'running' });
    // In one word with its option, so that no name is taken for another option.
    const names = delivery.names.map((name) => `--deliveries=${name}`);
    const args = [
      `--max-old-space-size=${memory}`,
      choir,
      'deliver',
      delivery.archive,
      '--out',
      delivery.result,
      '--json',
      ...(redis === undefined ? [] : ['--redis', redis]),
      ...names,
    ];
    const running = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'pipe'], env: { PATH: process.env['PATH'] ?? '' } });
    delivery.process = running;
    let late = false;
    const timer = this.after(longest, () => {
      late = true;
      running.kill('SIGKILL');
    });
    let told: Outcome | undefined;
    let message = '';
    createInterface({ input: running.stdout }).on('line', (line) => {
      const read: unknown = parsed(line);
      const last = outcome.safeParse(read);
      if (last.success) told = last.data;
      const step = progress.safeParse(read);
      if (step.success && delivery.status.state === 'running') this.change(delivery, step.data);
    });
    running.stderr.on('data', (text: Buffer) => (message = (message + text.toString()).slice(-mostMessage)));
    running.on('error', (error) => (message = error.message));
    running.on('close', (code) => {
      this.timers.delete(timer);
      clearTimeout(timer);
      if (!this.deliveries.has(delivery.status.id)) return;
      rmSync(delivery.archive, { force: true });
      if (code === 0 && told)
        this.change(delivery, { state: 'done', outcome: told, bytes: statSync(delivery.result, { throwIfNoEntry: false })?.size ?? 0 });
      else this.change(delivery, { state: 'failed', message: this.reason(late, code, message, delivery) });
      this.after(this.options.kept, () => this.remove(delivery.status.id));
      this.startNext();
    });
  }

  private reason(late: boolean, code: number | null, message: string, { archive }: Delivery): string {
    if (late) return `It was stopped after ${Math.round(this.options.longest / 60_000)} minutes.`;
    if (code === null || code > 2) return 'It took more memory than a delivery may, or was stopped from outside.';
    // Whoever sent the archive knows it by another name.
    return message.trim().replaceAll(archive, 'The project') || 'It failed for a reason that it did not tell.';
  }

  private after(milliseconds: number, act: () => void): NodeJS.Timeout {
    const timer = setTimeout(() => {
      this.timers.delete(timer);
      act();
    }, milliseconds);
    timer.unref();
    this.timers.add(timer);
    return timer;
  }

  private change(delivery: Delivery, change: Partial<DeliveryStatus>): void {
    delivery.status = { ...delivery.status, ...change };
    for (const listener of delivery.listeners) listener(delivery.status);
  }
}

function parsed(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return undefined;
  }
}
