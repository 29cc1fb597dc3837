import type {
  Delivery,
  DeliveryItem,
  FamilyFile,
  Finding,
  Manifest,
  ManifestFile,
  Measurement,
  Moment,
  Project,
  ReportRow,
  Sound,
  TimbrePrint,
} from '@tangled-choir/core';
import {
  asItCounts,
  collidingNames,
  conductJson,
  cueSheetCsv,
  cueSheetOtio,
  DataError,
  deliveredSounds,
  deliveryFolders,
  effectCatalogue,
  formText,
  manifestFormat,
  manifestVersion,
  planDelivery,
  reportCsv,
  reportHtml,
  safeFileName,
  sheetItem,
} from '@tangled-choir/core';
import type { DeliveredItem, DeliveredProject } from './delivery-jobs';
import type { JobOptions, WorkerPool } from './pool';
import type { AudioByIdentity } from './render-jobs';

/** A run through deliveries of a project: in the application, in the command line and in the server alike. */
export interface DeliveryRun {
  readonly project: Project;
  readonly deliveries: readonly Delivery[];
  /** Local time, for what files tell of themselves. */
  readonly moment: Moment;
  readonly jobs: Pick<WorkerPool, 'run'>;
  /** How many files are made at the same time: what is finished waits in memory until it is written. */
  readonly atOnce: number;
  /** Recordings and treated clips that sounds need. */
  load(sounds: readonly Sound[]): Promise<{ readonly audio: AudioByIdentity; readonly treated?: AudioByIdentity }>;
  /** Takes a file; the next is made when it is written. Left out, files are only checked. */
  write?(path: string, bytes: Uint8Array<ArrayBuffer>): Promise<void>;
  /** What was delivered last time, and whether that file is still there as it was: such files are not made again. */
  readonly before?: Manifest | undefined;
  isThere?(entry: ManifestFile): Promise<boolean>;
  readonly signal?: AbortSignal;
  onProgress?(done: number, of: number): void;
}

/** A file that was checked. */
export interface CheckedItem {
  readonly delivery: string;
  readonly item: DeliveryItem;
  readonly measured: Measurement;
  readonly findings: readonly Finding[];
}

/** What became of a run. */
export interface DeliveryOutcome {
  readonly checked: readonly CheckedItem[];
  readonly files: readonly ManifestFile[];
  /** How many files were written, lists and reports among them. */
  readonly written: number;
  /** How many were as they should be already. */
  readonly unchanged: number;
}

/** Everything that is asked for, in the order of deliveries. */
export interface PlannedDelivery {
  readonly delivery: Delivery;
  readonly folder: string;
  readonly items: readonly DeliveryItem[];
}

/** Plans deliveries. Throws DataError where several files would get the same name. */
export function planDeliveries(project: Project, deliveries: readonly Delivery[]): PlannedDelivery[] {
  const folders = deliveryFolders(deliveries);
  return deliveries.map(asItCounts).map((delivery) => {
    const items = planDelivery(project, delivery, effectCatalogue);
    const [collision] = delivery.sheet ? [] : collidingNames(items);
    if (collision)
      throw new DataError(
        `“${delivery.name}”: several files would be called ${collision}; put {number}, {sound} or {stem} into its naming template.`,
      );
    return { delivery, folder: folders.get(delivery.id)!, items };
  });
}

/**
 * Renders, checks and writes everything that deliveries ask for, with a manifest and a report. Rejects with DataError for names that collide,
 * JobCancelled, JobRefused, or with what `write` rejects with; files that were written until then stay.
 */
export async function runDeliveries(run: DeliveryRun): Promise<DeliveryOutcome> {
  const planned = planDeliveries(run.project, run.deliveries);
  const work = new Work(run, planned);
  try {
    for (const each of planned) await work.deliver(each);
    return await work.finish();
  } catch (error) {
    // What was written counts next time; where nothing can be written any more, the first reason is the one to tell.
    await work.leave().catch(() => undefined);
    throw error;
  }
}

class Work {
  private readonly checked: CheckedItem[] = [];
  private readonly files: ManifestFile[] = [];
  /** What lies there by now, by path. */
  private readonly entries = new Map<string, ManifestFile>();
  private readonly slim: DeliveredProject;
  private readonly before: ReadonlyMap<string, ManifestFile>;
  private readonly total: number;
  private done = 0;
  private unchanged = 0;
  private written = 0;

  constructor(
    private readonly run: DeliveryRun,
    planned: readonly PlannedDelivery[],
  ) {
    const { name, sources, sampleRate } = run.project;
    this.slim = { name, sources, sampleRate };
    this.before = new Map(run.before?.files.map((entry) => [entry.file, entry]));
    this.total = planned.reduce((sum, { items }) => sum + items.length, 0);
    run.onProgress?.(0, this.total);
  }

  async deliver({ delivery, folder, items }: PlannedDelivery): Promise<void> {
    if (delivery.content === 'behaviours') await this.writeConduct(delivery, folder, await this.deliverFiles(delivery, folder, items));
    else if (delivery.sheet) await this.deliverSheet(delivery, folder, items);
    else await this.deliverFiles(delivery, folder, items);
    if (delivery.cueSheet && delivery.content === 'sounds') await this.writeCueSheets(delivery, folder);
  }

  /** Writes what tells of the files, and what was delivered before and still lies there. */
  async finish(): Promise<DeliveryOutcome> {
    const { run, checked, files, unchanged } = this;
    const { project, moment } = run;
    if (run.write) {
      const rows = files.map((file): ReportRow => rowOf(file));
      await this.writeManifest(files);
      await this.writeText('report.csv', reportCsv(rows));
      await this.writeText('report.html', reportHtml(project.name, `${moment.date} ${moment.time}`, rows));
    }
    return { checked, files, written: this.written, unchanged };
  }

  /** Tells of the files that are there although not all are, so that the next run goes on from them. */
  async leave(): Promise<void> {
    if (!this.run.write || this.entries.size === 0) return;
    await this.writeManifest([...new Map([...this.before, ...this.entries]).values()]);
  }

  private async deliverFiles(delivery: Delivery, folder: string, items: readonly DeliveryItem[]): Promise<readonly MadeFile[]> {
    const made = await this.inTurn(items, async (item): Promise<MadeFile> => {
      const path = folder + item.file;
      const known = await this.knownFile(path, item);
      if (known) return { item, known };
      const result = await this.render(delivery, item, this.run.write ? 'file' : 'findings');
      if (result.file) {
        await this.write(path, result.file.bytes);
        this.entries.set(path, { ...result.file.entry, file: path });
      }
      const { measured, findings, print, file } = result;
      // Its bytes are written; only what is told of it is kept.
      return { item, path, measured, findings, print, entry: file?.entry };
    });
    const ofFamily = await this.compareFamilies(made);
    for (const { item, known, path, measured, findings, entry } of made) {
      if (known) this.files.push(known);
      const found = [...(findings ?? []), ...(ofFamily.get(item) ?? [])];
      if (measured) this.checked.push({ delivery: delivery.id, item, measured, findings: found });
      if (entry && path !== undefined)
        this.files.push({ ...entry, file: path, findings: found.map(({ severity, text }) => ({ severity, text })) });
    }
    return made;
  }

  /** What is wrong with files that are one family, by item. */
  private async compareFamilies(made: readonly MadeFile[]): Promise<ReadonlyMap<DeliveryItem, readonly Finding[]>> {
    const families = new Map<string, { readonly items: DeliveryItem[]; readonly files: FamilyFile[] }>();
    for (const { item, measured, print } of made) {
      if (!measured || !print) continue;
      const family = families.get(item.of.id) ?? { items: [], files: [] };
      families.set(item.of.id, family);
      family.items.push(item);
      family.files.push({ file: item.file, measured, print });
    }
    const found = new Map<DeliveryItem, readonly Finding[]>();
    for (const { items, files } of families.values()) {
      if (files.length < 2) continue;
      const label = `Comparing the family of “${items[0]!.of.name}”`;
      for (const [index, findings] of await this.run.jobs.run('compareFamily', { files }, label, this.options()))
        found.set(items[index]!, findings);
    }
    return found;
  }

  private async deliverSheet(delivery: Delivery, folder: string, items: readonly DeliveryItem[]): Promise<void> {
    if (items.length === 0) return;
    const sheet = sheetItem(this.run.project, delivery, items);
    const known = await this.knownFile(folder + sheet.file, sheet);
    if (known) {
      this.files.push(known);
      this.tick(items.length);
      return;
    }
    const made = await this.inTurn(items, async (item) => ({ item, ...(await this.render(delivery, item, 'audio')) }));
    for (const { item, measured, findings } of made) this.checked.push({ delivery: delivery.id, item, measured, findings });
    if (!this.run.write) return;
    const takes = made.flatMap(({ audio }) => audio ?? []);
    const parts = items.map(({ key, of, loops }) => ({ key, of, loops }));
    const input = { sheet, items: parts, takes, delivery, project: this.slim, moment: this.run.moment };
    const { file } = await this.run.jobs.run('deliverSheet', input, `Joining ${sheet.file}`, this.options());
    await this.write(folder + sheet.file, file.bytes);
    this.files.push({ ...file.entry, file: folder + sheet.file });
    const list = { file: sheet.file.replace(/^.*\//, ''), sampleRate: file.entry.sampleRate, parts: file.entry.parts };
    await this.writeText(`${folder}${sheet.file.replace(/\.[^.]+$/, '')}.json`, `${JSON.stringify(list, null, 2)}\n`);
  }

  /** `conduct.json`, which names the recordings that were just written. */
  private async writeConduct(delivery: Delivery, folder: string, made: readonly MadeFile[]): Promise<void> {
    const written = made.flatMap(({ item, entry, known }) => {
      const file = entry ?? known;
      return file ? [{ item, entry: file }] : [];
    });
    if (!this.run.write) return;
    await this.writeText(`${folder}conduct.json`, `${JSON.stringify(conductJson(this.run.project, delivery, written), null, 1)}\n`);
  }

  private async writeCueSheets(delivery: Delivery, folder: string): Promise<void> {
    for (const sound of deliveredSounds(this.run.project, delivery)) {
      const name = `${folder}cues/${safeFileName(sound.name)}_${sound.id}`;
      await this.writeText(`${name}.csv`, cueSheetCsv(sound, this.run.project));
      await this.writeText(`${name}.otio`, cueSheetOtio(sound, this.run.project));
    }
  }

  private async render(delivery: Delivery, item: DeliveryItem, give: 'findings' | 'file' | 'audio'): Promise<DeliveredItem> {
    const { audio, treated } = await this.run.load(item.whole ? [item.sound, item.whole] : [item.sound]);
    const { moment, jobs } = this.run;
    const input = { item, delivery, project: this.slim, moment, audio, ...(treated && { treated }), give };
    return jobs.run('deliver', input, `${give === 'findings' ? 'Checking' : 'Writing'} ${item.file}`, this.options());
  }

  /** The file as it was made before, where nothing that decides it has changed and it still lies there. */
  private async knownFile(path: string, { recipe, form }: DeliveryItem): Promise<ManifestFile | undefined> {
    const entry = this.before.get(path);
    const same = entry !== undefined && entry.recipe === recipe && entry.form === form;
    if (!same || !(await this.run.isThere?.(entry))) return undefined;
    this.unchanged++;
    return entry;
  }

  /** Does work for each, so many at once, and gives the results in their order. */
  private async inTurn<T, R>(list: readonly T[], work: (each: T) => Promise<R>): Promise<R[]> {
    const results: R[] = [];
    let next = 0;
    const lane = async (): Promise<void> => {
      try {
        for (let at = next++; at < list.length; at = next++) {
          results[at] = await work(list[at]!);
          this.tick(1);
        }
      } finally {
        // Where one fails, the others begin nothing more.
        next = list.length;
      }
    };
    await Promise.all(Array.from({ length: Math.min(this.run.atOnce, list.length) }, lane));
    return results;
  }

  private tick(count: number): void {
    this.done += count;
    this.run.onProgress?.(this.done, this.total);
  }

  private async writeManifest(files: readonly ManifestFile[]): Promise<void> {
    const { project, moment } = this.run;
    const made = `${moment.date}T${moment.time}`;
    const manifest: Manifest = { format: manifestFormat, version: manifestVersion, project: project.name, made, files: [...files] };
    await this.writeText('manifest.json', `${JSON.stringify(manifest, null, 2)}\n`);
  }

  private async write(path: string, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
    await this.run.write?.(path, bytes);
    this.written++;
  }

  private async writeText(path: string, text: string): Promise<void> {
    await this.write(path, new Uint8Array(new TextEncoder().encode(text)));
  }

  private options(): JobOptions<never> {
    return this.run.signal ? { signal: this.run.signal } : {};
  }
}

/** What became of an item: it was there already, or it was made now. */
interface MadeFile {
  readonly item: DeliveryItem;
  readonly known?: ManifestFile;
  readonly path?: string;
  readonly findings?: readonly Finding[];
  readonly entry?: ManifestFile | undefined;
  readonly measured?: Measurement;
  readonly print?: TimbrePrint | undefined;
}

function rowOf(entry: ManifestFile): ReportRow {
  const { delivery, sound, file, recipe, seconds, integratedLufs, truePeakDbtp, findings, format, encoding = '24', kilobits = 0 } = entry;
  const coded = formText({ format, encoding, bitrate: kilobits, sampleRate: entry.sampleRate });
  const channels = entry.channels === 1 ? 'mono' : entry.channels === 2 ? 'stereo' : `${entry.channels} channels`;
  const measured = { seconds, integratedLufs: integratedLufs ?? -Infinity, truePeakDbtp: truePeakDbtp ?? -Infinity };
  return { delivery, sound, file, form: `${coded}, ${entry.sampleRate / 1_000} kHz, ${channels}`, recipe, measured, findings };
}
