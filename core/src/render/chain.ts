import { Glide } from '../dsp/glide';
import type { Block, Effect, Processor } from '../effects/effect';
import { maxBlock } from '../effects/effect';
import { effectsById } from '../effects';
import type { ParameterValues } from '../project/parameters';
import { resolveValues } from '../project/parameters';
import type { EffectStep } from '../project/schema';
import type { Decibels, Frames, Hertz } from '../units';

const glideFrames: Frames = 512;

/** Hears what goes into and comes out of one step, for the spectrum and the meters of its editor. */
export interface StepTap {
  readonly step: string;
  before(block: Block): void;
  after(block: Block): void;
}

/** A chain of effects at work. Every step keeps its latency whether it is on or off, so that nothing shifts when it is switched. */
export class ChainProcessor {
  private readonly steps: StepProcessor[];
  /** Frames by which the output lags. */
  readonly latency: Frames;
  tap: StepTap | undefined;

  constructor(chain: readonly EffectStep[], sampleRate: Hertz, channels: number) {
    this.steps = chain.map((step) => new StepProcessor(step, sampleRate, channels));
    this.latency = this.steps.reduce((sum, step) => sum + step.latency, 0);
  }

  /** Takes over changed values, mixes and switches of a chain with the same structure. */
  apply(chain: readonly EffectStep[]): void {
    chain.forEach((step, index) => this.steps[index]?.apply(step));
  }

  process(block: Block): void {
    for (const step of this.steps) {
      const tap = this.tap?.step === step.id ? this.tap : undefined;
      tap?.before(block);
      step.process(block);
      tap?.after(block);
    }
  }

  /** Gain reduction of every step that has one, by step id. */
  gainReductions(into: Map<string, Decibels>): void {
    for (const step of this.steps) if (step.gainReduction !== undefined) into.set(step.id, step.gainReduction);
  }
}

class StepProcessor {
  readonly id: string;
  readonly latency: Frames;
  private readonly effect: Effect;
  private readonly processor: Processor;
  private readonly dry: Block;
  private readonly delay: Float32Array[];
  private delayPosition = 0;
  private readonly wet = new Glide(glideFrames);
  private values: ParameterValues;
  private stored: ParameterValues;
  private idle = false;

  constructor(
    step: EffectStep,
    sampleRate: Hertz,
    private readonly channels: number,
  ) {
    const effect = effectsById.get(step.effect);
    if (!effect) throw new Error(`There is no effect “${step.effect}”.`);
    this.id = step.id;
    this.effect = effect;
    this.stored = step.parameters;
    this.values = resolveValues(effect.parameters, step.parameters);
    this.latency = effect.latency(this.values, sampleRate);
    this.processor = effect.create({ sampleRate, channels });
    this.processor.reset();
    this.dry = { channels: Array.from({ length: channels }, () => new Float32Array(maxBlock)), frames: 0 };
    this.delay = Array.from({ length: channels }, () => new Float32Array(this.latency));
    this.wet.aim(step.enabled ? step.mix : 0);
  }

  get gainReduction(): Decibels | undefined {
    return this.idle ? 0 : this.processor.gainReduction;
  }

  apply(step: EffectStep): void {
    if (step.parameters !== this.stored) {
      this.stored = step.parameters;
      this.values = resolveValues(this.effect.parameters, step.parameters);
    }
    this.wet.aim(step.enabled ? step.mix : 0);
  }

  process(block: Block): void {
    const { wet, dry, channels, latency } = this;
    const fullyDry = !wet.moving && wet.current === 0;
    const fullyWet = !wet.moving && wet.current === 1;
    if (fullyDry && latency === 0) {
      this.idle = true;
      return;
    }
    if (latency > 0 || !fullyWet) this.keepDry(block);
    if (fullyDry) {
      for (let c = 0; c < channels; c++) block.channels[c]!.set(dry.channels[c]!.subarray(0, block.frames));
      this.idle = true;
      return;
    }
    if (this.idle) {
      this.processor.reset();
      this.idle = false;
    }
    this.processor.process(block, this.values);
    if (fullyWet) return;
    for (let i = 0; i < block.frames; i++) {
      const share = wet.next();
      for (let c = 0; c < channels; c++) {
        const channel = block.channels[c]!;
        const original = dry.channels[c]![i]!;
        channel[i] = original + (channel[i]! - original) * share;
      }
    }
  }

  /** Copies the input into `dry`, delayed as the effect delays it. */
  private keepDry(block: Block): void {
    const { latency } = this;
    let end = this.delayPosition;
    for (let c = 0; c < this.channels; c++) {
      const input = block.channels[c]!;
      const output = this.dry.channels[c]!;
      if (latency === 0) {
        output.set(input.subarray(0, block.frames));
        continue;
      }
      const line = this.delay[c]!;
      let position = this.delayPosition;
      for (let i = 0; i < block.frames; i++) {
        output[i] = line[position]!;
        line[position] = input[i]!;
        if (++position === latency) position = 0;
      }
      end = position;
    }
    this.delayPosition = end;
  }
}

/** Frames that a chain goes on sounding after its input has ended. */
export function chainTail(chain: readonly EffectStep[], sampleRate: Hertz): Frames {
  return chain.reduce((sum, step) => {
    const effect = step.enabled ? effectsById.get(step.effect) : undefined;
    return sum + (effect ? effect.tail(resolveValues(effect.parameters, step.parameters), sampleRate) : 0);
  }, 0);
}

/** What of a chain cannot change without building it anew: its steps and their latencies. */
export function chainStructure(chain: readonly EffectStep[], sampleRate: Hertz): string {
  return chain
    .map((step) => {
      const effect = effectsById.get(step.effect);
      return `${step.id}:${step.effect}:${effect ? effect.latency(resolveValues(effect.parameters, step.parameters), sampleRate) : 0}`;
    })
    .join(',');
}
