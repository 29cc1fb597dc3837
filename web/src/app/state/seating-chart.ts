import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { Seating } from '@tangled-choir/core';
import { referenceLayerId, soundEnd, withReference } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { JobCancelled, JobPool } from '../engine/job-pool';
import { LiveEngine } from '../engine/live/live-engine';
import { DocumentStore } from './document.store';
import { LecternPanel } from './lectern-panel';
import { Notices } from './notices';
import { Playback } from './playback';
import { renderable } from './renderable';
import { WorkbenchStore } from './workbench.store';

/** Milliseconds without an edit after which the sound is measured anew. */
const rest = 700;

/** The seating of the open sound: live while it plays, over the loop or the whole sound while it does not. */
@Injectable({ providedIn: 'root' })
export class SeatingChart {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly engine = inject(LiveEngine);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(JobPool);
  private readonly notices = inject(Notices);
  private readonly panel = inject(LecternPanel);
  readonly open = computed(() => this.panel.visible() === 'seating');
  private readonly measured = signal<Seating | undefined>(undefined);
  readonly measuring = signal(false);
  /** Also with a reference, once the engine has it. */
  readonly live = computed(() => {
    const seating = this.engine.playing() === 'sound' ? this.engine.meters()?.seating : undefined;
    const wanted = this.workbench.sound()?.reference !== undefined;
    return seating !== undefined && (!wanted || seating.layers.some(({ layer }) => layer === referenceLayerId));
  });
  readonly seating = computed(() => (this.live() ? this.engine.meters()?.seating : this.measured()));
  readonly range = computed(() => {
    const sound = this.workbench.sound();
    return (this.workbench.looping() && this.playback.loopRange()) || { from: 0, to: sound ? soundEnd(sound) : 0 };
  });
  private waiting: ReturnType<typeof setTimeout> | undefined;
  /** Ends a measurement that nobody waits for any more. */
  private running = new AbortController();

  constructor() {
    effect(() => this.engine.showSeating(this.open()));
    effect(() => {
      this.workbench.sound();
      this.range();
      const open = this.open();
      clearTimeout(this.waiting);
      this.running.abort();
      if (open) this.waiting = setTimeout(() => void this.measure(), rest);
    });
    effect(() => {
      this.workbench.soundId();
      untracked(() => this.measured.set(undefined));
    });
  }

  private async measure(): Promise<void> {
    const project = this.document.project();
    const plain = this.workbench.sound();
    const sound = project && plain && withReference(plain, project);
    const range = this.range();
    const { signal } = (this.running = new AbortController());
    if (!project || !sound || range.to <= range.from) {
      this.measured.set(undefined);
      return;
    }
    this.measuring.set(true);
    try {
      await this.library.loadAll(project, [sound]);
      const request = { kind: 'seating' as const, range, ...renderable(project, sound, this.library) };
      const seating = await this.jobs.run(request, `Seating of ${sound.name}`, { signal });
      this.measured.set(seating);
    } catch (error) {
      if (!(error instanceof JobCancelled)) this.notices.error(error instanceof Error ? error.message : String(error));
    } finally {
      if (!signal.aborted) this.measuring.set(false);
    }
  }
}
