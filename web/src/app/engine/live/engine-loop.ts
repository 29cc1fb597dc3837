import type { Block, Clip, Frames, Guide, GuidePlace, RenderContext, Sound } from '@tangled-choir/core';
import {
  channelsOf,
  createBlock,
  decibelsToGain,
  EvenCompare,
  guideLayerId,
  GuidePlayer,
  isUntreated,
  pulledClips,
  seatedLayers,
  SeatingMeter,
  SlowPlayer,
  soundEnd,
  SoundPlayer,
  soundTail,
  standing,
  TreatmentCache,
} from '@tangled-choir/core';
import { OutputLevels } from './output-levels';
import { OutputMeters } from './output-meters';
import type { ChainOfInterest, EngineMessage, EngineReport, OutputReading } from '../protocol';
import type { RenderableSound } from '../renderable-sound';
import { StepListeners } from './step-listeners';
import { RecordingPlayer } from './recording-player';
import { engineTreats } from '../protocol';
import { mostReady, ringCapacity, ringHands, ringReserve, ringSlots, ringTarget } from './ring';

const mask = ringCapacity - 1;
const metersEvery: Frames = 1_600;
const blockFrames: Frames = 480;
/** While somebody plays by hand, a key waits at most for so many frames. */
const handBlockFrames: Frames = 192;
/** What is rendered at most before messages are taken again: a sound that is too heavy for the machine must still be stopped or changed. */
const mostPerFill: Frames = 7 * blockFrames;
/** Reports between two readings of the loudness range, which looks at all that was heard. */
const rangeEvery = 15;
/** How much of its old value a measured load keeps from report to report. */
const loadMemory = 0.9;
/** How much of what it saw before the live seating keeps per window of 43 ms: it looks back about two seconds. */
const seatingMemory = 0.98;
/** The longest tail that live listening waits for. */
const longestTailSeconds = 20;

/** Keeps the ring filled with what is being played. Runs in the engine's worker; takes its messages one by one. */
export class EngineLoop {
  private samples: Float32Array | undefined;
  private control: Int32Array | undefined;
  private sampleRate = 48_000;
  private renderable: RenderableSound | undefined;
  /** What is heard: the sound itself, the sound slowed down, or a recording. */
  private player: SoundPlayer | SlowPlayer | RecordingPlayer | EvenCompare | undefined;
  /** The sound that is played, at its own speed. */
  private live: SoundPlayer | undefined;
  private until: Frames = 0;
  /** Where what plays has come to its end. */
  private endOfPlay: Frames = 0;
  private recording: RecordingPlayer | undefined;
  private loop: { from: Frames; to: Frames } | undefined;
  private written = 0;
  /** Frames to keep ready beside those that everybody needs, for as many gaps as there were so far. */
  private reserve: Frames = 0;
  private gaps = 0;
  private handsOn = false;
  /** Where on its time axis the sound stands while only hands play on it. */
  private standsAt: Frames | undefined;
  private ended = false;
  private sinceMeters = 0;
  private levels = new OutputLevels(48_000, 2);
  private listeners: StepListeners | undefined;
  private ofInterest: ChainOfInterest = { chain: [], open: undefined, alone: undefined };
  /** The other version of the sound that is compared with it, and which of them is heard. */
  private other: RenderableSound | undefined;
  private otherLive: SoundPlayer | undefined;
  private heard: 'A' | 'B' = 'A';
  private seatingOn = false;
  private seating: SeatingMeter | undefined;
  private guide: GuidePlayer | undefined;
  /** The guide slowed down like the sound. */
  private slowGuide: SlowPlayer | undefined;
  private guideBlock = createBlock(2);
  private outputOn = false;
  private output: OutputMeters | undefined;
  private range = 0;
  private sinceRange = 0;
  /** The layers that the meter knows. */
  private seated = '';
  private readonly cache = new TreatmentCache(undefined, engineTreats);
  /** Clips whose treatment is not cached yet; done one by one while nothing plays, so that playing starts at once. */
  private untreated: Clip[] = [];
  private readonly loads = new Map<string, number>();
  private readonly spent = new Map<string, number>();
  /** What is heard, in as many channels as the player has. */
  private heardBlock = createBlock(2).channels;

  constructor(private readonly report: (message: EngineReport) => void) {}

  receive(message: EngineMessage): void {
    switch (message.type) {
      case 'connect':
        this.samples = message.samples;
        this.control = message.control;
        // A new ring begins anew.
        this.written = this.gaps = 0;
        this.sampleRate = message.sampleRate;
        break;
      case 'sound':
        this.takeSound(message);
        break;
      case 'audition':
        this.recording = new RecordingPlayer(message.audio, message.part);
        break;
      case 'play':
        this.play(message);
        break;
      case 'stop':
        this.player = this.live = this.otherLive = undefined;
        if (this.control) Atomics.store(this.control, ringSlots.playing, 0);
        break;
      case 'seek':
        this.player?.seek(message.position);
        this.slowGuide?.seek(message.position);
        this.ended = false;
        this.discard();
        break;
      case 'loop':
        this.loop = message.loop;
        if (this.player && this.standsAt === undefined) this.player.loop = message.loop;
        if (this.slowGuide) this.slowGuide.loop = message.loop;
        break;
      case 'tap':
        this.ofInterest = message;
        this.listen();
        break;
      case 'compare':
        this.compare(message.other);
        break;
      case 'seating':
        this.seatingOn = message.on;
        this.seat();
        break;
      case 'output':
        this.outputOn = message.on;
        this.output = message.on ? new OutputMeters(this.sampleRate) : undefined;
        break;
      case 'hands':
        this.handsOn = message.on;
        break;
      case 'strike':
        this.live?.hands.strike(message.layer, message.note);
        break;
      case 'letGo':
        this.live?.hands.letGo(message.layer, message.key);
        break;
      case 'hear':
        this.heard = message.which;
        if (this.player instanceof EvenCompare) this.player.hear(message.which);
        break;
    }
  }

  /** Whether nothing is to be done before the next message. */
  get resting(): boolean {
    return !this.player && this.untreated.length === 0;
  }

  /** Renders until the ring holds what it should, or as much as may be rendered between two messages. */
  fill(): void {
    const { control, player } = this;
    if (!player) this.treatNext();
    if (!control || !player) return;
    this.learnFromGaps(Atomics.load(control, ringSlots.underruns));
    const begun = this.written;
    const ready = Math.min(mostReady, (this.handsOn ? ringHands : ringTarget) + this.reserve);
    const block = this.handsOn ? handBlockFrames : blockFrames;
    const lacks = (): boolean => ((this.written - Atomics.load(control, ringSlots.read)) | 0) < ready;
    while (!this.ended && lacks() && ((this.written - begun) | 0) < mostPerFill) {
      const { speed } = this;
      const before = player.position;
      const count = player.render(this.heardBlock, block);
      const guide = this.nextGuide(before, count);
      if (guide && this.renderable?.sound.guide?.on) this.seating?.hear(guideLayerId, guide);
      this.seating?.advance(count);
      if (player === this.live) this.listeners?.alone?.replace(this.heardBlock, count);
      if (Math.abs(player.position - before - count * speed) > 1) this.anchor(player.position - count * speed);
      this.meter(count);
      // Behind the meters, which tell of the sound alone; and not over what one step does.
      if (guide && !this.listeners?.alone) this.addGuide(guide, count);
      this.write(count);
      if (!this.loop && player.position >= this.endOfPlay) {
        this.ended = true;
        this.report({ type: 'end', index: this.written });
      }
    }
  }

  private learnFromGaps(gaps: number): void {
    if (gaps > this.gaps) this.reserve = Math.min(mostReady, this.reserve + ringReserve);
    this.gaps = gaps;
  }

  /** What the guide gives beside the sound. */
  private nextGuide(position: Frames, count: Frames): Block | undefined {
    const { slowGuide, guideBlock } = this;
    if (!this.live || !this.guide || this.standsAt !== undefined) return undefined;
    if (!slowGuide) return this.guide.at(position, count);
    guideBlock.frames = slowGuide.render(guideBlock.channels, count);
    return guideBlock;
  }

  private addGuide(guide: Block, count: Frames): void {
    for (let c = 0; c < this.heardBlock.length; c++) {
      const from = guide.channels[c]!;
      const into = this.heardBlock[c]!;
      for (let i = 0; i < Math.min(count, guide.frames); i++) into[i]! += from[i]!;
    }
  }

  /** Makes the guide anew when its audio changed; otherwise only moves it. */
  private takeGuide({ sound, sampleRate, guide }: RenderableSound, before: RenderableSound['guide']): void {
    if (!guide || !sound.guide) {
      this.guide = this.slowGuide = undefined;
      return;
    }
    const place = placeOf(sound.guide, sampleRate);
    if (this.guide?.channels === channelsOf(sound.layout) && guide.hash === before?.hash) {
      this.guide.set(place);
      return;
    }
    this.guide = new GuidePlayer(guide.audio, sound.layout, place);
    this.slowDownGuide();
  }

  /** Lets the guide follow a slow sound from where that is. */
  private slowDownGuide(): void {
    const { player, guide } = this;
    this.slowGuide = undefined;
    if (!(player instanceof SlowPlayer) || !guide) return;
    guide.seek(Math.round(player.position));
    this.slowGuide = new SlowPlayer(guide, player.speed);
    this.slowGuide.loop = this.loop;
    this.guideBlock = createBlock(guide.channels);
  }

  private treatNext(): void {
    const clip = this.untreated.shift();
    const identity = clip && this.renderable?.identities.get(clip.source ?? '');
    const audio = identity === undefined ? undefined : this.renderable?.audio.get(identity);
    if (clip && identity !== undefined && audio) this.cache.treat(identity, audio, clip, this.renderable?.treated);
  }

  private takeSound(renderable: RenderableSound): void {
    const before = this.renderable;
    this.renderable = renderable;
    const { layers } = pulledClips(renderable.sound, renderable.sampleRate);
    this.untreated = layers.flatMap((layer) => layer.clips).filter((clip) => !isUntreated(clip));
    // What plays cannot go over to other channels on its way.
    if (this.live && this.live.channels !== channelsOf(renderable.sound.layout)) this.receive({ type: 'stop' });
    this.live?.setSound(...this.played(renderable));
    if (this.player instanceof EvenCompare) this.player.restart();
    const seated = seatsOf(renderable).join();
    this.takeGuide(renderable, before?.guide);
    if (seated !== this.seated) this.seat();
    this.seated = seated;
    this.endOfPlay = this.findEndOfPlay();
    this.ended = false;
  }

  /** The sound itself, or what of it hands play on. */
  private played(renderable: RenderableSound): [Sound, RenderContext] {
    const { sound, sampleRate } = renderable;
    if (this.standsAt === undefined) return [sound, contextOf(renderable)];
    // Nothing of what was frozen moves, and nobody could play on it.
    const { frozen: _, ...context } = contextOf(renderable);
    return [standing(sound, this.standsAt / sampleRate), context];
  }

  private get speed(): number {
    return this.player instanceof SlowPlayer ? this.player.speed : 1;
  }

  private play({ what, position, speed, until }: Extract<EngineMessage, { type: 'play' }>): void {
    this.live = undefined;
    this.until = until;
    this.standsAt = what === 'hands' ? position : undefined;
    if (what !== 'audition' && this.renderable) {
      this.live = new SoundPlayer(...this.played(this.renderable), position, this.cache);
      this.loads.clear();
      this.live.load = { now: () => performance.now(), add: (owner, spent) => this.spent.set(owner, (this.spent.get(owner) ?? 0) + spent) };
      this.player = what === 'hands' ? this.live : speed === 1 ? this.beside(this.live) : new SlowPlayer(this.live, speed);
    } else if (what === 'audition' && this.recording) {
      this.player = this.recording;
      this.player.seek(position);
    } else return;
    this.player.loop = what === 'hands' ? undefined : this.loop;
    this.slowDownGuide();
    this.endOfPlay = this.findEndOfPlay();
    this.ended = false;
    const { channels } = this.player;
    this.heardBlock = createBlock(channels).channels;
    this.levels = new OutputLevels(this.sampleRate, channels);
    this.output = this.outputOn ? new OutputMeters(this.sampleRate) : undefined;
    this.range = this.sinceRange = 0;
    this.listeners = undefined;
    this.listen();
    this.seat();
    this.discard();
    if (this.control) Atomics.store(this.control, ringSlots.playing, 1);
  }

  /** What lies in the ring belongs to another place on the time axis: the worklet drops it. */
  private discard(): void {
    if (!this.control || !this.player) return;
    Atomics.store(this.control, ringSlots.discardTo, this.written);
    Atomics.add(this.control, ringSlots.discards, 1);
    this.anchor(this.player.position);
  }

  private anchor(position: Frames): void {
    this.report({ type: 'anchor', index: this.written, position, speed: this.speed });
  }

  private findEndOfPlay(): Frames {
    if (this.player instanceof RecordingPlayer) return this.player.frames;
    if (this.standsAt !== undefined) return Infinity;
    if (!this.renderable) return 0;
    const { sound, sampleRate } = this.renderable;
    const tail = Math.min(soundTail(sound, contextOf(this.renderable)), longestTailSeconds * sampleRate);
    return Math.max(this.until, Math.round(soundEnd(sound) * sampleRate) + tail);
  }

  private write(count: Frames): void {
    const { samples, control } = this;
    if (!samples || !control) return;
    const place = this.written & mask;
    const whole = Math.min(count, ringCapacity - place);
    for (let c = 0; c * ringCapacity < samples.length; c++) {
      const from = this.heardBlock[c];
      const at = c * ringCapacity;
      if (!from) {
        samples.fill(0, at + place, at + place + whole);
        samples.fill(0, at, at + count - whole);
        continue;
      }
      samples.set(from.subarray(0, whole), at + place);
      samples.set(from.subarray(whole, count), at);
    }
    this.written = (this.written + count) | 0;
    Atomics.store(control, ringSlots.written, this.written);
  }

  /** The player itself, or both versions side by side while something is compared. */
  private beside(live: SoundPlayer): SoundPlayer | EvenCompare {
    this.otherLive = undefined;
    if (!this.other) return live;
    this.otherLive = new SoundPlayer(this.other.sound, contextOf(this.other), live.position, this.cache);
    const both = new EvenCompare(live, this.otherLive, this.sampleRate);
    both.hear(this.heard);
    both.loop = this.loop;
    return both;
  }

  private compare(other: RenderableSound | undefined): void {
    this.other = other;
    const { live, player } = this;
    if (!live || player instanceof SlowPlayer || this.standsAt !== undefined) return;
    if (other && this.otherLive) {
      this.otherLive.setSound(other.sound, contextOf(other));
      if (player instanceof EvenCompare) player.restart();
    } else this.player = this.beside(live);
  }

  /** Measures the layers of what is played at its own speed, while somebody wants to see how they sit. */
  private seat(): void {
    const { live, player, renderable } = this;
    this.seating =
      this.seatingOn && live && renderable && !(player instanceof SlowPlayer)
        ? new SeatingMeter(seatsOf(renderable), this.sampleRate, channelsOf(renderable.sound.layout), seatingMemory)
        : undefined;
    if (live) live.listener = this.seating;
  }

  /** Puts listeners at the steps of the chain of interest; those that listen there already go on. */
  private listen(): void {
    if (!this.live) return;
    this.listeners = new StepListeners(this.ofInterest, this.sampleRate, this.live.channels, this.listeners);
    this.live.taps = this.listeners.taps;
  }

  /** What was spent since the last report, as shares of the time that was rendered; slowly, because single blocks say little. */
  private takeLoads(): ReadonlyMap<string, number> {
    const rendered = (metersEvery / this.sampleRate) * 1_000;
    for (const owner of new Set([...this.loads.keys(), ...this.spent.keys()])) {
      const share = (this.spent.get(owner) ?? 0) / rendered;
      this.loads.set(owner, (this.loads.get(owner) ?? share) * loadMemory + share * (1 - loadMemory));
    }
    this.spent.clear();
    return new Map(this.loads);
  }

  private readOutput(): OutputReading | undefined {
    if (!this.output) return undefined;
    if (this.sinceRange++ % rangeEvery === 0) this.range = this.levels.loudness.range;
    return this.output.read(this.range);
  }

  private meter(count: Frames): void {
    const { heardBlock: heard } = this;
    this.levels.process(heard, count);
    this.output?.process(heard, count);
    this.sinceMeters += count;
    if (this.sinceMeters < metersEvery) return;
    this.sinceMeters = 0;
    const gainReductions = new Map<string, number>();
    this.live?.gainReductions(gainReductions);
    const followers = new Map<string, number>();
    this.live?.followerValues(followers);
    this.report({
      type: 'meters',
      meters: {
        ...this.levels.read(),
        before: this.listeners?.spectrumBefore(),
        after: this.listeners?.spectrumAfter(),
        gainReductions,
        followers,
        changes: this.listeners?.changes() ?? new Map(),
        seating: this.seating?.read(),
        output: this.readOutput(),
        loads: this.takeLoads(),
        matchedGain: this.player instanceof EvenCompare ? this.player.gain : undefined,
      },
    });
  }
}

/** The layers that are seated, and the guide as one of them. */
function seatsOf({ sound, guide }: RenderableSound): string[] {
  return [...seatedLayers(sound), ...(guide && sound.guide?.on ? [guideLayerId] : [])];
}

function placeOf({ start, repeats, gain, on }: Guide, sampleRate: number): GuidePlace {
  return { start: Math.round(start * sampleRate), repeats, gain: on ? decibelsToGain(gain) : 0 };
}

function contextOf({ sampleRate, identities, audio, treated, pieces, frozen }: RenderableSound): RenderContext {
  return { sampleRate, identities, library: audio, ...(treated && { treated }), ...(pieces && { pieces }), ...(frozen && { frozen }) };
}
