import { Glide } from '../dsp/glide';
import type { Block, Effect, Processor } from '../effects/effect';
import { maxBlock } from '../effects/effect';
import { effectsById } from '../effects';
import type { ParameterValue, ParameterValues } from '../project/parameters';
import { resolveValues } from '../project/parameters';
import type { EffectStep } from '../project/schema';
import type { Decibels, Frames, Hertz } from '../units';
import type { Automation, OwnReaders } from './automation';
import { effectStep } from './automation';

const glideFrames: Frames = 512;

/** Hears what goes into and comes out of one step, for spectra and meters. */
export interface StepTap {
  hearBefore(block: Block): void;
  hearAfter(block: Block): void;
}

/** Those who listen, by the step that they listen at. */
export type StepTaps = ReadonlyMap<string, StepTap>;

const noTaps: StepTaps = new Map();

/** A chain of effects at work. Every step keeps its latency whether it is on or off, so that nothing shifts when it is switched. */
export class ChainProcessor {
  private readonly steps: StepProcessor[];
  /** Frames by which the output lags. */
  readonly latency: Frames;
  taps: StepTaps = noTaps;

  constructor(chain: readonly EffectStep[], sampleRate: Hertz, channels: number) {
    this.steps = chain.map((step) => new StepProcessor(step, sampleRate, channels));
    this.latency = this.steps.reduce((sum, step) => sum + step.latency, 0);
  }

  /** Takes over changed values, mixes and switches of a chain with the same structure, and the lanes that move them. */
  apply(chain: readonly EffectStep[], automation: Automation, owner: string): void {
    chain.forEach((step, index) => this.steps[index]?.apply(step, automation.below(`${owner}/chain/${step.id}`)));
  }

  /** Processes a block in place; `time` is where on the time axis its input lies. */
  process(block: Block, time: Frames): void {
    let at = time;
    for (const step of this.steps) {
      const tap = this.taps.get(step.id);
      tap?.hearBefore(block);
      step.process(block, at);
      tap?.hearAfter(block);
      at -= step.latency;
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
  private values: Record<string, ParameterValue>;
  /** Automated values are written in turns into this and `values`, because effects know changed values by a changed object. */
  private spare: Record<string, ParameterValue>;
  private stored: ParameterValues;
  private lanes: OwnReaders = [];
  private mix = 1;
  private idle = false;
  private readonly part: Block;

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
    this.spare = { ...this.values };
    this.latency = effect.latency(this.values, sampleRate);
    this.processor = effect.create({ sampleRate, channels });
    this.processor.reset();
    this.dry = { channels: Array.from({ length: channels }, () => new Float32Array(maxBlock)), frames: 0 };
    this.delay = Array.from({ length: channels }, () => new Float32Array(this.latency));
    this.part = { channels: Array.from({ length: channels }, () => new Float32Array(effectStep)), frames: 0 };
    this.mix = step.enabled ? step.mix : 0;
    this.wet.aim(this.mix);
  }

  get gainReduction(): Decibels | undefined {
    return this.idle ? 0 : this.processor.gainReduction;
  }

  apply(step: EffectStep, lanes: OwnReaders): void {
    // Values that a lane has left behind must go with it.
    if (step.parameters !== this.stored || lanes.length > 0 || this.lanes.length > 0) {
      this.stored = step.parameters;
      this.values = resolveValues(this.effect.parameters, step.parameters);
      this.spare = { ...this.values };
    }
    // A step that is off stays off, whatever its lanes say.
    this.lanes = step.enabled ? lanes : [];
    this.mix = step.enabled ? step.mix : 0;
    this.wet.aim(this.mix);
  }

  process(block: Block, time: Frames): void {
    if (this.lanes.length === 0) {
      this.run(block);
      return;
    }
    const { part } = this;
    for (let from = 0; from < block.frames; from += effectStep) {
      part.frames = Math.min(effectStep, block.frames - from);
      this.followLanes(time + from);
      for (let c = 0; c < this.channels; c++) copy(block.channels[c]!, from, part.channels[c]!, 0, part.frames);
      this.run(part);
      for (let c = 0; c < this.channels; c++) copy(part.channels[c]!, 0, block.channels[c]!, from, part.frames);
    }
  }

  /** Takes over the values of the lanes at the end of the next step, when effects will have glided to them. */
  private followLanes(time: Frames): void {
    const next = this.spare;
    for (const { key, reader } of this.lanes) {
      const value = reader.at(time + effectStep);
      if (key === 'mix') this.wet.aim(value);
      else next[key] = value;
    }
    this.spare = this.values;
    this.values = next;
  }

  private run(block: Block): void {
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

function copy(from: Float32Array, start: Frames, to: Float32Array, at: Frames, frames: Frames): void {
  for (let i = 0; i < frames; i++) to[at + i] = from[start + i]!;
}

/** Frames that a chain goes on sounding after its input has ended; with automation, the longest that any of its points asks for. */
export function chainTail(chain: readonly EffectStep[], sampleRate: Hertz, automation?: Automation, owner = ''): Frames {
  return chain.reduce((sum, step) => {
    const effect = step.enabled ? effectsById.get(step.effect) : undefined;
    if (!effect) return sum;
    const values = resolveValues(effect.parameters, step.parameters);
    let longest = effect.tail(values, sampleRate);
    for (const { key, reader } of automation?.below(`${owner}/chain/${step.id}`) ?? []) {
      if (key === 'mix') continue;
      for (const value of reader.extremes()) longest = Math.max(longest, effect.tail({ ...values, [key]: value }, sampleRate));
    }
    return sum + longest;
  }, 0);
}

/** Frames by which a chain lags. */
export function chainLatency(chain: readonly EffectStep[], sampleRate: Hertz): Frames {
  return chain.reduce((sum, step) => sum + stepLatency(step, sampleRate), 0);
}

/** Frames by which one step lags. */
export function stepLatency(step: EffectStep, sampleRate: Hertz): Frames {
  const effect = effectsById.get(step.effect);
  return effect ? effect.latency(resolveValues(effect.parameters, step.parameters), sampleRate) : 0;
}

/** What of a chain cannot change without building it anew: its steps and their latencies. */
export function chainStructure(chain: readonly EffectStep[], sampleRate: Hertz): string {
  return chain.map((step) => `${step.id}:${step.effect}:${stepLatency(step, sampleRate)}`).join(',');
}
