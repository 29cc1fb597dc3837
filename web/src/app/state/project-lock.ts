import { Injectable, signal } from '@angular/core';

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
@Injectable({ providedIn: 'root' })
export class ProjectLock {
  /** Another tab writes the project. */
  readonly readOnly = signal(false);
  private readonly channel = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel(channelName);
  private project: string | undefined;
  private owner: LockOwner | undefined;
  private release: (() => void) | undefined;
  private waiting: AbortController | undefined;

  constructor() {
    this.channel?.addEventListener('message', ({ data }: MessageEvent<unknown>) => {
      if (data === this.project && this.release) void this.yield();
    });
  }

  /** Asks for the right to write a project; gives up the one for the project before. */
  async hold(project: string, owner: LockOwner): Promise<void> {
    this.letGo();
    this.project = project;
    this.owner = owner;
    if (!('locks' in navigator)) return;
    if (!(await this.request({ ifAvailable: true }))) this.waitForIt();
  }

  letGo(): void {
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
    this.channel?.postMessage(project);
    setTimeout(() => {
      if (this.project !== project || !this.readOnly()) return;
      this.waiting?.abort();
      void this.request({ steal: true }).then((got) => (got ? this.arrive() : undefined));
    }, patience);
  }

  private async yield(): Promise<void> {
    this.readOnly.set(true);
    await this.owner?.beforeYielding();
    this.release?.();
    this.release = undefined;
    this.waitForIt();
  }

  private waitForIt(): void {
    this.readOnly.set(true);
    this.waiting = new AbortController();
    void this.request({ signal: this.waiting.signal }).then((got) => (got ? this.arrive() : undefined));
  }

  private async arrive(): Promise<void> {
    await this.owner?.afterWaiting();
    this.readOnly.set(false);
  }

  /** Resolves with true once the lock is held, with false when it is not to be had; holds it until it is released. */
  private request(options: LockOptions): Promise<boolean> {
    return new Promise((resolve) => {
      navigator.locks
        .request(`project ${this.project ?? ''}`, options, (lock) => {
          resolve(lock !== null);
          return lock ? new Promise<void>((release) => (this.release = release)) : undefined;
        })
        .catch(() => {
          // Given up while waiting, or taken away by another tab.
          if (this.release) {
            this.release = undefined;
            this.waitForIt();
          }
          resolve(false);
        });
    });
  }
}
