import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withProps, withState } from '@ngrx/signals';
import type { Delivery, DeliveryItem, Finding, Manifest, Measurement, Moment, Project, Remedy } from '@tangled-choir/core';
import { collidingNames, deliveredSounds, gameDelivery, manifestSchema, safeFileName } from '@tangled-choir/core';
import type { CheckedItem, DeliveryOutcome, DeliveryRun } from '@tangled-choir/jobs';
import { JobCancelled, runDeliveries } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import type { DiskFolder } from '../storage/folder';
import { saveFile } from '../storage/save-file';
import { PlanCache } from './plan-cache';
import { DocumentStore } from './project/document.store';
import { Renderables } from './renderables';
import { WorkbenchStore } from './workbench.store';

/** One file with what pre-flight found. */
export interface CheckedFile {
  readonly item: DeliveryItem;
  readonly measured: Measurement;
  readonly findings: readonly Finding[];
}

/** A delivery with what it will write. */
export interface PlannedFiles {
  readonly delivery: Delivery;
  readonly sounds: number;
  readonly items: readonly DeliveryItem[];
  readonly collisions: readonly string[];
}

interface DeliveriesState {
  readonly chosen: string | undefined;
  /** Only the sound that is worked on, in place of all that deliveries ask for. */
  readonly onlySound: boolean;
  readonly progress: { readonly done: number; readonly of: number } | undefined;
  /** All files are made, and are being packed. */
  readonly packing: boolean;
  /** What pre-flight found, by what decides it. */
  readonly results: ReadonlyMap<string, CheckedFile>;
}

/** Asked before files with faults are written. */
export type MayWrite = (faulty: readonly CheckedFile[]) => Promise<boolean>;

/** How many files are made at the same time, beside the cores: each waits for its recordings, too. */
const waiting = 2;
/** More results than that are of files that nobody asks for any more. */
const mostResults = 20_000;

/** Plans, checks and writes what is handed off. */
export const Deliveries = signalStore(
  withState<DeliveriesState>({ chosen: undefined, onlySound: false, progress: undefined, packing: false, results: new Map() }),
  withProps(() => ({ _document: inject(DocumentStore), _workbench: inject(WorkbenchStore), _cache: new PlanCache() })),
  withComputed(({ _document: document, _workbench: workbench, _cache: cache, onlySound, chosen }) => {
    const plans = computed((): readonly PlannedFiles[] => {
      const project = document.project();
      if (!project) return [];
      return project.deliveries.map((asked) => {
        if (!onlySound()) return planOf(cache, project, asked);
        // Behaviours belong to no single sound.
        if (asked.content === 'behaviours') return { delivery: asked, sounds: 0, items: [], collisions: [] };
        return planOf(cache, project, onlyOf(asked, workbench.sound()?.id));
      });
    });
    const current = computed(
      () => plans().find(({ delivery }) => delivery.id === chosen()) ?? plans().find(({ delivery }) => delivery.on) ?? plans()[0],
    );
    const on = computed(() => plans().filter(({ delivery, items }) => delivery.on && items.length > 0));
    return { plans, current, on };
  }),
  withComputed(({ results, current, on, plans }) => {
    const resultOf = (delivery: Delivery, item: DeliveryItem): CheckedFile | undefined => results().get(resultKey(delivery, item));
    /** What pre-flight found in the chosen delivery, once all of it is known. */
    const checked = computed((): readonly CheckedFile[] | undefined => {
      const now = current();
      const found = now?.items.flatMap((item) => resultOf(now.delivery, item) ?? []);
      return found && found.length > 0 && found.length === now!.items.length ? found : undefined;
    });
    /** The highest true peak of all files of the chosen delivery, in dBTP; and the loudness of the first, in LUFS. */
    const peak = computed(() => Math.max(...(checked() ?? []).map(({ measured }) => measured.truePeakDbtp)));
    const loudness = computed(() => checked()?.[0]?.measured.integratedLufs ?? -Infinity);
    const verdicts = computed(() => new Map(plans().map((plan) => [plan.delivery.id, verdictOf(plan, resultOf)])));
    const files = computed(() => on().reduce((sum, { delivery, items }) => sum + (delivery.sheet ? 1 : items.length), 0));
    const blocked = computed(() => on().find(({ collisions }) => collisions.length > 0));
    return { resultOf: computed(() => resultOf), checked, peak, loudness, verdicts, files, blocked };
  }),
  withMethods((store, renderables = inject(Renderables), jobs = inject(ProjectJobs)) => {
    let abort: AbortController | undefined;

    const remember = (plans: readonly PlannedFiles[], checked: readonly CheckedItem[]): void => {
      const byId = new Map(plans.map(({ delivery }) => [delivery.id, delivery]));
      const results = new Map(store.results().size > mostResults ? [] : store.results());
      for (const { delivery, item, measured, findings } of checked)
        results.set(resultKey(byId.get(delivery)!, item), { item, measured, findings });
      patchState(store, { results });
    };

    /** Goes through deliveries; nothing where somebody cancels it. */
    const run = async (
      plans: readonly PlannedFiles[],
      how: Pick<DeliveryRun, 'write' | 'before' | 'isThere'>,
    ): Promise<DeliveryOutcome | undefined> => {
      const project = store._document.project();
      if (!project || plans.length === 0) return undefined;
      abort?.abort();
      const current = (abort = new AbortController());
      try {
        const outcome = await runDeliveries({
          project,
          deliveries: plans.map(({ delivery }) => delivery),
          moment: now(),
          jobs,
          atOnce: navigator.hardwareConcurrency + waiting,
          load: (sounds) => renderables.load(project, sounds),
          signal: current.signal,
          onProgress: (done, of) => {
            if (!current.signal.aborted) patchState(store, { progress: { done, of } });
          },
          ...how,
        });
        remember(plans, outcome.checked);
        return outcome;
      } catch (error) {
        current.abort();
        if (error instanceof JobCancelled) return undefined;
        throw error;
      } finally {
        if (abort === current) patchState(store, { progress: undefined });
      }
    };

    /** False where somebody stopped it. */
    const check = async (plans: readonly PlannedFiles[] = store.on()): Promise<boolean> =>
      plans.length === 0 || (await run(plans, {})) !== undefined;

    /** Files with faults among those that are going to be written. */
    const faulty = (plans: readonly PlannedFiles[]): CheckedFile[] =>
      plans
        .flatMap(({ delivery, items }) => items.flatMap((item) => store.resultOf()(delivery, item) ?? []))
        .filter(({ findings }) => findings.some(({ severity }) => severity === 'fault'));

    /** Writes a zip, and says how many files it holds: none where it was stopped. Where files have faults, `mayWrite` is asked once. */
    const writeZip = async (plans: readonly PlannedFiles[], name: string, mayWrite: MayWrite): Promise<number> => {
      const files = new Map<string, Blob>();
      const outcome = await run(plans, {
        write: (path, bytes) => {
          files.set(path, new Blob([bytes]));
          return Promise.resolve();
        },
      });
      if (!outcome) return 0;
      const bad = faulty(plans);
      if (bad.length > 0 && !(await mayWrite(bad))) return 0;
      patchState(store, { packing: true });
      try {
        saveFile(
          await jobs.run('zipBlobs', { files }, 'Packing the files', { quiet: true }),
          `${safeFileName(name)}.zip`,
          'application/zip',
        );
      } catch (error) {
        // The project was closed in the meantime.
        if (error instanceof JobCancelled) return 0;
        throw error;
      } finally {
        patchState(store, { packing: false });
      }
      return files.size;
    };

    return {
      choose: (delivery: string): void => patchState(store, { chosen: delivery }),
      setOnlySound: (onlySound: boolean): void => patchState(store, { onlySound }),
      /** Renders and checks every file without writing any: of the deliveries that are on, or of some. */
      check,
      /** Renders, checks and writes the deliveries that are on into a zip with manifest and report; see `writeZip`. */
      deliver(mayWrite: MayWrite): Promise<number> {
        const name = store._document.project()?.name ?? '';
        const sound = store.onlySound() ? store._workbench.sound() : undefined;
        return writeZip(store.on(), sound ? `${name}_${sound.name}` : name, mayWrite);
      },
      /** The same of what a game takes: `conduct.json` with the recordings that behaviours play. */
      async deliverGame(mayWrite: MayWrite): Promise<number> {
        const project = store._document.project();
        return project ? writeZip([planOf(store._cache, project, gameDelivery(project))], `${project.name}_game`, mayWrite) : 0;
      },
      /** The same into a folder, where files stay that would come out as they are. Returns what became of it; nothing where it was stopped. */
      async deliverTo(folder: DiskFolder, mayWrite: MayWrite): Promise<DeliveryOutcome | undefined> {
        const unknown = store.on().filter(({ delivery, items }) => items.some((item) => !store.resultOf()(delivery, item)));
        if (!(await check(unknown))) return undefined;
        const bad = faulty(store.on());
        if (bad.length > 0 && !(await mayWrite(bad))) return undefined;
        const before = await manifestIn(folder);
        return run(store.on(), {
          write: (path, bytes) => folder.write(path, bytes),
          before,
          isThere: async ({ file, sha256 }) => {
            const bytes = await folder.read(file);
            return bytes !== undefined && (await jobs.run('hash', { bytes }, `Reading ${file}`, { quiet: true })).hash === sha256;
          },
        });
      },
      /** Mends what was found in the files of a sound, as one undo step, and checks the chosen delivery again. */
      async mend(sound: string, remedy: Remedy, decibels?: number): Promise<void> {
        const current = store.current();
        if (!current) return;
        const { id } = current.delivery;
        const mended = store._document.edit('mend', { sound, remedy, delivery: id, ...(decibels !== undefined && { decibels }) });
        const plan = store.current();
        if (mended && plan) await check([plan]);
      },
      cancel: (): void => abort?.abort(),
    };
  }),
);

export type Deliveries = InstanceType<typeof Deliveries>;

const resultKey = (delivery: Delivery, { key, recipe, form, file }: DeliveryItem): string =>
  [delivery.id, key, recipe, form, file].join('|');

function planOf(cache: PlanCache, project: Project, delivery: Delivery): PlannedFiles {
  const items = cache.plan(project, delivery);
  const sounds = delivery.content === 'behaviours' ? 0 : deliveredSounds(project, delivery).length;
  return { delivery, sounds, items, collisions: delivery.sheet ? [] : collidingNames(items) };
}

function onlyOf(delivery: Delivery, sound: string | undefined): Delivery {
  const wanted = sound !== undefined && (!delivery.sounds || delivery.sounds.includes(sound));
  return { ...delivery, sounds: wanted ? [sound] : [] };
}

/** What is known of a delivery's files: how many have faults, how many advice, and whether all were looked at. */
function verdictOf(
  { delivery, items, collisions }: PlannedFiles,
  resultOf: (delivery: Delivery, item: DeliveryItem) => CheckedFile | undefined,
): { readonly faults: number; readonly advice: number; readonly checked: boolean } {
  const known = items.flatMap((item) => resultOf(delivery, item) ?? []);
  const having = (severity: Finding['severity']): number =>
    known.filter(({ findings }) => findings.some((finding) => finding.severity === severity)).length;
  return {
    faults: having('fault') + collisions.length,
    advice: having('advice'),
    checked: items.length > 0 && known.length === items.length,
  };
}

/** What was delivered into a folder before; nothing where nothing was, or where it cannot be read: then everything is made again. */
async function manifestIn(folder: DiskFolder): Promise<Manifest | undefined> {
  const bytes = await folder.read('manifest.json');
  if (!bytes) return undefined;
  try {
    return manifestSchema.safeParse(JSON.parse(new TextDecoder().decode(bytes))).data;
  } catch {
    return undefined;
  }
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
