import { inject, Injectable, signal } from '@angular/core';
import type { History, HistoryStep, MotionTrack, Overview, Preset, Project, RecordingFacts } from '@tangled-choir/core';
import {
  documentVersion,
  effectCatalogue,
  measuringVersion,
  motionVersion,
  parseProject,
  presetsWithin,
  recordingFactsSchema,
  startHistory,
} from '@tangled-choir/core';
import * as z from 'zod';
import type { Table } from 'dexie';
import { CHOIR_DATABASE } from './choir-database';
import type { Held } from './database';
import { StorageFull, storing } from './storage-full';
import { StorageLost } from './storage-lost';
import { TreatedStorage } from './treated-storage';

export interface ProjectSummary {
  readonly id: string;
  readonly name: string;
  readonly changed: number;
}

const patch = z.object({
  op: z.enum(['add', 'remove', 'replace']),
  path: z.array(z.union([z.string(), z.number()])),
  value: z.unknown().optional(),
});
const stepsSchema = z.array(
  z.object({
    label: z.string(),
    forward: z.array(patch),
    backward: z.array(patch),
    gesture: z.string().optional(),
    where: z.string().max(40).optional(),
  }),
);

/** Milliseconds for which what a tab has stored is its own: by then its project is written. */
const longestHold = 60 * 60 * 1_000;

const derivedSchema = z.object({
  hash: z.string(),
  overview: z.object({
    framesPerColumn: z.number(),
    frames: z.number(),
    low: z.instanceof(Float32Array),
    high: z.instanceof(Float32Array),
  }),
  facts: recordingFactsSchema,
});

const perFrame = z.array(z.number());
const motionSchema = z
  .object({ times: perFrame, motion: perFrame, changed: perFrame, brightness: perFrame })
  .refine(({ times, motion, changed, brightness }) => [motion, changed, brightness].every(({ length }) => length === times.length));

/** A recording's waveform and what was measured of it. */
export interface Derived {
  readonly hash: string;
  readonly overview: Overview;
  readonly facts: RecordingFacts;
}

/** Undo steps out of the database; damaged ones are given up rather than the project. */
function readSteps(stored: unknown): HistoryStep[] {
  const parsed = stepsSchema.safeParse(stored);
  if (!parsed.success) return [];
  return parsed.data.map(({ label, forward, backward, gesture, where }) => ({
    label,
    forward,
    backward,
    ...(gesture !== undefined && { gesture }),
    ...(where !== undefined && { where }),
  }));
}

function isCurrent(document: unknown): boolean {
  return typeof document === 'object' && document !== null && 'version' in document && document.version === documentVersion;
}

/** Projects and audio in the browser's database. Nothing else knows of Dexie. */
@Injectable({ providedIn: 'root' })
export class ProjectRepository {
  private readonly database = inject(CHOIR_DATABASE);
  private readonly treated = inject(TreatedStorage);
  /** What this tab calls itself where it holds something. */
  private readonly tab = crypto.randomUUID();
  /** Projects that were in the database: if one is not any more, it was not this tab. */
  private readonly stored = new Set<string>();
  private readonly deleted = signal(false);
  /** True once the whole database was deleted under way. */
  readonly lost = this.deleted.asReadonly();

  constructor() {
    this.database.on('versionchange', (event) => {
      if (event.newVersion === null) this.deleted.set(true);
    });
  }

  async list(): Promise<ProjectSummary[]> {
    const stored = await this.database.projects.orderBy('changed').reverse().toArray();
    return stored.map(({ id, name, changed }) => ({ id, name, changed }));
  }

  /** What chains other projects of this browser have kept, the latest project first. */
  async presetsElsewhere(id: string): Promise<{ readonly project: string; readonly presets: readonly Preset[] }[]> {
    const stored = await this.database.projects.orderBy('changed').reverse().toArray();
    return stored
      .filter((project) => project.id !== id)
      .map(({ name, document }) => ({ project: name, presets: presetsWithin(document, effectCatalogue) }));
  }

  /** Loads a project with its undo steps. Throws DataError when it is damaged. */
  async load(id: string): Promise<History | undefined> {
    const stored = await this.database.projects.get(id);
    if (!stored) return undefined;
    this.stored.add(id);
    const project = parseProject(stored.document, effectCatalogue, `The stored project “${stored.name}”`);
    // Steps over a document of an older version would put things of that version into this one.
    if (!isCurrent(stored.document)) return startHistory(project);
    return { ...startHistory(project), past: readSteps(stored.past), future: readSteps(stored.future) };
  }

  /**
   * Stores a project. Rejects with StorageFull when there is no room, as the other writes do, and with StorageLost when it was removed since it was
   * opened: its recordings are gone then, and a document without them must not look as if it were kept.
   */
  async save({ project, past, future }: History): Promise<void> {
    const { projects } = this.database;
    await this.write(() =>
      this.database.transaction('rw', projects, async () => {
        if (this.stored.has(project.id) && (await projects.where('id').equals(project.id).count()) === 0) throw new StorageLost();
        await projects.put({ id: project.id, name: project.name, changed: Date.now(), document: project, past, future });
      }),
    );
    this.stored.add(project.id);
  }

  async remove(id: string): Promise<void> {
    this.stored.delete(id);
    await this.database.projects.delete(id);
    await this.removeUnusedAudio();
  }

  async saveAudio(hash: string, wav: Blob): Promise<void> {
    const { audio } = this.database;
    await this.write(() =>
      this.database.transaction('rw', audio, async () => audio.put({ hash, wav, ...this.holding(await audio.get(hash)) })),
    );
  }

  /** The hashes of all recordings that are stored. */
  async audioHashes(): Promise<readonly string[]> {
    return this.database.audio.toCollection().primaryKeys();
  }

  /** A recording as a WAV file that is read where it is needed. */
  async loadAudio(hash: string): Promise<Blob | undefined> {
    return (await this.database.audio.get(hash))?.wav;
  }

  async savePicture(hash: string, video: Blob): Promise<void> {
    const { pictures } = this.database;
    await this.write(() =>
      this.database.transaction('rw', pictures, async () => pictures.put({ hash, video, ...this.holding(await pictures.get(hash)) })),
    );
  }

  async loadPicture(hash: string): Promise<Blob | undefined> {
    return (await this.database.pictures.get(hash))?.video;
  }

  /** How a picture moves, as far as it is known here and measured as it is now. */
  async loadMotion(hash: string): Promise<MotionTrack | undefined> {
    const stored = await this.database.motions.get(hash);
    return stored?.version === motionVersion ? motionSchema.safeParse(stored.motion).data : undefined;
  }

  /** Keeps it as long as the picture, if that is there. */
  async saveMotion(hash: string, motion: MotionTrack): Promise<void> {
    const { motions, pictures } = this.database;
    await this.database.transaction('rw', motions, pictures, async () => {
      if ((await pictures.where('hash').equals(hash).count()) > 0) await motions.put({ hash, version: motionVersion, motion });
    });
  }

  /** Derived data of these recordings, as far as it is stored and of the newest kind. */
  async loadDerived(hashes: readonly string[]): Promise<Derived[]> {
    const stored = await this.database.derived.bulkGet([...new Set(hashes)]);
    return stored.flatMap((entry): Derived[] => {
      const parsed = entry?.version === measuringVersion ? derivedSchema.safeParse(entry) : undefined;
      return parsed?.success ? [parsed.data] : [];
    });
  }

  async saveDerived({ hash, overview, facts }: Derived): Promise<void> {
    await this.database.derived.put({ hash, version: measuringVersion, overview, facts });
  }

  /** Takes away recordings that were stored for nothing, unless a stored project mentions them. */
  async removeAudio(hashes: readonly string[]): Promise<void> {
    if (hashes.length === 0) return;
    await this.clear(this.database.audio, hashes);
  }

  /** Writes something that must not be lost; where there is no room for it, what can be made anew goes first. */
  private async write(put: () => PromiseLike<unknown>): Promise<void> {
    try {
      await storing(put());
    } catch (error) {
      if (!(error instanceof StorageFull) || (await this.treated.clear()) === 0) throw error;
      await storing(put());
    }
  }

  /** Marks something as held by this tab, beside the tabs that hold it already. */
  private holding(known: Held | undefined): Held {
    return { stored: Date.now(), holders: [...new Set([...(known?.holders ?? []), this.tab])] };
  }

  /** Deletes those of the given recordings or pictures that no stored project mentions and no other tab has stored a moment ago. */
  private async clear<T extends Held & { readonly hash: string }>(table: Table<T, string>, hashes: readonly string[]): Promise<void> {
    const used = await this.usedHashes();
    const unused = hashes.filter((hash) => !used.has(hash));
    const cleared = await this.database.transaction('rw', table, async () => {
      const rows = (await table.bulkGet(unused)).filter((row) => row !== undefined);
      const free = rows.filter(
        ({ stored = 0, holders = [] }) => Date.now() - stored > longestHold || holders.every((holder) => holder === this.tab),
      );
      const gone = free.map(({ hash }) => hash);
      await table.bulkDelete(gone);
      return gone;
    });
    if (table.name === 'audio') await this.database.derived.bulkDelete(cleared);
    if (table.name === 'pictures') await this.database.motions.bulkDelete(cleared);
  }

  /** Hashes of recordings and pictures that stored projects mention, undo steps included. */
  private async usedHashes(): Promise<ReadonlySet<string>> {
    const used = new Set<string>();
    await this.database.projects.each((stored) => {
      for (const [hash] of JSON.stringify([stored.document, stored.past, stored.future]).matchAll(/[0-9a-f]{64}/g)) used.add(hash);
    });
    return used;
  }

  /** Takes away audio that no stored project mentions, undo steps included. */
  private async removeUnusedAudio(): Promise<void> {
    await this.clear(this.database.audio, await this.audioHashes());
    await this.clear(this.database.pictures, await this.database.pictures.toCollection().primaryKeys());
  }
}

/** The hashes of the pictures that a project needs. */
export function neededPictures(project: Project): string[] {
  return [...new Set(project.sounds.flatMap((sound) => (sound.picture ? [sound.picture.video] : [])))];
}

/** The audio hashes that a project needs. */
export function neededAudio(project: Project): string[] {
  return [...new Set(project.sources.map((source) => source.audio))];
}
