import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withProps, withState } from '@ngrx/signals';
import type { DeliveryItem, Finding, HandOff, Manifest, ManifestFile, Measurement, Moment, Project, Remedy } from '@tangled-choir/core';
import { collidingNames, effectCatalogue, manifestFormat, manifestVersion, planDelivery, safeFileName } from '@tangled-choir/core';
import { JobCancelled } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from '../state/project/document.store';
import { Renderables } from '../state/renderables';
import { WorkbenchStore } from '../state/workbench.store';
import { saveFile } from '../storage/save-file';

/** One file with what pre-flight found. */
export interface CheckedFile {
  readonly item: DeliveryItem;
  readonly measured: Measurement;
  readonly findings: readonly Finding[];
}

interface DeliveriesState {
  readonly progress: { readonly done: number; readonly of: number } | undefined;
  /** What pre-flight found, and in what. */
  readonly results: { readonly key: string; readonly files: readonly CheckedFile[] } | undefined;
}

/** Plans, checks and writes what is handed off. */
export const Deliveries = signalStore(
  withState<DeliveriesState>({ progress: undefined, results: undefined }),
  withProps(() => ({ _document: inject(DocumentStore), _workbench: inject(WorkbenchStore) })),
  withComputed(({ _document: document, _workbench: workbench }) => {
    const settings = computed((): HandOff | undefined => document.project()?.handOff);
    const items = computed((): readonly DeliveryItem[] => {
      const project = document.project();
      const sound = workbench.sound();
      return project && sound ? planDelivery(project, sound, project.handOff, effectCatalogue) : [];
    });
    return {
      settings,
      items,
      collisions: computed(() => collidingNames(items())),
      _key: computed(() => JSON.stringify([settings(), items()])),
    };
  }),
  withComputed(({ results, _key: key }) => {
    /** What pre-flight found, as long as nothing has changed since. */
    const checked = computed(() => (results()?.key === key() ? results()?.files : undefined));
    /** The highest true peak of all files, in dBTP; and the loudness of the first, in LUFS. */
    const peak = computed(() => Math.max(...(checked() ?? []).map(({ measured }) => measured.truePeakDbtp)));
    const loudness = computed(() => checked()?.[0]?.measured.integratedLufs ?? -Infinity);
    return { checked, peak, loudness };
  }),
  withMethods((store, renderables = inject(Renderables), jobs = inject(ProjectJobs)) => {
    let abort: AbortController | undefined;

    const run = async (write: boolean) => {
      const project = store._document.project();
      const settings = store.settings();
      if (!project || !settings) return undefined;
      abort?.abort();
      const current = (abort = new AbortController());
      const items = store.items();
      const moment = now();
      patchState(store, { progress: { done: 0, of: items.length } });
      try {
        return await Promise.all(
          items.map(async (item) => {
            const { audio, treated } = await renderables.load(project, [item.sound]);
            const input = { item, settings, project: slim(project), audio, ...(treated && { treated }), moment, write };
            const result = await jobs.run('deliver', input, `${write ? 'Writing' : 'Checking'} ${item.file}`, { signal: current.signal });
            patchState(store, ({ progress }) => ({ progress: progress && { ...progress, done: progress.done + 1 } }));
            return { item, ...result };
          }),
        );
      } catch (error) {
        current.abort();
        if (error instanceof JobCancelled) return undefined;
        throw error;
      } finally {
        patchState(store, { progress: undefined });
      }
    };

    const check = async (): Promise<void> => {
      const key = store._key();
      const results = await run(false);
      if (results)
        patchState(store, { results: { key, files: results.map(({ item, measured, findings }) => ({ item, measured, findings })) } });
    };

    return {
      /** Renders and checks every file without writing any. */
      check,
      /**
       * Renders, checks and writes every file into a zip with its manifest. Where files have faults, `mayWrite` is asked once. Returns how many
       * files the zip holds.
       */
      async deliver(mayWrite: (faulty: readonly CheckedFile[]) => Promise<boolean>): Promise<number> {
        const key = store._key();
        const project = store._document.project();
        const sound = store._workbench.sound();
        const results = await run(true);
        if (!results || !project || !sound) return 0;
        patchState(store, { results: { key, files: results.map(({ item, measured, findings }) => ({ item, measured, findings })) } });
        const faulty = results.filter(({ findings }) => findings.some(({ severity }) => severity === 'fault'));
        if (faulty.length > 0 && !(await mayWrite(faulty))) return 0;
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
        const zip = await jobs.run('zip', { files }, 'Packing the files', { quiet: true });
        saveFile(zip, `${safeFileName(`${project.name}_${sound.name}`)}.zip`, 'application/zip');
        return entries.length;
      },
      /** Mends what was found in every file of the sound, as one undo step, and checks again. */
      async mend(remedy: Remedy, decibels?: number): Promise<void> {
        const sound = store._workbench.sound();
        if (!sound) return;
        const mended = store._document.edit('mend', { sound: sound.id, remedy, ...(decibels !== undefined && { decibels }) });
        if (mended) await check();
      },
      cancel: (): void => abort?.abort(),
    };
  }),
);

export type Deliveries = InstanceType<typeof Deliveries>;

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
