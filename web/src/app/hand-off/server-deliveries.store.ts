import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import type { Project } from '@tangled-choir/core';
import * as z from 'zod';
import { ProjectShelf } from '../state/project/project-shelf';

const statusSchema = z.object({
  id: z.string(),
  state: z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']),
  done: z.number(),
  of: z.number(),
  message: z.string().optional(),
  outcome: z.object({ written: z.number(), faults: z.number() }).optional(),
});

/** A delivery that the server makes. */
export interface SentDelivery extends Omit<z.infer<typeof statusSchema>, 'state'> {
  readonly state: z.infer<typeof statusSchema>['state'] | 'sending';
  /** Of the project. */
  readonly name: string;
}

interface ServerDeliveriesState {
  /** How large an archive the server takes, in bytes; nothing where it takes none. */
  readonly mostBytes: number | undefined;
  readonly sent: readonly SentDelivery[];
}

const over = new Set<SentDelivery['state']>(['done', 'failed', 'cancelled']);
const path = '/api/deliveries';
/** Large bodies and streams without an end are none of the service worker's business. */
const pastWorker = 'ngsw-bypass';
/** What the server makes for this tab, so that it is found again when the page was loaded anew. */
const keptUnder = 'sent deliveries';
const keptSchema = z.array(z.object({ id: z.string(), name: z.string() }));
/** Ids of what is still on its way; the server gives others. */
let sending = 0;

/** Sends whole projects to the server, which renders their deliveries while work goes on here. It outlives the open project. */
export const ServerDeliveries = signalStore(
  { providedIn: 'root' },
  withState<ServerDeliveriesState>({ mostBytes: undefined, sent: [] }),
  withComputed(({ mostBytes }) => ({ offered: computed(() => mostBytes() !== undefined) })),
  withMethods((store, shelf = inject(ProjectShelf)) => {
    const streams = new Map<string, EventSource>();
    const uploads = new Map<string, AbortController>();

    const change = (id: string, to: Partial<SentDelivery>): void =>
      patchState(store, ({ sent }) => ({ sent: sent.map((each) => (each.id === id ? { ...each, ...to } : each)) }));
    const keep = (): void => {
      const known = store.sent().filter(({ id }) => streams.has(id));
      sessionStorage.setItem(keptUnder, JSON.stringify(known.map(({ id, name }) => ({ id, name }))));
    };
    const forget = (id: string): void => {
      streams.get(id)?.close();
      streams.delete(id);
      uploads.delete(id);
      patchState(store, ({ sent }) => ({ sent: sent.filter((each) => each.id !== id) }));
      keep();
    };

    const follow = (id: string): void => {
      const stream = new EventSource(`${path}/${id}/events?${pastWorker}`);
      streams.set(id, stream);
      keep();
      stream.onmessage = ({ data }: MessageEvent<string>) => {
        const read = statusSchema.safeParse(JSON.parse(data));
        if (!read.success) return;
        change(id, read.data);
        if (over.has(read.data.state)) stream.close();
      };
      stream.onerror = () => {
        // The browser tries again by itself, unless the server does not know it any more.
        if (stream.readyState === EventSource.CLOSED) change(id, { state: 'failed', message: 'The server does not know it any more.' });
      };
    };

    /** Takes up what was sent before the page was loaded anew, as far as the server still knows it. */
    const takeUp = async (): Promise<void> => {
      for (const { id, name } of keptBefore()) {
        if (streams.has(id)) continue;
        const answer = await fetch(`${path}/${id}`);
        const status = answer.ok ? statusSchema.safeParse(await answer.json()).data : undefined;
        if (!status) continue;
        patchState(store, ({ sent }) => ({ sent: [...sent, { ...status, name }] }));
        follow(id);
      }
    };

    return {
      /** Finds out whether the server takes deliveries: where the application is served by something else, it does not. */
      async look(): Promise<void> {
        try {
          const answer = await fetch(path);
          const read = answer.ok ? z.object({ mostBytes: z.number() }).safeParse(await answer.json()) : undefined;
          patchState(store, { mostBytes: read?.data?.mostBytes });
          if (read?.success) await takeUp();
        } catch {
          patchState(store, { mostBytes: undefined });
        }
      },
      /** Sends a project whose deliveries that are on are wanted. What goes wrong is told in the list of what was sent. */
      async send(project: Project): Promise<void> {
        const local = `sending-${++sending}`;
        const upload = new AbortController();
        uploads.set(local, upload);
        patchState(store, ({ sent }) => ({
          sent: [...sent, { id: local, name: project.name, state: 'sending' as const, done: 0, of: 0 }],
        }));
        try {
          const body = await shelf.packArchive(withoutPictures(project));
          const most = store.mostBytes() ?? 0;
          if (body.size > most)
            throw new Error(`The project has ${megabytes(body.size)} MB; the server takes ${megabytes(most)} MB at most.`);
          const answer = await fetch(path, {
            method: 'POST',
            headers: { 'Content-Type': 'application/zip', [pastWorker]: '' },
            body,
            signal: upload.signal,
          });
          const told: unknown = await answer.json();
          if (!answer.ok)
            throw new Error(z.object({ error: z.string() }).safeParse(told).data?.error ?? `The server answered ${answer.status}.`);
          const status = statusSchema.parse(told);
          change(local, status);
          follow(status.id);
        } catch (error) {
          if (upload.signal.aborted) forget(local);
          else change(local, { state: 'failed', message: error instanceof Error ? error.message : String(error) });
        } finally {
          uploads.delete(local);
        }
      },
      /** Stops a delivery, or takes one that is over from the list and from the server. */
      async remove(id: string): Promise<void> {
        uploads.get(id)?.abort();
        const known = streams.has(id);
        forget(id);
        if (known) await fetch(`${path}/${id}`, { method: 'DELETE' }).catch(() => undefined);
      },
      /** Where the zip of a delivery that is done lies. */
      address: (id: string): string => `${path}/${id}/result`,
    };
  }),
);

function keptBefore(): z.infer<typeof keptSchema> {
  try {
    return keptSchema.safeParse(JSON.parse(sessionStorage.getItem(keptUnder) ?? '[]')).data ?? [];
  } catch {
    return [];
  }
}

const megabytes = (bytes: number): number => Math.ceil(bytes / 2 ** 20);

/** Pictures are large, and no file is made of them. */
function withoutPictures(project: Project): Project {
  return { ...project, sounds: project.sounds.map(({ picture: _picture, ...sound }) => sound) };
}
