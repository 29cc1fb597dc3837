import { DestroyRef, effect, inject, Injectable } from '@angular/core';
import { Conductor } from '@tangled-choir/player';
import processorAddress from '../../generated/conductor.processor.js' with { loader: 'file' };
import { MonitorLevel } from './live/monitor-level';

/** Where behaviours are heard that are tried: an audio context with the player's worklet, at the level of the loudspeakers. */
@Injectable()
export class ConductOutput {
  private readonly level = inject(MonitorLevel).level;
  private context: AudioContext | undefined;
  private monitor: GainNode | undefined;
  private conductor: Promise<Conductor> | undefined;
  private ended = false;

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

  private async connect(sampleRate: number): Promise<Conductor> {
    const context = (this.context = new AudioContext({ sampleRate, latencyHint: 'interactive' }));
    const conductor = await Conductor.create(context, processorAddress);
    this.monitor = context.createGain();
    conductor.node.connect(this.monitor).connect(context.destination);
    this.setLevel(this.level());
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
