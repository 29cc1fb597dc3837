import { computed, effect, inject, untracked } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withProps, withState } from '@ngrx/signals';
import type { ConductData, ConductEvent, GameMove, LogEntry, Performance, TimedMove, Walk } from '@tangled-choir/core';
import { ConductEngine, conductLog } from '@tangled-choir/core';
import type { Conductor, FromConductor } from '@tangled-choir/player';
import { ConductOutput } from '../engine/conduct-output';
import { ConductTakes } from './conduct-takes.store';
import { Notices } from './notices';
import { Playback } from './playback.store';

interface SimulatorState {
  /** “held” stands still in the middle of what sounds. */
  readonly phase: 'idle' | 'starting' | 'running' | 'held';
  /** How far it has come, in frames. */
  readonly frame: number;
  /** Rises with everything that changes what comes: moves, and other data. */
  readonly revision: number;
  /** What was decided lately. */
  readonly events: readonly ConductEvent[];
  /** What was done since the beginning. */
  readonly moves: readonly TimedMove[];
  /** What was done before it went back to its beginning: whoever goes back too soon loses nothing. */
  readonly last: Performance | undefined;
  /** Voices that sound, and the highest sample lately, linear. */
  readonly sounding: number;
  readonly peak: number;
  /** Where the listener is, and emitters that were moved. */
  readonly listener: { readonly x: number; readonly y: number; readonly facing: number };
  readonly emitters: ReadonlyMap<string, { readonly x: number; readonly y: number }>;
  /** Who walks along which way: emitters by their ids, the listener by no letters. */
  readonly walks: ReadonlyMap<string, Walk>;
  /** What game parameters were set to. */
  readonly values: ReadonlyMap<string, number>;
  /** Where it holds by itself, in frames: at the end of a script. */
  readonly ends: number;
}

const idle: SimulatorState = {
  phase: 'idle',
  frame: 0,
  revision: 0,
  events: [],
  moves: [],
  last: undefined,
  sounding: 0,
  peak: 0,
  listener: { x: 0, y: 0, facing: 0 },
  emitters: new Map(),
  walks: new Map(),
  values: new Map(),
  ends: Infinity,
};

/** So many decisions are remembered for the pictures; the script remembers all moves. */
const mostEvents = 4_000;

/**
 * Tries behaviours: the player's worklet decides and sounds; beside it the page makes the same moves at the same frames on an engine of its own, and so knows
 * what was decided and what will be.
 */
export const Simulator = signalStore(
  withState<SimulatorState>(idle),
  withProps(() => ({
    _output: inject(ConductOutput),
    _takes: inject(ConductTakes),
    _playback: inject(Playback),
    _notices: inject(Notices),
    /** The page's own engine. */
    _mirror: { engine: undefined as ConductEngine | undefined },
  })),
  withComputed(({ phase, events, frame, _takes: takes }) => ({
    running: computed(() => phase() === 'running'),
    /** It has begun, and can go on. */
    begun: computed(() => phase() === 'running' || phase() === 'held'),
    seconds: computed(() => frame() / (takes.data()?.sampleRate ?? 48_000)),
    /** What was decided lately, as lines. */
    log: computed((): readonly LogEntry[] => {
      const data = takes.data();
      return data ? conductLog(data, events()) : [];
    }),
  })),
  withMethods((store) => {
    const { _output: output, _takes: takes, _playback: playback, _notices: notices, _mirror: mirror } = store;
    /** Data on its way to the worklet, by number. */
    const underWay = new Map<number, ConductData>();
    const given = new Map<string, unknown>();
    let conductor: Conductor | undefined;
    /** Gains of voices as they were remembered last: a wind that moves a hundred times a second would crowd out all else. */
    const gains = new Map<number, number>();
    const isSeen = (voice: number, gain: number): boolean => {
      if (Math.abs((gains.get(voice) ?? 0) - gain) < 0.02) return false;
      gains.set(voice, gain);
      return true;
    };

    const take = (events: readonly ConductEvent[]): void => {
      const kept = events.filter((event) => event.do !== 'turn' || isSeen(event.voice, event.gain));
      for (const event of kept) {
        if (event.do === 'play') gains.set(event.voice, event.gain);
        else if (event.do === 'end') gains.delete(event.voice);
      }
      if (kept.length > 0) patchState(store, (state) => ({ events: [...state.events, ...kept].slice(-mostEvents) }));
    };
    /** Moves that were made known before their time. */
    const coming: { readonly frame: number; readonly move: GameMove }[] = [];
    /** Shows what a script sets. */
    const follow = (made: GameMove): void => {
      if (made.do === 'set') patchState(store, ({ values }) => ({ values: new Map(values).set(made.parameter, made.value) }));
      if (made.do === 'listener') patchState(store, { listener: { x: made.x, y: made.y, facing: made.facing } });
      if (made.do === 'emitter')
        patchState(store, ({ emitters }) => ({ emitters: new Map(emitters).set(made.emitter, { x: made.x, y: made.y }) }));
    };
    /** Shows where they are that walk, and where they stand in the end. */
    const watchWalks = ({ state: { listener, emitters, walks } }: ConductEngine): void => {
      // Who does not walk may be held by a hand, which knows better.
      const walking = new Set([...walks.keys(), ...store.walks().keys()]);
      if (walking.size === 0) return;
      patchState(store, (shown) => ({
        listener: walking.has('') ? listener : shown.listener,
        emitters: new Map([...shown.emitters, ...[...emitters].filter(([who]) => walking.has(who))]),
        walks: new Map([...walks].map(([who, { walk }]) => [who, walk])),
      }));
    };
    const changed = (): void => patchState(store, ({ revision }) => ({ revision: revision + 1 }));

    /** Stands still, in the middle of what sounds. */
    const hold = (): void => {
      if (store.phase() !== 'running') return;
      conductor?.run(false);
      output.measure('hold');
      patchState(store, { phase: 'held', peak: 0, ends: Infinity });
    };

    const hear = (report: FromConductor): void => {
      if (store.phase() === 'idle') return;
      switch (report.type) {
        case 'data': {
          const data = underWay.get(report.serial);
          underWay.delete(report.serial);
          if (!data) return;
          if (mirror.engine) {
            take(mirror.engine.advance(report.frame));
            mirror.engine.replace(data);
          } else mirror.engine = new ConductEngine(data);
          return changed();
        }
        case 'moved': {
          const { engine } = mirror;
          if (!engine) return;
          take(engine.advance(report.known));
          engine.move(report.move, report.frame);
          const at = report.frame / engine.data.sampleRate;
          patchState(store, ({ moves }) => ({ moves: [...moves, { at, move: report.move }] }));
          // What is made at once was shown when it was asked for.
          if (report.frame > report.known) coming.push(report);
          return changed();
        }
        case 'beat': {
          const { frame, sounding, peak } = report;
          if (mirror.engine) take(mirror.engine.advance(frame));
          // The last one comes after it was held.
          patchState(store, { frame, sounding, peak: store.phase() === 'running' ? peak : 0 });
          while (coming[0] && coming[0].frame <= frame) follow(coming.shift()!.move);
          if (mirror.engine) watchWalks(mirror.engine);
          if (store.phase() === 'running' && frame >= store.ends()) hold();
        }
      }
    };

    const giveAssets = (): void => {
      if (!conductor) return;
      const assets = takes.assets();
      for (const [id, audio] of assets) {
        if (given.get(id) === audio) continue;
        given.set(id, audio);
        conductor.setAsset(id, audio.channels);
      }
      for (const id of given.keys())
        if (!assets.has(id)) {
          given.delete(id);
          conductor.setAsset(id, undefined);
        }
    };

    const giveData = (data: ConductData): void => {
      giveAssets();
      if (conductor) underWay.set(conductor.setData(data), data);
    };

    const move = (wanted: GameMove): void => conductor?.move(wanted);

    /** Begins, or goes on; rejects nothing, tells what went wrong. */
    const run = async (script: readonly TimedMove[] = []): Promise<boolean> => {
      const data = takes.data();
      if (!data || store.phase() === 'starting') return false;
      if (store.phase() === 'running') return true;
      playback.stop();
      const before = store.phase();
      patchState(store, { phase: 'starting' });
      try {
        conductor = await output.start(data.sampleRate);
        conductor.onreport = hear;
        patchState(store, { phase: 'running' });
        if (before === 'idle') {
          giveData(takes.data() ?? data);
          // What was set before it began holds from its beginning.
          move({ do: 'listener', ...store.listener() });
          for (const [parameter, value] of store.values()) move({ do: 'set', parameter, value });
          for (const [emitter, place] of store.emitters()) move({ do: 'emitter', emitter, ...place });
          for (const each of script) if (each.at === 0) follow(each.move);
          for (const each of script) conductor.move(each.move, Math.round(each.at * data.sampleRate));
        }
        conductor.run(true);
        output.measure('run');
        return true;
      } catch (error) {
        patchState(store, { phase: before });
        notices.error(`The simulator could not be started: ${error instanceof Error ? error.message : String(error)}`);
        return false;
      }
    };

    /** Back to the beginning: nothing was called yet. What parameters were set to, and who stands where, stays. */
    const rewind = (): void => {
      conductor?.run(false);
      conductor?.reset();
      output.measure('hold');
      output.measure('afresh');
      underWay.clear();
      gains.clear();
      coming.length = 0;
      mirror.engine = undefined;
      patchState(store, ({ listener, emitters, values, revision, moves, last }) => ({
        ...idle,
        listener,
        emitters,
        values,
        revision: revision + 1,
        last: moves.length > 0 ? { moves, seconds: store.seconds() } : last,
      }));
    };

    return {
      run: (): Promise<boolean> => run(),
      /** What decides beside the worklet: to look ahead, never to be moved. */
      engine: (): ConductEngine | undefined => mirror.engine,
      hold,
      rewind,
      /** Plays a script from the beginning, and holds at its end. */
      async playScript({ moves, seconds }: Performance): Promise<void> {
        rewind();
        patchState(store, {
          listener: idle.listener,
          values: new Map(),
          emitters: new Map(),
          ends: seconds * (takes.data()?.sampleRate ?? 48_000),
        });
        await run(moves);
      },
      /** Calls a behaviour; begins where that has not been done. */
      async trigger(behaviour: string): Promise<void> {
        if (await run()) move({ do: 'trigger', behaviour });
      },
      stop: (behaviour: string): void => move({ do: 'stop', behaviour }),
      mood: (mood: string): void => move({ do: 'mood', mood }),
      set(parameter: string, value: number): void {
        patchState(store, ({ values }) => ({ values: new Map(values).set(parameter, value) }));
        move({ do: 'set', parameter, value });
      },
      listen(x: number, y: number, facing: number): void {
        patchState(store, { listener: { x, y, facing } });
        move({ do: 'listener', x, y, facing });
      },
      place(emitter: string, x: number, y: number): void {
        patchState(store, ({ emitters }) => ({ emitters: new Map(emitters).set(emitter, { x, y }) }));
        move({ do: 'emitter', emitter, x, y });
      },
      /** How loud what was heard is, all of it since the beginning. */
      levels: () => output.levels(),
      /** Lets an emitter walk, or the listener where none is named; begins where that has not been done. */
      async walk({ points, speed, way }: Walk, emitter?: string): Promise<void> {
        if (await run()) move({ do: 'walk', points, speed, way, ...(emitter !== undefined && { emitter }) });
      },
      giveData,
    };
  }),
  withHooks((store) => ({
    onInit(): void {
      // Everything can be changed while it runs.
      effect(() => {
        const data = store._takes.data();
        if (data && untracked(store.begun)) untracked(() => store.giveData(data));
      });
    },
    onDestroy: () => store.rewind(),
  })),
);

export type Simulator = InstanceType<typeof Simulator>;
