import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { FrozenLayer, Sound } from '@tangled-choir/core';
import { freezeIdentity, freezeRecipe, soundEnd, sourceIdentities } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { JobCancelled, JobPool } from '../engine/job-pool';
import { LiveEngine } from '../engine/live/live-engine';
import { DocumentStore } from './document.store';
import { Judging } from './judging';
import { Notices } from './notices';
import { renderable } from './renderable';
import { WorkbenchStore } from './workbench.store';

/** Above this share of real time, a sound is too heavy: the engine has one core, and others use it too. */
const tooHeavy = 0.6;
/** Layers that take less than this are not worth it. */
const worthFreezing = 0.08;
/**
 * Milliseconds for which it must have been too heavy; more while jobs keep the machine busy, because everything seems heavier then than it
 * is, and one job more would not help at once.
 */
const patience = 1_000;
const patienceWithJobs = 10_000;
/** Milliseconds without an edit of the sound before a layer is frozen, so that nothing is rendered in vain. */
const rest = 1_500;
/** A longer sound would take too much memory: two minutes of stereo are 46 MB. */
const longestSeconds = 120;

/** A frozen layer, and what it took live, as a share of real time. */
interface Frozen {
  readonly layer: FrozenLayer;
  readonly load: number;
}

/**
 * Layers that are too heavy to be computed while they play are rendered in the background and played as they were rendered, until
 * something changes that would be heard.
 */
@Injectable({ providedIn: 'root' })
export class Freezing {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly engine = inject(LiveEngine);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(JobPool);
  private readonly notices = inject(Notices);
  private readonly judging = inject(Judging);
  private readonly kept = signal<ReadonlyMap<string, Frozen>>(new Map());
  /** Layers that somebody wants to stay live. */
  private readonly live = signal<ReadonlySet<string>>(new Set());
  private busy = false;
  private lastEdit = 0;
  private heavySince: number | undefined;
  private readonly told = new Set<string>();
  private readonly projectId = computed(() => this.document.project()?.id);

  /** Those that still are what their layers would give. */
  private readonly current = computed((): ReadonlyMap<string, Frozen> => {
    const kept = this.kept();
    const sound = this.workbench.sound();
    if (!sound || kept.size === 0) return none;
    const entries = [...kept].filter(
      ([id, { layer }]) => sound.layers.some((each) => each.id === id) && layer.identity === this.identityOf(sound, id),
    );
    return entries.length > 0 ? new Map(entries) : none;
  });
  /** What the engine plays in the place of layers. */
  readonly playable = computed(
    (): ReadonlyMap<string, FrozenLayer> => {
      // Whoever listens to a part of a chain needs it at work.
      const listened = this.judging.alone() && this.workbench.layer()?.id;
      return new Map([...this.current()].filter(([id]) => id !== listened).map(([id, { layer }]) => [id, layer]));
    },
    { equal: sameLayers },
  );

  constructor() {
    effect(() => {
      this.workbench.sound();
      this.lastEdit = performance.now();
    });
    effect(() => {
      const loads = this.engine.playing() === 'sound' ? this.engine.meters()?.loads : undefined;
      if (loads) untracked(() => this.consider(loads));
      else this.heavySince = undefined;
    });
    effect(() => {
      this.workbench.soundId();
      untracked(() => this.kept.set(none));
    });
    // Layers of another project may have the same ids.
    effect(() => {
      this.projectId();
      untracked(() => {
        this.kept.set(none);
        this.live.set(new Set());
        this.told.clear();
      });
    });
  }

  /** What a frozen layer took live, as a share of real time; nothing for layers that are not frozen. */
  loadOf(layer: string): number | undefined {
    return this.current().get(layer)?.load;
  }

  /** Plays a layer live again, and leaves it so. */
  keepLive(layer: string): void {
    this.live.update((live) => new Set([...live, layer]));
    this.kept.update((kept) => new Map([...kept].filter(([id]) => id !== layer)));
  }

  private consider(loads: ReadonlyMap<string, number>): void {
    const sum = [...loads.values()].reduce((total, load) => total + load, 0);
    const now = performance.now();
    if (sum < tooHeavy) this.heavySince = undefined;
    else this.heavySince ??= now;
    if (this.busy || this.heavySince === undefined || now - this.lastEdit < rest) return;
    if (now - this.heavySince < (this.jobs.busy() > 0 ? patienceWithJobs : patience)) return;
    const candidates = (this.workbench.sound()?.layers ?? [])
      .map(({ id }) => ({ id, load: loads.get(`layer/${id}`) ?? 0 }))
      .filter(({ id, load }) => load > worthFreezing && !this.live().has(id) && !this.current().has(id))
      .sort((a, b) => b.load - a.load);
    if (candidates[0]) void this.freeze(candidates[0].id, candidates[0].load);
  }

  private async freeze(id: string, load: number): Promise<void> {
    const project = this.document.project();
    const sound = this.workbench.sound();
    const layer = sound?.layers.find((each) => each.id === id);
    if (!project || !sound || !layer || soundEnd(sound) > longestSeconds) return;
    this.busy = true;
    try {
      const recipe = freezeRecipe(sound, id);
      // What is missing would be frozen as silence.
      await this.library.loadAll(project, [recipe]);
      const request = { kind: 'freeze' as const, ...renderable(project, recipe, this.library) };
      const frozen = await this.jobs.run(request, `Freezing ${layer.name}`);
      this.kept.update((kept) => new Map([...kept, [id, { layer: frozen, load }]]));
      if (this.told.has(id) || !this.current().has(id)) return;
      this.told.add(id);
      this.notices.info(`“${layer.name}” takes ${Math.round(load * 100)} % of real time, so it is frozen. Any change of it thaws it.`);
    } catch (error) {
      // Who cancels it wants it live, and what failed once would fail again and again.
      this.keepLive(id);
      if (!(error instanceof JobCancelled)) this.notices.error(error instanceof Error ? error.message : String(error));
    } finally {
      this.busy = false;
    }
  }

  private identityOf(sound: Sound, layer: string): string {
    return freezeIdentity(freezeRecipe(sound, layer), this.context());
  }

  private context(): { sampleRate: number; identities: ReadonlyMap<string, string> } {
    const { sampleRate, sources } = this.document.project()!;
    return { sampleRate, identities: sourceIdentities(sources) };
  }
}

const none: ReadonlyMap<string, Frozen> = new Map();

function sameLayers(a: ReadonlyMap<string, FrozenLayer>, b: ReadonlyMap<string, FrozenLayer>): boolean {
  return a.size === b.size && [...a].every(([id, layer]) => b.get(id) === layer);
}
