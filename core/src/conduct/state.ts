import type { Frames } from '../units';
import type { ChoiceMemory } from './choose';
import type {
  Behaviour,
  ConductData,
  ConductEvent,
  GameBus,
  GameParameter,
  Heard,
  Mood,
  GameMove,
  Place,
  Stage,
  Walk,
} from './conduct-data';
import type { Listener } from './hearing';
import type { LaidWalk } from './walks';

/** How often what moves is looked at anew: a hundred times a second at 48 kHz. */
export const tick: Frames = 480;

/** What there is to be done at a frame. */
export type Due =
  | { readonly what: 'move'; readonly move: GameMove }
  /** A run begins after its delay; a run plays its next shot; a child of a run begins; a held run goes to its end. */
  | { readonly what: 'go'; readonly run: number }
  | { readonly what: 'shot'; readonly run: number }
  | { readonly what: 'leave'; readonly run: number }
  | { readonly what: 'child'; readonly run: number; readonly behaviour: string }
  | { readonly what: 'end'; readonly voice: number };

export type Scheduled = Due & { frame: Frames; readonly order: number };

/** One playing of one behaviour, from its call until nothing of it is left. */
export interface Run {
  readonly id: number;
  readonly behaviour: string;
  /** The run that it is a part of; 0 for what the game has called. */
  readonly parent: number;
  readonly emitter: string;
  /** Which call of its behaviour it is. */
  readonly call: number;
  /** What was drawn for it and for all that it is a part of: dB, semitones, and octaves of the cut. */
  readonly gain: number;
  readonly pitch: number;
  readonly octaves: number;
  /** Children, voices and things to be done that it still waits for. */
  alive: number;
  stopping: boolean;
  /** How far a Line or a Burst has come. */
  place: number;
  stage: Stage;
  /** A Start–Hold–End that was stopped in its start. */
  endsNext: boolean;
  /** It is part of the end of a Start–Hold–End, or was told to come to its end: nothing of it goes on without one. */
  ending: boolean;
  /** When a Line last began again. */
  round: Frames;
  /** The rate by which the next shot was set. */
  rate: number;
}

export interface Voice extends Heard {
  readonly id: number;
  readonly run: number;
  readonly behaviour: string;
  readonly asset: string;
  readonly frames: Frames;
  readonly loop: { readonly from: Frames; readonly to: Frames } | undefined;
  readonly started: Frames;
  /** Its pitch stays as it began: something joins its end. */
  readonly steady: boolean;
  /** How far it has come in its own frames, and when. */
  position: number;
  at: Frames;
  gain: number;
  ratio: number;
  highCut: number;
  pan: number;
  room: number;
  stopping: boolean;
}

/** What is remembered of a behaviour from call to call. */
export interface Memory extends ChoiceMemory {
  calls: number;
  place: number;
  lastFrame: Frames;
}

/** Everything that changes while behaviours play; plain data, so that it can be copied and run ahead. */
export interface ConductState {
  /** Everything before it is decided. */
  frame: Frames;
  nextTick: Frames;
  /** Number of the newest run or voice. */
  counter: number;
  /** Number of what was put there last to be done. */
  order: number;
  due: Scheduled[];
  runs: Map<number, Run>;
  voices: Map<number, Voice>;
  memories: Map<string, Memory>;
  /** Of game parameters: where each is, and where it goes. */
  parameters: Map<string, { value: number; target: number }>;
  /** Of buses: what moods add to each (dB), and what ducking takes. */
  buses: Map<string, { mood: number; target: number; step: number; duck: number }>;
  listener: Listener;
  emitters: Map<string, Place>;
  /** Who walks, and how far they have come: emitters by their names, the listener by none. */
  walks: Map<string, { readonly walk: Walk; readonly laid: LaidWalk; metres: number }>;
  /** How far emitters were from the listener at the last tick, in metres, and how fast they went away, in metres a second. */
  moving: Map<string, { readonly metres: number; readonly speed: number }>;
}

/** The data with the ways through it. */
export interface Score {
  readonly data: ConductData;
  readonly behaviours: ReadonlyMap<string, Behaviour>;
  readonly children: ReadonlyMap<string, readonly Behaviour[]>;
  /** From the root to the behaviour itself. */
  readonly lines: ReadonlyMap<string, readonly Behaviour[]>;
  readonly parameters: ReadonlyMap<string, GameParameter>;
  /** A bus and those that it goes through, to the last. */
  readonly busLines: ReadonlyMap<string, readonly GameBus[]>;
  readonly buses: ReadonlyMap<string, GameBus>;
  readonly moods: ReadonlyMap<string, Mood>;
}

/** What all that decides works on. */
export interface Scene {
  score: Score;
  state: ConductState;
  readonly emit: (event: ConductEvent) => void;
}

/** Finds the ways through the data. Throws RangeError where behaviours lie in a circle or within one that is not there. */
export function readScore(data: ConductData): Score {
  const behaviours = new Map(data.behaviours.map((behaviour) => [behaviour.id, behaviour]));
  const children = new Map<string, Behaviour[]>(data.behaviours.map(({ id }) => [id, []]));
  for (const behaviour of data.behaviours) if (behaviour.parent !== undefined) children.get(behaviour.parent)?.push(behaviour);
  const lines = new Map<string, readonly Behaviour[]>();
  for (const behaviour of data.behaviours) {
    const line: Behaviour[] = [];
    for (let at: Behaviour | undefined = behaviour; at;) {
      if (line.includes(at)) throw new RangeError(`“${behaviour.name}” lies within itself.`);
      line.unshift(at);
      const { parent }: Behaviour = at;
      at = parent === undefined ? undefined : behaviours.get(parent);
      if (parent !== undefined && !at) throw new RangeError(`“${behaviour.name}” lies within a behaviour “${parent}” that is not there.`);
    }
    lines.set(behaviour.id, line);
  }
  const byId = <T extends { readonly id: string }>(list: readonly T[]): ReadonlyMap<string, T> =>
    new Map(list.map((each) => [each.id, each]));
  return {
    data,
    behaviours,
    children,
    lines,
    parameters: byId(data.parameters),
    busLines: busLines(data.buses),
    buses: byId(data.buses),
    moods: byId(data.moods),
  };
}

/** Each bus with those that it goes through. Throws RangeError where they lie in a circle. */
export function busLines(buses: readonly GameBus[]): ReadonlyMap<string, readonly GameBus[]> {
  const byId = new Map(buses.map((bus) => [bus.id, bus]));
  return new Map(
    buses.map((bus) => {
      const line: GameBus[] = [];
      for (let at: GameBus | undefined = bus; at; at = byId.get(at.into ?? '')) {
        if (line.includes(at)) throw new RangeError(`The bus “${bus.name}” goes into itself.`);
        line.push(at);
      }
      return [bus.id, line];
    }),
  );
}

export function startState(data: ConductData): ConductState {
  return {
    frame: 0,
    nextTick: 0,
    counter: 0,
    order: 0,
    due: [],
    runs: new Map(),
    voices: new Map(),
    memories: new Map(),
    parameters: new Map(data.parameters.map(({ id, start }) => [id, { value: start, target: start }])),
    buses: new Map(data.buses.map(({ id }) => [id, { mood: 0, target: 0, step: 0, duck: 0 }])),
    listener: { x: 0, y: 0, facing: 0 },
    emitters: new Map(),
    walks: new Map(),
    moving: new Map(),
  };
}

/** Puts something to be done into its place: behind everything that was put there before for the same frame; moves come before all else. */
export function schedule({ state }: Scene, frame: Frames, due: Due): void {
  place(state.due, { ...due, frame: Math.max(frame, state.frame), order: ++state.order });
}

/** Moves may be known long before or come just in time: that must make no difference. */
const rank = ({ what }: Due): number => (what === 'move' ? 0 : 1);

const isBefore = (a: Scheduled, b: Scheduled): boolean =>
  a.frame !== b.frame ? a.frame < b.frame : rank(a) !== rank(b) ? rank(a) < rank(b) : a.order < b.order;

function place(list: Scheduled[], item: Scheduled): void {
  let [from, to] = [0, list.length];
  while (from < to) {
    const middle = (from + to) >> 1;
    if (isBefore(list[middle]!, item)) from = middle + 1;
    else to = middle;
  }
  list.splice(from, 0, item);
}

/** Takes away what was to be done; says how many things that were. */
export function unschedule({ state }: Scene, isGone: (due: Scheduled) => boolean): number {
  const before = state.due.length;
  state.due = state.due.filter((due) => !isGone(due));
  return before - state.due.length;
}

/** Brings what is due to other frames. */
export function reschedule({ state }: Scene, isMeant: (due: Scheduled) => boolean, frameFor: (due: Scheduled) => Frames): void {
  const meant = state.due.filter(isMeant);
  if (meant.length === 0) return;
  state.due = state.due.filter((due) => !isMeant(due));
  for (const due of meant) {
    due.frame = Math.max(frameFor(due), state.frame);
    place(state.due, due);
  }
}

export function memoryOf({ state }: Scene, behaviour: string): Memory {
  let memory = state.memories.get(behaviour);
  if (!memory) state.memories.set(behaviour, (memory = { calls: 0, place: 0, lastFrame: -Infinity, bag: [], recent: [] }));
  return memory;
}

/** Frames of a length in seconds. */
export const framesOf = ({ score }: Scene, seconds: number): Frames => Math.max(0, Math.round(seconds * score.data.sampleRate));
