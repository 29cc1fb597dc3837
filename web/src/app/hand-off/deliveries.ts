import { computed, inject, Injectable, signal } from '@angular/core';
import type { DeliveryItem, Finding, HandOff, Manifest, ManifestFile, Measurement, Moment, Project } from '@tangled-choir/core';
import { collidingNames, effectCatalogue, manifestFormat, manifestVersion, planDelivery, safeFileName } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { JobCancelled, JobPool } from '../engine/job-pool';
import { DocumentStore } from '../state/document.store';
import { renderable } from '../state/renderable';
import { WorkbenchStore } from '../state/workbench.store';
import { saveFile } from '../storage/save-file';

/** One file with what pre-flight found. */
export interface CheckedFile {
  readonly item: DeliveryItem;
  readonly measured: Measurement;
  readonly findings: readonly Finding[];
}

/** Plans, checks and writes what is handed off. */
@Injectable({ providedIn: 'root' })
export class Deliveries {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(JobPool);
  private abort: AbortController | undefined;

  readonly progress = signal<{ done: number; of: number } | undefined>(undefined);
  private readonly results = signal<{ key: string; files: readonly CheckedFile[] } | undefined>(undefined);
  readonly settings = computed((): HandOff | undefined => this.document.project()?.handOff);
  readonly items = computed((): readonly DeliveryItem[] => {
    const project = this.document.project();
    const sound = this.workbench.sound();
    return project && sound ? planDelivery(project, sound, project.handOff, effectCatalogue) : [];
  });
  readonly collisions = computed(() => collidingNames(this.items()));
  private readonly key = computed(() => JSON.stringify([this.settings(), this.items()]));
  /** What pre-flight found, as long as nothing has changed since. */
  readonly checked = computed(() => (this.results()?.key === this.key() ? this.results()?.files : undefined));
  readonly faults = computed(
    () =>
      this.checked()
        ?.flatMap((file) => file.findings)
        .filter((finding) => finding.severity === 'fault').length ?? 0,
  );

  /** Renders and checks every file without writing any. */
  async check(): Promise<void> {
    const key = this.key();
    const results = await this.run(false);
    if (results) this.results.set({ key, files: results.map(({ item, measured, findings }) => ({ item, measured, findings })) });
  }

  /** Renders, checks and writes every file into a zip with its manifest. Returns how many files it holds. */
  async deliver(): Promise<number> {
    const key = this.key();
    const project = this.document.project();
    const sound = this.workbench.sound();
    const results = await this.run(true);
    if (!results || !project || !sound) return 0;
    this.results.set({ key, files: results.map(({ item, measured, findings }) => ({ item, measured, findings })) });
    const files: Record<string, Uint8Array> = {};
    const entries: ManifestFile[] = [];
    for (const { item, wav, entry } of results) {
      if (!wav || !entry) continue;
      files[item.file] = wav;
      entries.push(entry);
    }
    const manifest: Manifest = {
      format: manifestFormat,
      version: manifestVersion,
      project: project.name,
      sound: sound.name,
      made: new Date().toISOString(),
      files: entries,
    };
    files['manifest.json'] = new TextEncoder().encode(`${JSON.stringify(manifest, null, 2)}\n`);
    const zip = await this.jobs.run({ kind: 'zip', files }, 'Packing the files', { quiet: true });
    saveFile(zip, `${safeFileName(`${project.name}_${sound.name}`)}.zip`, 'application/zip');
    return entries.length;
  }

  cancel(): void {
    this.abort?.abort();
  }

  private async run(write: boolean) {
    const project = this.document.project();
    const settings = this.settings();
    if (!project || !settings) return undefined;
    this.abort?.abort();
    const abort = (this.abort = new AbortController());
    const items = this.items();
    const moment = now();
    this.progress.set({ done: 0, of: items.length });
    try {
      return await Promise.all(
        items.map(async (item) => {
          await this.library.loadAll(project, [item.sound]);
          const { audio } = renderable(project, item.sound, this.library);
          const result = await this.jobs.run(
            { kind: 'deliver', item, settings, project: slim(project), audio, moment, write },
            `${write ? 'Writing' : 'Checking'} ${item.file}`,
            { signal: abort.signal },
          );
          this.progress.update((progress) => progress && { ...progress, done: progress.done + 1 });
          return { item, ...result };
        }),
      );
    } catch (error) {
      abort.abort();
      if (error instanceof JobCancelled) return undefined;
      throw error;
    } finally {
      this.progress.set(undefined);
    }
  }
}

/** A delivery needs the project's sources and settings, not its other sounds. */
function slim(project: Project): Project {
  return { ...project, sounds: [] };
}

/** The present moment in local time, as broadcast metadata wants it. */
function now(): Moment {
  const date = new Date();
  const two = (value: number): string => String(value).padStart(2, '0');
  return {
    date: `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`,
    time: `${two(date.getHours())}:${two(date.getMinutes())}:${two(date.getSeconds())}`,
  };
}
