import type { LockOwner } from './project-lock';
import { ProjectLock } from './project-lock';

type Callback = (lock: object | null) => Promise<void> | undefined;
interface Waiting {
  readonly grant: () => void;
  readonly give: (error: Error) => void;
}

/** Locks as the standard describes them, for the few options that are used: one holder, a queue, stealing. */
class Locks {
  private readonly held = new Map<string, { readonly fail: (error: Error) => void }>();
  private readonly queues = new Map<string, Waiting[]>();

  request(name: string, options: LockOptions, callback: Callback): Promise<void> {
    return new Promise((resolve, reject) => {
      const grant = (): void => {
        const holder = { fail: reject };
        this.held.set(name, holder);
        void Promise.resolve(callback({})).then(() => {
          if (this.held.get(name) === holder) this.free(name);
          resolve();
        });
      };
      const waiting = { grant, give: reject };
      const queue = this.queues.get(name) ?? [];
      this.queues.set(name, queue);
      if (options.steal) this.held.get(name)?.fail(new Error('stolen'));
      if (options.steal || !this.held.has(name)) grant();
      else if (options.ifAvailable) resolve(callback(null));
      else {
        queue.push(waiting);
        options.signal?.addEventListener('abort', () => {
          queue.splice(queue.indexOf(waiting), 1);
          reject(new Error('given up'));
        });
      }
    });
  }

  isHeld(name: string): boolean {
    return this.held.has(name);
  }

  private free(name: string): void {
    this.held.delete(name);
    this.queues.get(name)?.shift()?.grant();
  }
}

/** Says what is posted to all others that have the same name. */
class Channel extends EventTarget {
  static readonly all = new Set<Channel>();

  constructor() {
    super();
    Channel.all.add(this);
  }

  postMessage(data: unknown): void {
    for (const other of Channel.all) if (other !== this) other.dispatchEvent(new MessageEvent('message', { data }));
  }
}

const settle = async (): Promise<void> => {
  for (let i = 0; i < 20; i++) await Promise.resolve();
};

describe('the right to write a project', () => {
  let locks: Locks;
  let told: string[];

  beforeEach(() => {
    jest.useFakeTimers();
    locks = new Locks();
    told = [];
    Channel.all.clear();
    Object.defineProperty(navigator, 'locks', { value: locks, configurable: true });
    Object.defineProperty(globalThis, 'BroadcastChannel', { value: Channel, configurable: true });
  });

  afterEach(() => {
    jest.useRealTimers();
    Reflect.deleteProperty(navigator, 'locks');
    Reflect.deleteProperty(globalThis, 'BroadcastChannel');
  });

  function owner(name: string, yielding: Promise<void> = Promise.resolve()): LockOwner {
    return {
      beforeYielding: async () => {
        told.push(`${name} writes`);
        await yielding;
      },
      afterWaiting: () => {
        told.push(`${name} reads anew`);
        return Promise.resolve();
      },
    };
  }

  async function tab(name: string, project = 'halda', yielding?: Promise<void>): Promise<ProjectLock> {
    const lock = new ProjectLock();
    await lock.hold(project, owner(name, yielding));
    return lock;
  }

  it('has one tab at a time; the next one gets it when that is closed', async () => {
    const first = await tab('first');
    const second = await tab('second');
    const other = await tab('other', 'another project');
    expect([first, second, other].map((lock) => lock.readOnly())).toEqual([false, true, false]);
    expect([first, second].map((lock) => lock.mayWrite)).toEqual([true, false]);
    first.letGo();
    await settle();
    expect(second.readOnly()).toBe(false);
    expect(second.mayWrite).toBe(true);
    expect(told).toEqual(['second reads anew']);
  });

  it('is handed over when it is asked for, once, after all is written', async () => {
    const first = await tab('first');
    const second = await tab('second');
    second.takeOver();
    second.takeOver();
    await settle();
    expect([first.readOnly(), second.readOnly()]).toEqual([true, false]);
    expect(told).toEqual(['first writes', 'second reads anew']);
    // And back again.
    first.takeOver();
    await settle();
    expect([first.readOnly(), second.readOnly()]).toEqual([false, true]);
    jest.runAllTimers();
    await settle();
    expect([first.mayWrite, second.mayWrite]).toEqual([true, false]);
  });

  it('is taken from a tab that does not answer, which must not write any more', async () => {
    const first = await tab('first', 'halda', new Promise(() => undefined));
    const second = await tab('second');
    second.takeOver();
    await settle();
    expect(second.readOnly()).toBe(true);
    jest.advanceTimersByTime(4_000);
    await settle();
    expect(second.mayWrite).toBe(true);
    expect(second.readOnly()).toBe(false);
    expect(first.mayWrite).toBe(false);
    expect(first.readOnly()).toBe(true);
    second.letGo();
    await settle();
    expect(first.mayWrite).toBe(true);
  });

  it('is left behind by nobody who goes on to another project', async () => {
    const first = await tab('first');
    const second = await tab('second');
    // Asked for, and left before it comes.
    second.takeOver();
    second.letGo();
    await settle();
    jest.runAllTimers();
    first.letGo();
    await settle();
    expect(locks.isHeld('project halda')).toBe(false);
  });
});
