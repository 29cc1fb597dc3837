import type { LogEntry, Walk } from '@tangled-choir/core/conduct';
import { conductLog } from '@tangled-choir/core/conduct';
import { Conductor } from './conductor';
import type { GameData } from './game-data';
import { assetsOfGroup, readGameData } from './game-data';
import type { FromConductor } from './protocol';

export interface LoadOptions {
  /** Where the package's `processor.js` lies. */
  readonly processor: string | URL;
  /** The context to play in, at the rate of the data. Without it the player makes its own. */
  readonly context?: BaseAudioContext;
  /** Load groups to begin with, by name; without it, all of them. What is in no group is always there. */
  readonly groups?: readonly string[];
  /** Where the sound goes; without it, to the loudspeakers. */
  readonly destination?: AudioNode;
}

/** A move with the moment at which it was made. */
export interface MadeMove {
  readonly at: number;
  readonly move: Record<string, unknown>;
}

/** Loads a hand-off: its `conduct.json`, its recordings, and the worklet. Rejects with what is missing. */
export async function load(address: string | URL, options: LoadOptions): Promise<Player> {
  const base = new URL(address, typeof document === 'undefined' ? undefined : document.baseURI);
  const response = await fetch(base);
  if (!response.ok) throw new Error(`${base.href} cannot be read: ${response.status} ${response.statusText}.`);
  const data = readGameData(await response.text(), base.href);
  const context = options.context ?? new AudioContext({ sampleRate: data.sampleRate, latencyHint: 0 });
  if (context.sampleRate !== data.sampleRate)
    throw new Error(`The context runs at ${context.sampleRate} Hz; ${base.href} needs ${data.sampleRate} Hz.`);
  const conductor = await Conductor.create(context, options.processor);
  conductor.node.connect(options.destination ?? context.destination);
  const player = new Player(data, base, context, conductor);
  const wanted = options.groups ?? data.groups.map(({ name }) => name);
  await Promise.all([player.loadAssets(assetsOfGroup(data, undefined)), ...wanted.map((group) => player.load(group))]);
  await player.begin();
  return player;
}

/** Plays behaviours in a game. Everything may be named by its name or its id. */
export class Player {
  /** Called with everything that is decided. */
  onlog: ((entries: readonly LogEntry[]) => void) | undefined;
  /** What was done so far, to be played again by `choir conduct --script`. */
  readonly moves: MadeMove[] = [];
  private readonly loaded = new Map<string, Promise<void>>();
  /** Ids of the load groups that are in memory, or on their way there. */
  private readonly groups = new Set<string>();
  private begun: (() => void) | undefined;
  /** How far it has come, in seconds. */
  now = 0;
  /** Voices that sound. */
  sounding = 0;

  /** Made by `load`. */
  constructor(
    readonly data: GameData,
    private readonly base: URL,
    readonly context: BaseAudioContext,
    private readonly conductor: Conductor,
  ) {
    conductor.onreport = (report) => this.hear(report);
  }

  /** Calls a behaviour; at an emitter of the game's own, or where the behaviour stands. */
  trigger(behaviour: string, emitter?: string): void {
    this.conductor.move({
      do: 'trigger',
      behaviour: this.idOf('behaviours', behaviour),
      ...(emitter !== undefined && { emitter: this.emitterOf(emitter) }),
    });
  }

  /** Ends what plays of a behaviour, each in its own way; only that at an emitter, if one is named. */
  stop(behaviour: string, emitter?: string): void {
    this.conductor.move({
      do: 'stop',
      behaviour: this.idOf('behaviours', behaviour),
      ...(emitter !== undefined && { emitter: this.emitterOf(emitter) }),
    });
  }

  /** Sets a game parameter. */
  set(parameter: string, value: number): void {
    this.conductor.move({ do: 'set', parameter: this.idOf('parameters', parameter), value });
  }

  mood(mood: string): void {
    this.conductor.move({ do: 'mood', mood: this.idOf('moods', mood) });
  }

  /** Where the listener is: metres east and north, and where they look, in degrees from north to the right. */
  listener(x: number, y: number, facing = 0): void {
    this.conductor.move({ do: 'listener', x, y, facing });
  }

  /** Where an emitter is; one that is named like a behaviour moves that behaviour. */
  emitter(emitter: string, x: number, y: number): void {
    this.conductor.move({ do: 'emitter', emitter: this.emitterOf(emitter), x, y });
  }

  /**
   * Lets an emitter go along a way, or the listener where none is named: through places in metres east and north, at metres a second. It goes on until it is
   * put somewhere.
   */
  walk(
    points: Walk['points'],
    speed: number,
    { way = 'once', emitter }: { readonly way?: Walk['way']; readonly emitter?: string } = {},
  ): void {
    this.conductor.move({ do: 'walk', points, speed, way, ...(emitter !== undefined && { emitter: this.emitterOf(emitter) }) });
  }

  /** Brings a load group into memory; resolves when all of it is there. */
  async load(group: string): Promise<void> {
    const id = this.idOf('groups', group);
    this.groups.add(id);
    await this.loadAssets(assetsOfGroup(this.data, id));
  }

  /** Gives a load group back; what plays of it plays to its end, and what another loaded group plays, too, stays. */
  unload(group: string): void {
    const id = this.idOf('groups', group);
    this.groups.delete(id);
    const needed = new Set([undefined, ...this.groups].flatMap((other) => assetsOfGroup(this.data, other)));
    for (const asset of assetsOfGroup(this.data, id)) {
      if (needed.has(asset)) continue;
      this.loaded.delete(asset);
      this.conductor.setAsset(asset, undefined);
    }
  }

  /** Goes on after the page was pressed: browsers make no sound before. */
  async resume(): Promise<void> {
    if (this.context instanceof AudioContext) await this.context.resume();
    this.conductor.run(true);
  }

  /** Stands still, in the middle of what sounds. */
  pause(): void {
    this.conductor.run(false);
  }

  close(): void {
    this.conductor.close();
    if (this.context instanceof AudioContext) void this.context.close();
  }

  /** Hands the data to the worklet; resolves when it holds. */
  begin(): Promise<void> {
    return new Promise((resolve) => {
      this.begun = resolve;
      this.conductor.setData(this.data);
    });
  }

  /** Brings recordings into memory that are not there yet. Rejects with the name of a file that cannot be read. */
  async loadAssets(assets: readonly string[]): Promise<void> {
    await Promise.all(
      assets.map((asset) => {
        const known = this.loaded.get(asset);
        if (known) return known;
        const loading = this.fetchAsset(asset);
        this.loaded.set(asset, loading);
        loading.catch(() => this.loaded.delete(asset));
        return loading;
      }),
    );
  }

  private async fetchAsset(asset: string): Promise<void> {
    const file = this.data.files[asset]?.file;
    if (file === undefined) throw new Error(`conduct.json names no file for “${asset}”.`);
    const response = await fetch(new URL(encodeURI(file).replace(/[?#]/g, encodeURIComponent), this.base));
    if (!response.ok) throw new Error(`“${file}” cannot be read: ${response.status} ${response.statusText}.`);
    const audio = await this.context.decodeAudioData(await response.arrayBuffer());
    this.conductor.setAsset(
      asset,
      Array.from({ length: Math.min(2, audio.numberOfChannels) }, (_, c) => audio.getChannelData(c)),
    );
  }

  private hear(report: FromConductor): void {
    const { sampleRate } = this.data;
    if (report.type === 'data') this.begun?.();
    else if (report.type === 'moved') this.moves.push({ at: report.frame / sampleRate, move: { ...report.move } });
    else {
      this.now = report.frame / sampleRate;
      this.sounding = report.sounding;
      if (report.events.length > 0) this.onlog?.(conductLog(this.data, report.events));
    }
  }

  private idOf(list: 'behaviours' | 'parameters' | 'moods' | 'groups', wanted: string): string {
    const all: readonly { readonly id: string; readonly name: string }[] = this.data[list];
    const found = all.find(({ id }) => id === wanted) ?? all.find(({ name }) => name === wanted);
    if (!found) throw new Error(`There is no “${wanted}” among the ${list}.`);
    return found.id;
  }

  private emitterOf(wanted: string): string {
    return this.data.behaviours.find(({ name }) => name === wanted)?.id ?? wanted;
  }
}
