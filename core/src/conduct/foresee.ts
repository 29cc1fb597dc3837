import type { Frames } from '../units';
import type { ConductEvent, GameMove } from './conduct-data';
import { ConductEngine } from './engine';
import type { ConductState } from './state';

/** What comes, as far as it can be known. */
export interface Foreseen {
  /** What comes whatever happens. */
  readonly coming: readonly ConductEvent[];
  /** What comes if the roots that play nothing now are called, and which these are. */
  readonly called: readonly ConductEvent[];
  readonly assumed: ReadonlySet<string>;
}

/** So many calls tell how often something is called. */
const paceCalls = 6;

/**
 * Runs ahead of an engine, without touching it: what plays goes on with its seed and parameters; what does not is called as often as it was lately, or once,
 * after `first` frames. Only roots are called, and only those that play nothing now.
 */
export function foresee(engine: ConductEngine, past: readonly ConductEvent[], horizon: Frames, first: Frames): Foreseen {
  const { frame, data, state } = engine;
  const playing = new Set([...state.runs.values()].filter(({ parent }) => parent === 0).map(({ behaviour }) => behaviour));
  const assumed = new Set<string>();
  const moves: { frame: Frames; move: GameMove }[] = [];
  for (const { id, parent } of data.behaviours) {
    if (parent !== undefined) continue;
    const calls = past.flatMap((event) => (event.do === 'call' && event.behaviour === id ? [event.frame] : [])).slice(-paceCalls);
    const pace = calls.length > 1 ? (calls.at(-1)! - calls[0]!) / (calls.length - 1) : undefined;
    // What sounds to its end and is called again and again is played as much as what has ended.
    if (playing.has(id) && pace === undefined) continue;
    assumed.add(id);
    const next = pace === undefined || calls.at(-1)! + 2 * pace < frame ? frame + first : Math.max(frame + 1, calls.at(-1)! + pace);
    for (let at = next; at < frame + horizon; at += pace ?? Infinity)
      moves.push({ frame: Math.round(at), move: { do: 'trigger', behaviour: id } });
  }
  return { coming: lookAhead(engine, frame + horizon), called: lookAhead(engine, frame + horizon, moves), assumed };
}

/** What comes of an engine if nothing but these moves happens, without touching it. */
export function lookAhead(
  engine: ConductEngine,
  to: Frames,
  moves: readonly { readonly frame: Frames; readonly move: GameMove }[] = [],
): ConductEvent[] {
  const copy = new ConductEngine(engine.data, copyState(engine.state));
  for (const { frame, move } of moves) copy.move(move, frame);
  return copy.advance(to);
}

function copyState(state: Readonly<ConductState>): ConductState {
  const copied = <K, V extends object>(map: ReadonlyMap<K, V>): Map<K, V> => new Map([...map].map(([key, value]) => [key, { ...value }]));
  return {
    ...state,
    due: state.due.map((due) => ({ ...due })),
    runs: copied(state.runs),
    voices: copied(state.voices),
    memories: new Map([...state.memories].map(([id, memory]) => [id, { ...memory, bag: [...memory.bag], recent: [...memory.recent] }])),
    parameters: copied(state.parameters),
    buses: copied(state.buses),
    emitters: new Map(state.emitters),
    walks: copied(state.walks),
    moving: new Map(state.moving),
  };
}

/** How long a voice sounds, and how loud on its way. */
export interface VoiceSpan {
  readonly voice: number;
  readonly behaviour: string;
  readonly from: Frames;
  /** Undefined while it is not known. */
  to: Frames | undefined;
  /** Its gain as a plain factor, from these frames on. */
  readonly gains: { readonly frame: Frames; readonly gain: number }[];
  readonly loops: boolean;
}

/** Adds what was decided to the voices that are known, in the order of the events. */
export function followVoices(spans: Map<number, VoiceSpan>, events: readonly ConductEvent[]): void {
  for (const event of events) {
    if (event.do === 'play')
      spans.set(event.voice, {
        voice: event.voice,
        behaviour: event.behaviour,
        from: event.frame,
        to: undefined,
        gains: [{ frame: event.frame, gain: event.gain }],
        loops: event.loop !== undefined,
      });
    else if (event.do === 'turn') {
      const gains = spans.get(event.voice)?.gains;
      // Finer than this, nobody sees it.
      if (gains && Math.abs(gains.at(-1)!.gain - event.gain) > 0.01) gains.push({ frame: event.frame, gain: event.gain });
    } else if (event.do === 'stop' || event.do === 'end') {
      const span = spans.get(event.voice);
      if (span) span.to ??= event.frame + (event.do === 'stop' ? event.fade : 0);
    }
  }
}
