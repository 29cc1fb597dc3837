import type { Signal } from '@angular/core';
import { computed, DestroyRef, inject, Injectable, signal } from '@angular/core';
import type { Frames, HeldNote, Seconds, Stretch } from '@tangled-choir/core';
import { channelsOf } from '@tangled-choir/core';
import type { SharedAudio } from '@tangled-choir/jobs';
import workletAddress from '../../../generated/player.processor.js' with { loader: 'file' };
import type { ChainOfInterest, EngineMeters, EngineReport, PostedMessage } from '../protocol';
import type { RenderableSound } from '../renderable-sound';
import { ringCapacity, ringSlotCount, ringSlots } from './ring';
import type { EnginePort, RingProgress } from './ring-by-message';
import { takeProgress } from './ring-by-message';
import { MonitorLevel } from './monitor-level';
import { SoundPacker } from './sound-changes';
import { spawnEngine } from '../workers.spawn';

const sampleRate = 48_000;
/** An engine that stops by itself is started again, unless it has stopped so often within so many milliseconds. */
const mostStops = 3;
const restless = 60_000;
/** Milliseconds before it is started again, and four times as many before the next time. */
const firstPause = 250;

export type EngineState = 'idle' | 'ready' | 'failed';

/**
 * The page's side of live listening. It owns the audio context, the worklet and the engine's worker; everybody else asks it to play, to
 * stop, to jump, and reads the position and the meters from its signals.
 */
@Injectable()
export class LiveEngine {
  readonly state = signal<EngineState>('idle');
  readonly problem = signal<string | undefined>(undefined);
  /** “silent” runs along the time axis without sound, for slow pictures; “hands” stays where it is and plays only what is played by hand. */
  readonly playing = signal<'sound' | 'audition' | 'silent' | 'hands' | undefined>(undefined);
  readonly meters = signal<EngineMeters | undefined>(undefined);
  /** Peak of what left the worklet lately, linear. */
  readonly outputPeak = signal(0);
  readonly underruns = signal(0);
  /** Position on the time axis of what is heard, in seconds; follows the screen's refresh while playing. Written here and nowhere else. */
  readonly position: Signal<Seconds>;
  private readonly currentPosition = signal<Seconds>(0);
  readonly monitorLevel = inject(MonitorLevel).level;
  /** False where the browser shares no memory between the parts of the page, because its server does not isolate it: all is slower then. */
  readonly sharesMemory = typeof SharedArrayBuffer !== 'undefined';
  readonly healthy = computed(() => this.state() !== 'failed' && this.problem() === undefined);

  /** How often the engine had to be started again. */
  readonly restarts = signal(0);
  private context: AudioContext | undefined;
  private monitor: GainNode | undefined;
  private worker: Worker | undefined;
  private control: Int32Array | undefined;
  /** Channels of the sound, and the worklet that plays so many. */
  private channels = 2;
  private output: { readonly node: AudioWorkletNode; readonly channels: number } | undefined;
  private starting: Promise<void> | undefined;
  private anchors: { index: number; position: Frames; speed: number }[] = [];
  private endIndex: number | undefined;
  private onEnd: (() => void) | undefined;

  constructor() {
    this.position = this.currentPosition.asReadonly();
    inject(DestroyRef).onDestroy(() => this.end());
  }

  /** The project is closed: nothing of it must be heard or measured any more. */
  private end(): void {
    this.stop();
    this.worker?.terminate();
    this.worker = undefined;
    this.ended = true;
    void this.context?.close().catch(() => undefined);
  }
  private ended = false;

  /** Tells the engine which sound is being worked on; heard at once when it plays, made ready while it does not. */
  setSound(renderable: RenderableSound): void {
    this.latestSound = renderable;
    this.worker ??= this.startWorker();
    this.channels = channelsOf(renderable.sound.layout);
    this.send({ type: 'changes', changes: this.packer.pack(renderable) });
  }
  private latestSound: RenderableSound | undefined;
  private packer = new SoundPacker();

  /** Plays the sound; slower than full speed its pitch stays, and it goes on at least up to `until`. */
  async playSound(position: Seconds, speed = 1, until: Seconds = 0): Promise<void> {
    await this.start();
    this.begin('sound', position, speed, until);
  }

  /** Lets hands be heard on the sound as it stands at a moment, until something else plays or it is stopped. */
  async playHands(position: Seconds): Promise<void> {
    await this.start();
    this.begin('hands', position);
  }

  /** While somebody plays by hand, less is computed ahead. */
  setHands(on: boolean): void {
    this.latestHands = on;
    this.send({ type: 'hands', on });
  }
  private latestHands = false;

  /** A key goes down on a made layer, or up; heard while the sound or hands play. */
  strike(layer: string, note: HeldNote): void {
    this.send({ type: 'strike', layer, note });
  }

  letGo(layer: string, key: string): void {
    this.send({ type: 'letGo', layer, key });
  }

  /** Plays a recording, or a part of it in seconds, from its beginning; `onEnd` is called when it has run to its end. */
  async audition(audio: SharedAudio, part: Stretch | undefined, onEnd: () => void): Promise<void> {
    await this.start();
    const inFrames = (seconds: Seconds): Frames => Math.round(seconds * audio.sampleRate);
    this.send({ type: 'audition', audio, part: part && { from: inFrames(part.from), to: inFrames(part.to) } });
    this.begin('audition', 0);
    this.onEnd = onEnd;
  }

  /** Runs along the time axis without sound, at a speed, up to `end`. */
  playSilently(position: Seconds, end: Seconds, speed: number): void {
    this.send({ type: 'stop' });
    this.currentPosition.set(position);
    this.playing.set('silent');
    this.silentRun = { started: performance.now(), from: position, end, speed };
    this.atNextRefresh((now) => this.followSilently(now));
  }
  private silentRun: { started: number; from: Seconds; end: Seconds; speed: number } | undefined;

  /** What follows the position goes on with the next refresh of the screen, in the place of whatever followed it before: two would pull at it. */
  private atNextRefresh(follow: (now: number) => void): void {
    cancelAnimationFrame(this.refresh);
    this.refresh = requestAnimationFrame(follow);
  }
  private refresh = 0;

  private followSilently(now: number): void {
    const run = this.silentRun;
    if (!run || this.playing() !== 'silent') return;
    const position = run.from + Math.max(0, ((now - run.started) / 1_000) * run.speed);
    const loop = this.latestLoop;
    if (loop && position >= loop.to / sampleRate) this.silentRun = { ...run, started: now, from: loop.from / sampleRate };
    else if (position >= run.end) {
      this.stop();
      return;
    } else this.currentPosition.set(position);
    this.atNextRefresh((next) => this.followSilently(next));
  }

  /** The moment of the time axis that leaves the loudspeaker now; undefined until the first is there. */
  heardNow(): Seconds | undefined {
    const { control, context } = this;
    const place = this.playing() === 'sound' && control ? this.placeOfRing(Atomics.load(control, ringSlots.read)) : undefined;
    if (place === undefined || !context) return this.playing() === 'silent' ? this.position() : undefined;
    // Not every browser knows how late its output is.
    return place - context.baseLatency - (context.outputLatency || 0);
  }

  /** Forgets what the meters show: it belongs to what is not looked at any more. */
  clearMeters(): void {
    this.meters.set(undefined);
  }

  stop(): void {
    this.send({ type: 'stop' });
    // A recording that was listened to says nothing of the sound.
    if (this.playing() === 'audition') this.clearMeters();
    this.playing.set(undefined);
    this.outputPeak.set(0);
    this.onEnd = undefined;
  }

  /** What plays by itself is at its end. */
  private finish(): void {
    const onEnd = this.onEnd;
    this.stop();
    onEnd?.();
  }

  seek(position: Seconds): void {
    this.currentPosition.set(Math.max(0, position));
    if (this.silentRun && this.playing() === 'silent') this.silentRun = { ...this.silentRun, started: performance.now(), from: position };
    if (this.playing() === 'sound') {
      this.endIndex = undefined;
      this.send({ type: 'seek', position: Math.round(position * sampleRate) });
    }
  }

  setLoop(range: { from: Seconds; to: Seconds } | undefined): void {
    const loop = range && { from: Math.round(range.from * sampleRate), to: Math.round(range.to * sampleRate) };
    this.send({ type: 'loop', loop });
    this.latestLoop = loop;
  }
  private latestLoop: { from: Frames; to: Frames } | undefined;

  /** Which chain the meters listen at, which of its steps is open, and what is heard alone. */
  tap(ofInterest: ChainOfInterest): void {
    const opened = ofInterest.open !== this.latestTap.open;
    this.latestTap = ofInterest;
    // Spectra are those of the step that was open.
    if (opened) this.meters.update((meters) => meters && { ...meters, before: undefined, after: undefined });
    this.send({ type: 'tap', ...ofInterest });
  }
  private latestTap: ChainOfInterest = { chain: [], open: undefined, alone: undefined };

  /** Plays another version beside the sound, at matched loudness; nothing ends the comparison. */
  compare(other: RenderableSound | undefined): void {
    this.latestOther = other;
    this.send({ type: 'compare', other });
  }
  private latestOther: RenderableSound | undefined;

  /** Measures how the layers sit while the sound plays. */
  showSeating(on: boolean): void {
    this.latestSeating = on;
    this.send({ type: 'seating', on });
  }
  private latestSeating = false;

  /** Measures what is heard while somebody looks at the meters. */
  showOutput(on: boolean): void {
    this.latestOutput = on;
    this.send({ type: 'output', on });
  }
  private latestOutput = false;

  hear(which: 'A' | 'B'): void {
    this.latestHeard = which;
    this.send({ type: 'hear', which });
  }
  private latestHeard: 'A' | 'B' = 'A';

  /** Level of the loudspeaker in dB; does not touch what is rendered. */
  setMonitorLevel(level: number): void {
    this.monitorLevel.set(level);
    if (this.context && this.monitor)
      this.monitor.gain.setTargetAtTime(level <= -60 ? 0 : Math.pow(10, level / 20), this.context.currentTime, 0.01);
  }

  private begin(what: 'sound' | 'audition' | 'hands', position: Seconds, speed = 1, until: Seconds = 0): void {
    if (!this.worker) this.renew();
    this.problem.set(undefined);
    this.latestRun = { speed, until };
    this.onEnd = undefined;
    this.endIndex = undefined;
    // Those of what played before tell nothing of this.
    this.anchors = [];
    this.meters.set(undefined);
    this.send({ type: 'loop', loop: what === 'sound' ? this.latestLoop : undefined });
    this.send({ type: 'tap', ...this.latestTap });
    this.send({ type: 'compare', other: this.latestOther });
    this.send({ type: 'hear', which: this.latestHeard });
    this.send({ type: 'seating', on: this.latestSeating });
    this.send({ type: 'output', on: this.latestOutput });
    this.send({ type: 'hands', on: this.latestHands });
    this.send({ type: 'play', what, position: Math.round(position * sampleRate), speed, until: Math.round(until * sampleRate) });
    this.playing.set(what);
    this.atNextRefresh(() => this.follow());
  }

  private startWorker(): Worker {
    const worker = spawnEngine();
    worker.onmessage = ({ data }: MessageEvent<EngineReport>) => this.receive(data);
    worker.onerror = (event) => this.startAgain(worker, event.message);
    return worker;
  }

  /** The worker has stopped by itself: another one takes its place, and what played goes on from where it was. */
  private startAgain(stopped: Worker, message: string): void {
    if (this.worker !== stopped) return;
    stopped.terminate();
    this.worker = undefined;
    const now = performance.now();
    this.stops = [...this.stops.filter((time) => now - time < restless), now];
    if (this.stops.length > mostStops) {
      this.playing.set(undefined);
      this.problem.set(`The engine stopped${message ? `: ${message}` : '; it could not be loaded.'}`);
      return;
    }
    setTimeout(() => this.goOnAnew(), firstPause * 4 ** (this.stops.length - 1));
  }
  private stops: readonly number[] = [];

  private goOnAnew(): void {
    if (this.ended || this.worker) return;
    this.renew();
    this.restarts.update((count) => count + 1);
    const playing = this.playing();
    if (playing === 'sound' || playing === 'hands') this.begin(playing, this.position(), this.latestRun.speed, this.latestRun.until);
    else if (playing === 'audition') this.finish();
  }
  private latestRun: { readonly speed: number; readonly until: Seconds } = { speed: 1, until: 0 };

  /** A new worker, told all that the last one knew. */
  private renew(): void {
    this.worker = this.startWorker();
    this.packer = new SoundPacker();
    if (this.latestSound) this.setSound(this.latestSound);
    this.openOutput();
  }

  private send(message: PostedMessage, moved: Transferable[] = []): void {
    this.worker?.postMessage(message, moved);
  }

  private start(): Promise<void> {
    if (this.ended) return Promise.reject(new Error('The project is closed.'));
    this.starting ??= this.connect().catch((error: unknown) => {
      this.starting = undefined;
      this.state.set('failed');
      this.problem.set(`Sound could not be started: ${error instanceof Error ? error.message : String(error)}`);
      throw error;
    });
    return this.starting.then(() => {
      if (this.output?.channels !== this.channels) this.openOutput();
      return this.context?.resume();
    });
  }

  private async connect(): Promise<void> {
    const context = new AudioContext({ sampleRate, latencyHint: 'interactive' });
    await context.audioWorklet.addModule(workletAddress);
    if (this.ended) {
      void context.close();
      return;
    }
    const monitor = context.createGain();
    monitor.connect(context.destination);
    this.context = context;
    this.monitor = monitor;
    this.worker ??= this.startWorker();
    this.openOutput();
    this.setMonitorLevel(this.monitorLevel());
    this.state.set('ready');
  }

  /** Puts a ring of as many channels as the sound has between the engine and the loudspeakers. */
  private openOutput(): void {
    const { context, monitor, channels } = this;
    if (!context || !monitor) return;
    this.output?.node.disconnect();
    const memory = (bytes: number) => (this.sharesMemory ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes));
    const samples = new Float32Array(memory(ringCapacity * channels * 4));
    const control = new Int32Array(memory(ringSlotCount * 4));
    const node = new AudioWorkletNode(context, 'choir-player', {
      numberOfInputs: 0,
      outputChannelCount: [channels],
      processorOptions: { samples, control },
    });
    node.connect(monitor);
    this.output = { node, channels };
    this.control = control;
    this.anchors = [];
    if (this.sharesMemory) this.send({ type: 'connect', sampleRate, samples, control });
    else this.connectByMessages(node, samples, control);
  }

  /** Without shared memory, engine and worklet have rings of their own, and the worklet tells both sides how far it has come. */
  private connectByMessages(node: AudioWorkletNode, samples: Float32Array, control: Int32Array): void {
    const { port1, port2 } = new MessageChannel();
    node.port.onmessage = ({ data }: MessageEvent<RingProgress>) => takeProgress(control, data);
    node.port.postMessage({ engine: port1 } satisfies EnginePort, [port1]);
    this.send({ type: 'connect', sampleRate, samples, control, port: port2 }, [port2]);
  }

  private receive(report: EngineReport): void {
    switch (report.type) {
      case 'anchor':
        this.anchors.push(report);
        break;
      case 'end':
        this.endIndex = report.index;
        break;
      case 'meters':
        // What is on its way when something else is opened belongs to what was there before.
        if (this.playing() !== undefined) this.meters.set(report.meters);
        break;
      case 'failed':
        this.playing.set(undefined);
        this.problem.set(`Playing stopped: ${report.message}`);
    }
  }

  /** Where on the time axis a frame of the ring lies, if what plays has come so far. */
  private placeOfRing(index: number): Seconds | undefined {
    const passed = this.anchors.findLast((anchor) => ((index - anchor.index) | 0) >= 0);
    return passed && (passed.position + ((index - passed.index) | 0) * passed.speed) / sampleRate;
  }

  /** Follows the worklet while something plays: position, output level, end. */
  private follow(): void {
    const { control } = this;
    if (!control || this.playing() === undefined) {
      this.outputPeak.set(0);
      return;
    }
    const read = Atomics.load(control, ringSlots.read);
    while (this.anchors.length > 1 && ((read - this.anchors[1]!.index) | 0) >= 0) this.anchors.shift();
    const place = this.placeOfRing(read);
    if (place !== undefined && this.playing() !== 'hands') this.currentPosition.set(place);
    this.outputPeak.set(Math.max(Atomics.exchange(control, ringSlots.outputPeak, 0) / 1e6, this.outputPeak() * 0.85));
    this.underruns.set(Atomics.load(control, ringSlots.underruns));
    if (this.endIndex !== undefined && ((read - this.endIndex) | 0) >= 0) {
      this.finish();
      return;
    }
    this.atNextRefresh(() => this.follow());
  }
}
