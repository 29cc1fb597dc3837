import { DestroyRef, effect, inject, Injectable, signal } from '@angular/core';
import { Conductor } from '@tangled-choir/player';
import processorAddress from '../../generated/conductor.processor.js' with { loader: 'file' };
import levelsAddress from '../../generated/levels.processor.js' with { loader: 'file' };
import type { LevelsMessage } from './live/levels-message';
import { levelsProcessor } from './live/levels-message';
import { MonitorLevel } from './live/monitor-level';
import type { LevelReading } from './live/output-levels';

/** Where behaviours are heard that are tried: an audio context with the player's worklet, at the level of the loudspeakers. */
@Injectable()
export class ConductOutput {
  private readonly level = inject(MonitorLevel).level;
  private context: AudioContext | undefined;
  private monitor: GainNode | undefined;
  private conductor: Promise<Conductor> | undefined;
  private ended = false;
  private meter: AudioWorkletNode | undefined;
  private readonly measured = signal<LevelReading | undefined>(undefined);
  /** How loud what was heard is since the beginning, at the level before the loudspeakers. */
  readonly levels = this.measured.asReadonly();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.end());
    effect(() => this.setLevel(this.level()));
  }

  /** The conductor at this rate, ready to be heard. Rejects where there is no way to the loudspeakers. */
  async start(sampleRate: number): Promise<Conductor> {
    if (this.ended) throw new Error('The project is closed.');
    this.conductor ??= this.connect(sampleRate).catch((error: unknown) => {
      this.conductor = undefined;
      throw error;
    });
    const conductor = await this.conductor;
    await this.context?.resume();
    return conductor;
  }

  /** Goes on measuring, waits, or begins anew. */
  measure(message: LevelsMessage): void {
    this.meter?.port.postMessage(message);
    if (message === 'afresh') this.measured.set(undefined);
  }

  private async connect(sampleRate: number): Promise<Conductor> {
    const context = (this.context = new AudioContext({ sampleRate, latencyHint: 0 }));
    const conductor = await Conductor.create(context, processorAddress);
    this.monitor = context.createGain();
    conductor.node.connect(this.monitor).connect(context.destination);
    this.setLevel(this.level());
    await context.audioWorklet.addModule(levelsAddress);
    this.meter = new AudioWorkletNode(context, levelsProcessor, { numberOfOutputs: 0, channelCount: 2, channelCountMode: 'explicit' });
    this.meter.port.onmessage = ({ data }: MessageEvent<LevelReading>) => this.measured.set(data);
    conductor.node.connect(this.meter);
    return conductor;
  }

  private setLevel(level: number): void {
    if (this.context && this.monitor)
      this.monitor.gain.setTargetAtTime(level <= -60 ? 0 : Math.pow(10, level / 20), this.context.currentTime, 0.01);
  }

  private end(): void {
    this.ended = true;
    void this.conductor?.then((conductor) => conductor.close()).catch(() => undefined);
    void this.context?.close().catch(() => undefined);
  }
}
