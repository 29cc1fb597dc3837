import { createRandom, seedOf } from '../dsp/random';
import type { Random } from '../dsp/random';
import type { Frames } from '../units';
import { chooseByChance, chooseByPlace, chooseShuffled } from './choose';
import type { Behaviour, Play, Stage, WhySkipped } from './conduct-data';
import { callMood } from './moods';
import type { Run, Scene, Voice } from './state';
import { framesOf, memoryOf, schedule, unschedule } from './state';
import { placeInRange, positionAt, pulled, startVoice, stopVoice } from './voices';

/** So many runs at once are more than any game needs: bursts of bursts would go on until nothing is left for anything else. */
const mostRuns = 1_000;
/** No two shots come closer: a millisecond at 48 kHz. */
const closestShots: Frames = 48;

type PlayOf<K extends Play['kind']> = Extract<Play, { readonly kind: K }>;

/** Begins a behaviour, for the game or for the run that it is a part of, unless chance or its cool-down are against it. */
export function begin(scene: Scene, behaviour: Behaviour, parent: Run | undefined, emitter: string): void {
  const { state, score } = scene;
  const memory = memoryOf(scene, behaviour.id);
  const call = memory.calls++;
  const random = createRandom(seedOf(score.data.seed, behaviour.id, call));
  const [chance, gain, pitch, cut, delay] = [random.next(), bothWays(random), bothWays(random), bothWays(random), random.next()];
  if (!(chance < behaviour.chance + pulled(scene, behaviour, 'chance'))) return skip(scene, behaviour, 'chance');
  if (state.frame - memory.lastFrame < framesOf(scene, behaviour.coolDown)) return skip(scene, behaviour, 'cooling down');
  if (state.runs.size >= mostRuns) return skip(scene, behaviour, 'no voice free');
  memory.lastFrame = state.frame;
  if (behaviour.mood !== undefined) callMood(scene, behaviour.mood);
  const run: Run = {
    id: ++state.counter,
    behaviour: behaviour.id,
    parent: parent?.id ?? 0,
    emitter,
    call,
    gain: (parent?.gain ?? 0) + gain * behaviour.gainSpread,
    pitch: (parent?.pitch ?? 0) + pitch * behaviour.pitchSpread,
    octaves: (parent?.octaves ?? 0) + cut * behaviour.highCutSpread,
    alive: 0,
    stopping: false,
    place: 0,
    stage: 'start',
    endsNext: false,
    ending: !!parent && (parent.ending || parent.stage === 'end'),
    round: -1,
    rate: 1,
  };
  state.runs.set(run.id, run);
  if (parent) parent.alive++;
  const later = framesOf(scene, behaviour.delay + delay * behaviour.delaySpread);
  if (later === 0) go(scene, run);
  else wait(scene, run, later, { what: 'go', run: run.id });
}

const bothWays = (random: Random): number => random.next() * 2 - 1;

function skip(scene: Scene, { id }: Behaviour, why: WhySkipped): void {
  scene.emit({ do: 'skip', frame: scene.state.frame, behaviour: id, why });
}

/** The run goes on as long as something is to be done for it. */
function wait(scene: Scene, run: Run, frames: Frames, due: Parameters<typeof schedule>[2]): void {
  run.alive++;
  schedule(scene, scene.state.frame + frames, due);
}

/** What happens meanwhile does not end the run; afterwards it is seen whether it is over. */
function holding(scene: Scene, run: Run, action: () => void): void {
  run.alive++;
  action();
  run.alive--;
  settle(scene, run);
}

/** Something that the run has waited for is over. */
export function release(scene: Scene, run: Run | undefined): void {
  if (!run) return;
  run.alive--;
  settle(scene, run);
}

/** Ends a run that waits for nothing any more, or lets it go on. */
function settle(scene: Scene, run: Run): void {
  if (run.alive > 0 || !scene.state.runs.has(run.id)) return;
  if (!run.stopping) goOn(scene, run);
  if (run.alive > 0 || !scene.state.runs.delete(run.id)) return;
  release(scene, scene.state.runs.get(run.parent));
}

function childrenOf({ score }: Scene, { behaviour }: Run): readonly Behaviour[] {
  return score.children.get(behaviour) ?? [];
}

function beginChild(scene: Scene, run: Run, child: Behaviour | undefined): void {
  if (child) begin(scene, child, run, run.emitter);
}

/** What a run does when it begins, after its delay. */
export function go(scene: Scene, run: Run): void {
  holding(scene, run, () => {
    const { score } = scene;
    const behaviour = score.behaviours.get(run.behaviour)!;
    const { play } = behaviour;
    const children = childrenOf(scene, run);
    if (play.kind !== 'one' && children.length === 0) return skip(scene, behaviour, 'nothing to play');
    const random = createRandom(seedOf(score.data.seed, run.behaviour, run.call, 'choice'));
    switch (play.kind) {
      case 'one':
        return playOne(scene, run, behaviour, play, random);
      case 'pick':
        return beginChild(scene, run, picked(scene, run, play, children, random));
      case 'line': {
        if (play.step === 'through') return beginChild(scene, run, children[0]);
        const memory = memoryOf(scene, run.behaviour);
        const place = play.again ? memory.place % children.length : Math.min(memory.place, children.length - 1);
        memory.place = place + 1;
        return beginChild(scene, run, children[place]);
      }
      case 'burst':
        return shoot(scene, run);
      case 'sprinkle':
        return run.ending ? undefined : waitForShot(scene, run);
      case 'stack':
        for (const child of children) {
          const offset = framesOf(scene, child.slot.offset);
          if (offset === 0) beginChild(scene, run, child);
          else wait(scene, run, offset, { what: 'child', run: run.id, behaviour: child.id });
        }
        return;
      case 'blend':
        for (const child of children) beginChild(scene, run, child);
        return;
      case 'hold':
        run.endsNext = run.ending;
        return beginChild(scene, run, atStage(children, 'start'));
    }
  });
}

function playOne(scene: Scene, run: Run, behaviour: Behaviour, play: PlayOf<'one'>, random: Random): void {
  const takes = scene.score.data.takes[play.sound];
  const family = play.from === 'family' && takes && takes.family.length > 0 ? takes.family : takes?.original ? [takes.original] : [];
  const chosen = chooseShuffled(family.length, play.avoid, memoryOf(scene, behaviour.id), random);
  // A recording of no length is one that is not there yet.
  if (chosen === undefined || family[chosen]!.frames < 1) skip(scene, behaviour, 'nothing to play');
  else if (!startVoice(scene, run, family[chosen]!, play.loops && !run.ending)) skip(scene, behaviour, 'no voice free');
}

function picked(scene: Scene, run: Run, play: PlayOf<'pick'>, children: readonly Behaviour[], random: Random): Behaviour | undefined {
  const weights = children.map(({ slot }) => slot.weight);
  const memory = memoryOf(scene, run.behaviour);
  if (play.by === 'shuffle') return children[chooseShuffled(children.length, play.avoid, memory, random) ?? -1];
  if (play.by === 'chance') return children[chooseByChance(weights, play.avoid, memory, random) ?? -1];
  return children[chooseByPlace(weights, placeInRange(scene, play.parameter)) ?? -1];
}

const atStage = (children: readonly Behaviour[], stage: Stage): Behaviour | undefined => children.find(({ slot }) => slot.stage === stage);

/** A run has nothing left that it waits for: a Line goes to its next child, a Start–Hold–End to its next stage. */
function goOn(scene: Scene, run: Run): void {
  const { play } = scene.score.behaviours.get(run.behaviour)!;
  if (play.kind === 'line' && play.step === 'through') holdingOnly(run, () => nextOfLine(scene, run, play));
  if (play.kind === 'hold') holdingOnly(run, () => nextStage(scene, run));
}

/** As `holding`, for who sees to the rest. */
function holdingOnly(run: Run, action: () => void): void {
  run.alive++;
  action();
  run.alive--;
}

function nextOfLine(scene: Scene, run: Run, play: PlayOf<'line'>): void {
  const children = childrenOf(scene, run);
  const { state } = scene;
  // One is what `holdingOnly` holds: as soon as anything else is there, the line waits for it.
  while (run.alive === 1) {
    run.place++;
    if (run.place >= children.length) {
      // A round in which nothing sounds would never end.
      if (!play.again || run.ending || run.round === state.frame) return;
      run.round = state.frame;
      run.place = 0;
    }
    const child = children[run.place];
    const gap = framesOf(scene, play.gap);
    if (child && gap > 0) wait(scene, run, gap, { what: 'child', run: run.id, behaviour: child.id });
    else beginChild(scene, run, child);
  }
}

function nextStage(scene: Scene, run: Run): void {
  const children = childrenOf(scene, run);
  while (run.alive === 1 && run.stage !== 'end') {
    run.stage = run.stage === 'start' && !run.endsNext ? 'hold' : 'end';
    beginChild(scene, run, atStage(children, run.stage));
  }
}

/** Burst and Sprinkle: plays a shot, and sets when the next one comes. */
export function shoot(scene: Scene, run: Run): void {
  holding(scene, run, () => {
    const children = childrenOf(scene, run);
    const { play } = scene.score.behaviours.get(run.behaviour)!;
    const shots = play.kind === 'burst' ? play.shots : 0;
    const first = run.place === 0 ? atStage(children, 'start') : undefined;
    const last = shots > 0 && run.place === shots - 1 ? atStage(children, 'end') : undefined;
    beginChild(scene, run, last ?? first ?? anyShot(scene, run, children));
    run.place++;
    if (shots === 0 ? !run.ending : run.place < shots) waitForShot(scene, run);
  });
}

function anyShot(scene: Scene, run: Run, children: readonly Behaviour[]): Behaviour | undefined {
  const each = children.filter(({ slot }) => slot.stage === 'hold');
  const random = createRandom(seedOf(scene.score.data.seed, run.behaviour, run.call, run.place, 'shot'));
  return each[chooseShuffled(each.length, Math.min(1, each.length - 1), memoryOf(scene, run.behaviour), random) ?? -1];
}

function waitForShot(scene: Scene, run: Run): void {
  const behaviour = scene.score.behaviours.get(run.behaviour)!;
  const { play } = behaviour;
  const chance = createRandom(seedOf(scene.score.data.seed, run.behaviour, run.call, run.place, 'interval')).next();
  run.rate = rateNow(scene, behaviour);
  const interval =
    play.kind === 'burst'
      ? (1 + (chance * 2 - 1) * play.uneven) / play.rate
      : play.kind === 'sprinkle'
        ? play.shortest + chance * Math.max(0, play.longest - play.shortest)
        : 0;
  wait(scene, run, Math.max(closestShots, framesOf(scene, interval / run.rate)), { what: 'shot', run: run.id });
}

/** By how much game parameters raise a rate. */
export function rateNow(scene: Scene, behaviour: Behaviour): number {
  return Math.pow(2, Math.max(-10, Math.min(10, pulled(scene, behaviour, 'rate'))));
}

/** Ends a run, each behaviour in its own way. `fade` overrules the fades of what sounds. */
export function stopRun(scene: Scene, run: Run, fade?: Frames): void {
  if (run.stopping) return;
  const { play } = scene.score.behaviours.get(run.behaviour)!;
  const begun = !scene.state.due.some((due) => due.what === 'go' && due.run === run.id);
  if (play.kind === 'hold' && begun) return stopHold(scene, run, play);
  run.stopping = true;
  holding(scene, run, () => {
    run.alive -= unschedule(scene, (due) => 'run' in due && due.run === run.id);
    stopWithin(scene, run, fade);
  });
}

const partsOf = ({ state }: Scene, run: Run): Run[] => [...state.runs.values()].filter(({ parent }) => parent === run.id);

/** Ends everything that a run has begun. */
function stopWithin(scene: Scene, run: Run, fade?: Frames): void {
  const { state } = scene;
  for (const child of partsOf(scene, run)) stopRun(scene, child, fade);
  for (const voice of [...state.voices.values()]) if (voice.run === run.id) stopVoice(scene, voice, fade ?? fadeOutOf(scene, run));
}

/** The longest fade of the run's behaviour and of all that it is a part of. */
const fadeOutOf = (scene: Scene, { behaviour }: Run): Frames =>
  framesOf(scene, Math.max(...scene.score.lines.get(behaviour)!.map(({ fadeOut }) => fadeOut)));

function stopHold(scene: Scene, run: Run, play: PlayOf<'hold'>): void {
  if (run.endsNext || run.stage === 'end') return;
  run.endsNext = true;
  if (run.stage === 'start' && play.stopInStart === 'finish') return letEnd(scene, run);
  const round = run.stage === 'hold' && play.leave === 'end of round' ? roundLeft(scene, run) : undefined;
  if (round !== undefined) wait(scene, run, round, { what: 'leave', run: run.id });
  else leave(scene, run, framesOf(scene, play.release));
}

/** What a run has begun may finish; what would go on without end is stopped. */
function letEnd(scene: Scene, run: Run): void {
  for (const child of partsOf(scene, run)) {
    child.ending = true;
    if (isEndless(scene.score.behaviours.get(child.behaviour)!.play)) stopRun(scene, child);
    else letEnd(scene, child);
  }
}

function isEndless(play: Play): boolean {
  switch (play.kind) {
    case 'one':
      return play.loops;
    case 'line':
      return play.again && play.step === 'through';
    case 'burst':
      return play.shots === 0;
    default:
      return play.kind === 'sprinkle' || play.kind === 'hold';
  }
}

/** A Start–Hold–End goes to its end: what held goes within `fade`. */
export function leave(scene: Scene, run: Run, fade: Frames): void {
  holding(scene, run, () => {
    run.stage = 'end';
    stopWithin(scene, run, fade);
    beginChild(scene, run, atStage(childrenOf(scene, run), 'end'));
  });
}

/** Frames until the loop that a run holds comes round. */
function roundLeft(scene: Scene, run: Run): Frames | undefined {
  const { state } = scene;
  const isWithin = (voice: Voice): boolean => {
    for (let at = state.runs.get(voice.run); at; at = state.runs.get(at.parent)) if (at.id === run.id) return true;
    return false;
  };
  const looped = [...state.voices.values()].find((voice) => voice.loop && !voice.stopping && isWithin(voice));
  if (!looped?.loop) return undefined;
  return Math.max(0, Math.round((looped.loop.to - positionAt(looped, state.frame)) / looped.ratio));
}
