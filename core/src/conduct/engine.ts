import type { Frames } from '../units';
import type { ConductData, ConductEvent, GameMove } from './conduct-data';
import { moveBuses, callMood } from './moods';
import { begin, go, leave, rateNow, release, shoot, stopRun } from './runs';
import type { ConductState, Scene, Scheduled } from './state';
import { readScore, reschedule, schedule, startState, tick } from './state';
import { layWalk, takeSteps } from './walks';
import { stopVoice, turnVoices, watchDistances } from './voices';

const quickFade: Frames = 480;

/**
 * Decides what is played in a game, when, and how it is heard. The same data and the same moves at the same frames give the same events, wherever it runs and
 * in whatever steps it is advanced.
 */
export class ConductEngine {
  private events: ConductEvent[] = [];
  private readonly scene: Scene;

  /** Throws RangeError where the data's behaviours are no tree. */
  constructor(data: ConductData, state: ConductState = startState(data)) {
    this.scene = { score: readScore(data), state, emit: (event) => this.events.push(event) };
  }

  /** Everything before it is decided. */
  get frame(): Frames {
    return this.scene.state.frame;
  }

  get data(): ConductData {
    return this.scene.score.data;
  }

  get state(): Readonly<ConductState> {
    return this.scene.state;
  }

  /** The game moves at a frame; what is past already happens at once. */
  move(move: GameMove, frame: Frames = this.frame): void {
    schedule(this.scene, frame, { what: 'move', move });
  }

  /** Decides everything up to a frame, and gives what came of it since the last time. */
  advance(to: Frames): ConductEvent[] {
    const { scene } = this;
    const { state } = scene;
    for (;;) {
      const next = state.due[0];
      if (next && next.frame < to && next.frame <= state.nextTick) {
        state.due.shift();
        state.frame = next.frame;
        act(scene, next);
      } else if (state.nextTick < to) {
        state.frame = state.nextTick;
        state.nextTick += tick;
        beat(scene);
      } else break;
    }
    state.frame = Math.max(state.frame, to);
    const { events } = this;
    this.events = [];
    return events;
  }

  /** Goes on with other data: what is no longer there, or of another kind, ends quickly. Throws RangeError where its behaviours are no tree. */
  replace(data: ConductData): void {
    const { scene } = this;
    const { state } = scene;
    const before = scene.score;
    const after = readScore(data);
    const isGone = (id: string): boolean => {
      const [was, is] = [before.behaviours.get(id), after.behaviours.get(id)];
      return !is || is.play.kind !== was?.play.kind || is.parent !== was.parent;
    };
    const rootOf = (id: number): number => {
      let at = state.runs.get(id);
      while (at && at.parent !== 0) at = state.runs.get(at.parent);
      return at?.id ?? 0;
    };
    const ended = new Set([...state.runs.values()].filter(({ behaviour }) => isGone(behaviour)).map(({ id }) => rootOf(id)));
    const of = new Map([...state.runs.keys()].map((id) => [id, rootOf(id)]));
    for (const voice of [...state.voices.values()]) {
      if (!ended.has(of.get(voice.run)!)) continue;
      stopVoice(scene, voice, quickFade);
      state.voices.delete(voice.id);
    }
    state.due = state.due.filter(
      (due) => due.what === 'move' || (due.what === 'end' ? state.voices.has(due.voice) : !ended.has(of.get(due.run)!)),
    );
    for (const [run, root] of of) if (ended.has(root)) state.runs.delete(run);
    scene.score = after;
    const fresh = startState(data);
    state.parameters = new Map([...fresh.parameters].map(([id, start]) => [id, state.parameters.get(id) ?? start]));
    state.buses = new Map([...fresh.buses].map(([id, start]) => [id, state.buses.get(id) ?? start]));
  }
}

function act(scene: Scene, due: Scheduled): void {
  const { state, score } = scene;
  switch (due.what) {
    case 'move':
      return make(scene, due.move);
    case 'end': {
      const voice = state.voices.get(due.voice);
      if (!voice) return;
      state.voices.delete(voice.id);
      scene.emit({ do: 'end', frame: state.frame, voice: voice.id });
      return release(scene, state.runs.get(voice.run));
    }
    default: {
      const run = state.runs.get(due.run);
      if (!run) return;
      if (due.what === 'child') begin(scene, score.behaviours.get(due.behaviour)!, run, run.emitter);
      else if (due.what === 'go') go(scene, run);
      else if (due.what === 'shot') shoot(scene, run);
      else leave(scene, run, 0);
      return release(scene, run);
    }
  }
}

function make(scene: Scene, move: GameMove): void {
  const { state, score } = scene;
  switch (move.do) {
    case 'trigger': {
      const behaviour = score.behaviours.get(move.behaviour);
      if (!behaviour) return;
      scene.emit({ do: 'call', frame: state.frame, behaviour: behaviour.id });
      return begin(scene, behaviour, undefined, move.emitter ?? behaviour.id);
    }
    case 'stop':
      for (const run of [...state.runs.values()])
        if (run.parent === 0 && run.behaviour === move.behaviour && (move.emitter ?? run.emitter) === run.emitter) stopRun(scene, run);
      return;
    case 'set': {
      const [now, range] = [state.parameters.get(move.parameter), score.parameters.get(move.parameter)];
      if (!now || !range) return;
      now.target = Math.min(range.high, Math.max(range.low, move.value));
      if (range.smoothing <= 0) now.value = now.target;
      return;
    }
    case 'mood':
      return callMood(scene, move.mood);
    case 'listener':
      state.walks.delete('');
      state.listener = { x: move.x, y: move.y, facing: move.facing };
      return;
    case 'emitter':
      state.walks.delete(move.emitter);
      state.emitters.set(move.emitter, { x: move.x, y: move.y });
      return;
    case 'walk':
      if (move.points.length > 0) state.walks.set(move.emitter ?? '', { walk: move, laid: layWalk(move), metres: 0 });
  }
}

/** What goes on by itself, a hundred times a second. */
function beat(scene: Scene): void {
  const { state, score } = scene;
  for (const [id, now] of state.parameters) {
    const range = score.parameters.get(id);
    if (!range || now.value === now.target) continue;
    const seconds = tick / score.data.sampleRate;
    now.value += (now.target - now.value) * (range.smoothing > 0 ? 1 - Math.exp(-seconds / range.smoothing) : 1);
    if (Math.abs(now.target - now.value) < 1e-6 * (range.high - range.low)) now.value = now.target;
  }
  moveBuses(scene);
  takeSteps(scene);
  watchDistances(scene);
  turnVoices(scene);
  hastenShots(scene);
}

/** Who waits for its next shot waits less long, or longer, as soon as its rate is another. */
function hastenShots(scene: Scene): void {
  const { state, score } = scene;
  for (const { id, behaviour, rate } of state.runs.values()) {
    const own = score.behaviours.get(behaviour)!;
    if (own.pulls.length === 0) continue;
    const now = rateNow(scene, own);
    if (Math.abs(now / rate - 1) < 1e-3) continue;
    state.runs.get(id)!.rate = now;
    reschedule(
      scene,
      (due) => due.what === 'shot' && due.run === id,
      ({ frame }) => state.frame + Math.max(1, Math.round(((frame - state.frame) * rate) / now)),
    );
  }
}
