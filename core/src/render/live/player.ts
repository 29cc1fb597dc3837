import { maxBlock } from '../../dsp/block';
import { channelsOf } from '../../audio/layout';
import { effectSources } from '../../project/chain/references';
import type { Sound } from '../../project/schema';
import { TreatmentCache } from '../../treatments/treat-clip';
import type { Decibels, Frames, Seconds, Unit } from '../../units';

import type { RenderContext } from '../library';
import { sourceAudio } from '../library';
import { Hands } from './hands';
import type { LayerListener, LoadListener } from '../sound-graph';
import { SoundGraph, soundStructure } from '../sound-graph';
import type { StepTaps } from '../chain/step-processor';

const crossfadeFrames: Frames = 512;
const settleTime: Seconds = 0.2;

/** A stretch of the time axis that repeats. */
export interface Loop {
  readonly from: Frames;
  readonly to: Frames;
}

/**
 * Plays a sound live: renders on and on from any position, takes over edits while it runs, loops. Values glide inside the graph; a
 * changed structure, a jump or a loop's return builds a second graph, lets it settle on what comes before, and crossfades to it, so
 * that nothing clicks.
 */
export class SoundPlayer {
  private graph: SoundGraph;
  /** Structure of the sound that `graph` was built for. */
  private builtStructure: string;
  private outgoing: SoundGraph | undefined;
  private fadeLeft = 0;
  /** A change that waits for the running crossfade: where to go on, or `here`. */
  private waiting: Frames | 'here' | undefined;
  private currentTaps: StepTaps = new Map();
  private currentListener: LayerListener | undefined;
  private currentLoad: LoadListener | undefined;
  private nextPosition: Frames;
  /** What is played by hand on its layers; it goes on over jumps and edits. */
  readonly hands = new Hands();
  loop: Loop | undefined;

  constructor(
    private sound: Sound,
    private context: RenderContext,
    position: Frames,
    private readonly cache = new TreatmentCache(),
  ) {
    this.builtStructure = soundStructure(sound, context.sampleRate);
    this.nextPosition = position;
    this.graph = this.build(position);
  }

  /** Position on the time axis of the next frame. */
  get position(): Frames {
    return this.nextPosition;
  }

  /** Takes over an edited sound; heard from the next block on. */
  setSound(sound: Sound, context: RenderContext): void {
    const sameAudio =
      sameEntries(context.identities, this.context.identities) &&
      sameFrozen(context.frozen, this.context.frozen) &&
      takenIn(sound, context) === takenIn(sound, this.context);
    this.sound = sound;
    this.context = context;
    if (sameAudio && this.waiting === undefined && soundStructure(sound, context.sampleRate) === this.builtStructure)
      this.graph.apply(sound, context);
    else this.switchTo('here');
  }

  seek(position: Frames): void {
    this.switchTo(Math.max(0, position));
  }

  set taps(taps: StepTaps) {
    this.currentTaps = taps;
    this.graph.taps = taps;
  }

  set listener(listener: LayerListener | undefined) {
    this.currentListener = listener;
    this.graph.listener = listener;
  }

  /** Measures what the parts of the sound cost, from now on. */
  set load(load: LoadListener | undefined) {
    this.currentLoad = load;
    this.graph.load = load;
  }

  gainReductions(into: Map<string, Decibels>): void {
    this.graph.gainReductions(into);
  }

  followerValues(into: Map<string, Unit>): void {
    this.graph.followerValues(into);
  }

  /** Channels of the sound; they stay what they are. */
  get channels(): number {
    return channelsOf(this.sound.layout);
  }

  /**
   * Writes the next frames (at most `maxBlock`) to place `at` of every channel, and returns how many: fewer than asked when the loop returns in
   * between.
   */
  render(into: readonly Float32Array[], frames: Frames, at: Frames = 0): Frames {
    if (this.waiting !== undefined && !this.outgoing) {
      const target = this.waiting;
      this.waiting = undefined;
      this.switchTo(target);
    }
    let count = Math.min(frames, maxBlock);
    if (this.loop && this.loop.to > this.loop.from) {
      if (this.nextPosition >= this.loop.to) this.switchTo(this.loop.from);
      if (this.nextPosition < this.loop.to) count = Math.min(count, this.loop.to - this.nextPosition);
    }
    const block = this.graph.next(count);
    for (let c = 0; c < into.length; c++) into[c]!.set(block.channels[c]!.subarray(0, count), at);
    if (this.outgoing) this.crossfade(this.outgoing, into, count, at);
    this.nextPosition += count;
    return count;
  }

  private crossfade(outgoing: SoundGraph, into: readonly Float32Array[], count: Frames, at: Frames): void {
    const faded = Math.min(count, this.fadeLeft);
    const old = outgoing.next(faded);
    for (let c = 0; c < into.length; c++) {
      const samples = into[c]!;
      const before = old.channels[c]!;
      for (let i = 0; i < faded; i++) {
        const rest = (this.fadeLeft - i - 0.5) / crossfadeFrames;
        samples[at + i] = samples[at + i]! + (before[i]! - samples[at + i]!) * rest;
      }
    }
    this.fadeLeft -= faded;
    if (this.fadeLeft > 0) return;
    this.outgoing = undefined;
  }

  private switchTo(target: Frames | 'here'): void {
    // One crossfade at a time; a jump is not forgotten for an edit that comes after it.
    if (this.outgoing) {
      if (target !== 'here' || this.waiting === undefined) this.waiting = target;
      return;
    }
    this.outgoing = this.graph;
    this.outgoing.taps = new Map();
    this.outgoing.listener = undefined;
    this.outgoing.load = undefined;
    this.outgoing.played = undefined;
    this.fadeLeft = crossfadeFrames;
    if (target !== 'here') this.nextPosition = target;
    this.builtStructure = soundStructure(this.sound, this.context.sampleRate);
    this.graph = this.build(this.nextPosition);
  }

  private build(position: Frames): SoundGraph {
    const graph = new SoundGraph(this.sound, this.context, this.cache);
    // Before the time axis begins there is nothing to settle on: from there it is heard as it is rendered, to the sample.
    graph.startAt(position, Math.min(position, Math.round(settleTime * this.context.sampleRate)));
    graph.taps = this.currentTaps;
    graph.listener = this.currentListener;
    graph.load = this.currentLoad;
    graph.played = this.hands;
    return graph;
  }
}

/** Which of the recordings that effects take in are there: a chain is built with those that it has. */
function takenIn(sound: Sound, context: RenderContext): string {
  return effectSources(sound)
    .filter((id) => sourceAudio(context, id) !== undefined)
    .join();
}

function sameEntries(a: ReadonlyMap<string, string>, b: ReadonlyMap<string, string>): boolean {
  if (a === b) return true;
  if (a.size !== b.size) return false;
  for (const [id, entry] of a) if (b.get(id) !== entry) return false;
  return true;
}

/** By what they were frozen from: between page and engine every edit makes copies of them. */
function sameFrozen(a: RenderContext['frozen'], b: RenderContext['frozen']): boolean {
  if (a === b) return true;
  const identities = (frozen: RenderContext['frozen']): Map<string, string> =>
    new Map([...(frozen ?? [])].map(([id, { identity }]) => [id, identity]));
  return sameEntries(identities(a), identities(b));
}
