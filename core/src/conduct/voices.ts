import type { Frames } from '../units';
import { decibelsToGain, semitonesToRatio } from '../units';
import type { Behaviour, GameBus, GamePull, Heard, PulledProperty, Take } from './conduct-data';
import { heightAt, ownTurn } from './curve';
import { dopplerRatio, hearAt, openCut } from './hearing';
import type { Run, Scene, Voice } from './state';
import { framesOf, reschedule, schedule, tick } from './state';

/** How long a voice takes to give way to another. */
const givingWay: Frames = 480;
const silent = -90;
/** Faster than this nothing goes: it was put elsewhere. */
const fastest = 120;

/** What game parameters add to a property of a behaviour right now, in the property's own steps. */
export function pulled(scene: Scene, { pulls }: { readonly pulls: readonly GamePull[] }, property: PulledProperty): number {
  let sum = 0;
  for (const pull of pulls) {
    const parameter = pull.property === property ? scene.state.parameters.get(pull.parameter) : undefined;
    if (parameter) sum += heightAt(pull.points, parameter.value);
  }
  return sum;
}

/** Where a parameter stands within its range, 0 to 1. */
export function placeInRange({ score, state }: Scene, id: string): number {
  const range = score.parameters.get(id);
  const now = state.parameters.get(id);
  return range && now && range.high > range.low ? (now.value - range.low) / (range.high - range.low) : 0;
}

/** The share of power that a child has in a Blend. */
export function blendShare(scene: Scene, parent: Behaviour, child: Behaviour): number {
  if (parent.play.kind !== 'blend') return 1;
  const siblings = scene.score.children.get(parent.id) ?? [];
  const curve = child.slot.curve.length > 0 ? child.slot.curve : ownTurn(siblings.indexOf(child), siblings.length);
  return Math.max(0, heightAt(curve, placeInRange(scene, parent.play.parameter)));
}

const busOf = (line: readonly Behaviour[]): string | undefined => line.findLast((behaviour) => behaviour.bus !== undefined)?.bus;

/** The levels of all buses that a behaviour goes through. */
function busLevel({ state }: Scene, buses: readonly GameBus[]): number {
  let level = 0;
  for (const { id, gain, muted } of buses) {
    const now = state.buses.get(id);
    level += muted ? -Infinity : gain + (now ? now.mood + now.duck : 0);
  }
  return level;
}

/** How a voice of a run is heard right now: what was drawn, pulled, blended, how loud its bus is, and where it is. */
export function heardNow(scene: Scene, run: Run, steadyRatio?: number): Heard {
  const line = scene.score.lines.get(run.behaviour)!;
  const buses = scene.score.busLines.get(busOf(line) ?? '') ?? [];
  const around = buses.find(({ room }) => room)?.room;
  let level = run.gain + busLevel(scene, buses);
  let pitch = run.pitch;
  let { octaves } = run;
  let blend = 1;
  line.forEach((behaviour, depth) => {
    level += behaviour.gain + pulled(scene, behaviour, 'gain');
    pitch += behaviour.pitch + pulled(scene, behaviour, 'pitch');
    octaves += pulled(scene, behaviour, 'highCut');
    if (depth > 0) blend *= Math.sqrt(blendShare(scene, line[depth - 1]!, behaviour));
  });
  let gain = level <= silent ? 0 : decibelsToGain(level) * blend;
  let ratio = semitonesToRatio(pitch);
  let highCut = Math.min(...line.map((behaviour) => behaviour.highCut)) * Math.pow(2, octaves);
  let pan = 0;
  let room = around?.share ?? 0;
  const placed = line.find((behaviour) => behaviour.distance !== undefined);
  if (placed?.distance) {
    const { state } = scene;
    const heard = hearAt(placed.distance, state.listener, placeOf(scene, run));
    gain *= heard.gain;
    pan = heard.pan;
    room = around ? heard.room : 0;
    highCut = Math.min(highCut, heard.highCut);
    ratio *= dopplerRatio(state.moving.get(run.emitter)?.speed ?? 0, placed.distance.doppler);
  }
  return { gain, ratio: steadyRatio ?? ratio, highCut: Math.min(openCut, Math.max(20, highCut)), pan, room };
}

/** Where a run is heard: where the game has put its emitter, or where its behaviour stands by itself. */
export function placeOf({ score, state }: Scene, { emitter, behaviour }: Run): { readonly x: number; readonly y: number } {
  return state.emitters.get(emitter) ?? score.lines.get(behaviour)?.[0]?.place ?? { x: 0, y: 0 };
}

/** Sees how fast the emitters of all voices come nearer or go. */
export function watchDistances(scene: Scene): void {
  const { state, score } = scene;
  const seen = new Set<string>();
  for (const { run: id } of state.voices.values()) {
    const run = state.runs.get(id);
    if (!run || seen.has(run.emitter)) continue;
    seen.add(run.emitter);
    const { x, y } = placeOf(scene, run);
    const metres = Math.hypot(x - state.listener.x, y - state.listener.y);
    const before = state.moving.get(run.emitter);
    const speed = before ? ((metres - before.metres) * score.data.sampleRate) / tick : 0;
    state.moving.set(run.emitter, { metres, speed: Math.abs(speed) > fastest ? 0 : speed });
  }
  for (const emitter of state.moving.keys()) if (!seen.has(emitter)) state.moving.delete(emitter);
}

/** Begins a voice, where there is room for it. */
export function startVoice(scene: Scene, run: Run, { asset, frames, loop }: Take, loops: boolean): boolean {
  const { state, score } = scene;
  const line = score.lines.get(run.behaviour)!;
  if (frames < 1 || !makeRoom(scene, line)) return false;
  const behaviour = line.at(-1)!;
  const heard = heardNow(scene, run);
  const id = ++state.counter;
  const round = loops ? (loop ?? { from: 0, to: frames }) : undefined;
  const voice: Voice = {
    id,
    run: run.id,
    behaviour: behaviour.id,
    asset,
    frames,
    loop: round,
    started: state.frame,
    steady: isJoined(line),
    position: 0,
    at: state.frame,
    stopping: false,
    ...heard,
  };
  state.voices.set(id, voice);
  run.alive++;
  const bus = busOf(line);
  const fadeIn = framesOf(scene, Math.max(...line.map((each) => each.fadeIn)));
  scene.emit({
    do: 'play',
    frame: state.frame,
    voice: id,
    behaviour: behaviour.id,
    asset,
    ...(bus !== undefined && { bus }),
    ...(round && { loop: round }),
    fadeIn,
    ...heard,
  });
  if (!round) schedule(scene, endOf(voice), { what: 'end', voice: id });
  return true;
}

/** Something begins exactly where it ends: the next of a Line that goes through, or what a start leads into. */
function isJoined(line: readonly Behaviour[]): boolean {
  return line.some(({ play, slot }, depth) => {
    const parent = line[depth - 1]?.play;
    return (
      (parent?.kind === 'hold' && slot.stage === 'start') || (parent?.kind === 'line' && parent.step === 'through' && play.kind === 'one')
    );
  });
}

function endOf({ at, frames, position, ratio }: Voice): Frames {
  return at + Math.max(0, Math.ceil((frames - position) / ratio - 1e-9));
}

/** Lets voices give way until there is room for one more of all these behaviours; false where none does. */
function makeRoom(scene: Scene, line: readonly Behaviour[]): boolean {
  const { state, score } = scene;
  const sounding = [...state.voices.values()].filter(({ stopping }) => !stopping);
  const lineOf = (voice: Voice): readonly Behaviour[] => score.lines.get(voice.behaviour) ?? [];
  const giving: Voice[] = [];
  for (const behaviour of line) {
    const own = sounding.filter((voice) => !giving.includes(voice) && lineOf(voice).includes(behaviour));
    if (own.length < behaviour.voices) continue;
    if (behaviour.givesWay === 'newest') return false;
    giving.push(behaviour.givesWay === 'oldest' ? own[0]! : own.reduce((least, voice) => (voice.gain < least.gain ? voice : least)));
  }
  const left = sounding.filter((voice) => !giving.includes(voice));
  if (left.length >= score.data.voices) {
    const priorityOf = (voice: Voice): number => lineOf(voice)[0]?.priority ?? 0;
    const least = left.reduce((lowest, voice) => (priorityOf(voice) < priorityOf(lowest) ? voice : lowest));
    if (priorityOf(least) > line[0]!.priority) return false;
    giving.push(least);
  }
  for (const voice of giving) stopVoice(scene, voice, givingWay);
  return true;
}

/** Takes a voice down within `fade`. */
export function stopVoice(scene: Scene, voice: Voice, fade: Frames): void {
  if (voice.stopping) return;
  const { state } = scene;
  voice.stopping = true;
  scene.emit({ do: 'stop', frame: state.frame, voice: voice.id, fade });
  // It may have come to its end before.
  let soonest: Frames = state.frame + fade;
  reschedule(
    scene,
    (due) => due.what === 'end' && due.voice === voice.id,
    (due) => (soonest = Math.min(soonest, due.frame)),
  );
  if (voice.loop) schedule(scene, soonest, { what: 'end', voice: voice.id });
}

/** How far a voice has come in its own frames; within its loop, where in the round it is. */
export function positionAt({ at, position, ratio, loop }: Voice, frame: Frames): number {
  const there = position + (frame - at) * ratio;
  return !loop || there < loop.to ? there : loop.from + ((there - loop.from) % (loop.to - loop.from));
}

const differs = (a: Heard, b: Heard): boolean =>
  Math.abs(a.gain - b.gain) > 1e-5 ||
  Math.abs(a.ratio - b.ratio) > 1e-7 ||
  Math.abs(a.highCut - b.highCut) > 1e-3 * b.highCut ||
  Math.abs(a.pan - b.pan) > 1e-4 ||
  Math.abs(a.room - b.room) > 1e-4;

/** Brings all voices to what they should be by now, in straight lines until the next tick. */
export function turnVoices(scene: Scene): void {
  const { state } = scene;
  for (const voice of state.voices.values()) {
    const run = state.runs.get(voice.run);
    if (!run || voice.stopping) continue;
    const heard = heardNow(scene, run, voice.steady ? voice.ratio : undefined);
    if (!differs(heard, voice)) continue;
    const { ratio } = voice;
    const here = positionAt(voice, state.frame);
    // The sum of a ratio that goes in a straight line from frame to frame.
    const further = tick * ratio + ((heard.ratio - ratio) * (tick - 1)) / 2;
    Object.assign(voice, heard, { position: here + further, at: state.frame + tick });
    scene.emit({ do: 'turn', frame: state.frame, voice: voice.id, ...heard });
    if (heard.ratio !== ratio && !voice.loop)
      reschedule(
        scene,
        (due) => due.what === 'end' && due.voice === voice.id,
        () => endOf(voice),
      );
  }
}
