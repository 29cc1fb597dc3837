import { Injectable, signal } from '@angular/core';

const lockName = (project: string): string => `project ${project}`;
const channelName = 'tangled-choir-locks';
/** Milliseconds that another tab has for handing a project over before it is taken from it. */
const patience = 4_000;

/** What a tab does when the right to write a project comes or goes. */
export interface LockOwner {
  /** Writes what is not written yet; the right is given away afterwards. */
  beforeYielding(): Promise<void>;
  /** The right was waited for and is there now; another tab may have changed the project. */
  afterWaiting(): Promise<void>;
}

/**
 * Lets one tab at a time write a project (Web Locks). Others read it; they can ask the writer to hand it over, and get it by themselves when
 * the writer is closed.
 */
/** Does something to a project unless a tab has it open for writing; false when one has. */
export async function whileNobodyWrites(project: string, work: () => Promise<void>): Promise<boolean> {
  if (!('locks' in navigator)) {
    await work();
    return true;
  }
  return navigator.locks.request(lockName(project), { ifAvailable: true }, async (lock) => {
    if (lock) await work();
    return lock !== null;
  });
}

@Injectable()
export class ProjectLock {
  /** Another tab writes the project. */
  readonly readOnly = signal(false);
  private readonly channel = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel(channelName);
  private project: string | undefined;
  private owner: LockOwner | undefined;
  private release: (() => void) | undefined;
  private waiting: AbortController | undefined;
  private handingOver = false;
  private takingOver: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    this.channel?.addEventListener('message', ({ data }: MessageEvent<unknown>) => {
      if (data === this.project && this.release && !this.handingOver) void this.handOver();
    });
  }

  /** False once another tab has got the right, even before this one has noticed; browsers without locks have one tab only. */
  get mayWrite(): boolean {
    return !('locks' in navigator) || this.release !== undefined;
  }

  /** Asks for the right to write a project; gives up the one for the project before. */
  async hold(project: string, owner: LockOwner): Promise<void> {
    this.letGo();
    this.project = project;
    this.owner = owner;
    if (!('locks' in navigator)) return;
    const got = await this.request(project, { ifAvailable: true });
    if (!got && this.project === project) this.waitForIt(project);
  }

  letGo(): void {
    clearTimeout(this.takingOver);
    this.takingOver = undefined;
    this.waiting?.abort();
    this.waiting = undefined;
    this.release?.();
    this.release = undefined;
    this.project = undefined;
    this.readOnly.set(false);
  }

  /** Asks the tab that writes to hand the project over; one that does not answer loses it. */
  takeOver(): void {
    const { project } = this;
    if (project === undefined || this.takingOver !== undefined) return;
    this.channel?.postMessage(project);
    this.takingOver = setTimeout(() => {
      this.takingOver = undefined;
      if (!this.readOnly()) return;
      this.waiting?.abort();
      this.waiting = undefined;
      void this.request(project, { steal: true }).then((got) => (got ? this.arrive() : undefined));
    }, patience);
  }

  private async handOver(): Promise<void> {
    const { project } = this;
    if (project === undefined) return;
    this.handingOver = true;
    this.readOnly.set(true);
    await this.owner?.beforeYielding();
    this.handingOver = false;
    if (this.project !== project) return;
    this.release?.();
    this.release = undefined;
    this.waitForIt(project);
  }

  private waitForIt(project: string): void {
    this.readOnly.set(true);
    this.waiting = new AbortController();
    void this.request(project, { signal: this.waiting.signal }).then((got) => (got ? this.arrive() : undefined));
  }

  private async arrive(): Promise<void> {
    clearTimeout(this.takingOver);
    this.takingOver = undefined;
    await this.owner?.afterWaiting();
    this.readOnly.set(false);
  }

  /** Resolves with true once the lock is held, with false when it is not to be had; holds it until it is released. */
  private request(project: string, options: LockOptions): Promise<boolean> {
    return new Promise((resolve) => {
      let release: (() => void) | undefined;
      navigator.locks
        .request(lockName(project), options, (lock) => {
          // By the time it comes, another project may be open.
          const wanted = lock !== null && this.project === project;
          resolve(wanted);
          if (!wanted) return undefined;
          return new Promise<void>((done) => (this.release = release = done));
        })
        .catch(() => {
          // Given up while waiting, or taken away by another tab.
          if (release && this.release === release) {
            this.release = undefined;
            this.waitForIt(project);
          }
          resolve(false);
        });
    });
  }
}
