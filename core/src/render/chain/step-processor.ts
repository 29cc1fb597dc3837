import { Glide } from '../../dsp/glide';
import { effectsById } from '../../effects';
import type { Block } from '../../dsp/block';
import type { BranchPath, Effect, Processor } from '../../effects/effect';
import { createBlock, maxBlock } from '../../dsp/block';
import { fromAxis } from '../../project/axis';
import type { ParameterValue, ParameterValues } from '../../project/parameters';
import { inTempo, resolveValues } from '../../project/parameters';
import type { Reference } from '../../project/chain/references';
import type { EffectStep } from '../../project/chain/chain-schema';
import type { Decibels, Frames } from '../../units';
import type { OwnReaders } from '../automation';
import { effectStep } from '../automation';
import type { ChainContext } from './chain-context';
import { stepLatency, stepRecordings, stepReferences } from './chain-measures';

const glideFrames: Frames = 512;

/** Hears what goes into and comes out of one step, for spectra and meters. */
export interface StepTap {
  /** What goes in; of effects with a dry sound of their own, that. */
  hearBefore(block: Block): void;
  hearAfter(block: Block): void;
}

/** Those who listen, by the step that they listen at. */
export type StepTaps = ReadonlyMap<string, StepTap>;

/** A branch that must be told where on the time axis it is. */
interface TimedBranch extends BranchPath {
  time: Frames;
}

/** One step of a chain at work: an effect, how much of it is heard, and what moves its values. */
export class StepProcessor {
  readonly id: string;
  readonly latency: Frames;
  private readonly effect: Effect;
  private readonly processor: Processor;
  /** The input, as late as the output; and what the effect gives as its own dry sound. */
  private readonly input: Late;
  private readonly ownDry: Late | undefined;
  private readonly inputBlock: Block;
  private readonly dryBlock: Block | undefined;
  /** How far the step is switched on, and the share of the effect while it is. */
  private readonly on = new Glide(glideFrames);
  private readonly wet = new Glide(glideFrames);
  private values: Record<string, ParameterValue>;
  /** Automated values are written in turns into this and `values`, because effects know changed values by a changed object. */
  private spare: Record<string, ParameterValue>;
  private stored: ParameterValues;
  /** Values as they are stored, before they are counted in notes or moved. */
  private unmoved: ParameterValues;
  /** True where times can be counted in notes. */
  private readonly counts: boolean;
  private bpm = NaN;
  private lanes: OwnReaders = [];
  /** The stretch of the time axis, one of those of `effectStep` frames, whose values are taken over. */
  private cell = NaN;
  private mixMoves = false;
  private idle = false;
  private readonly part: Block;
  /** What it listens to, by the parameters that chose it. */
  private readonly keys: readonly { readonly name: string; readonly reference: Reference; readonly block: Block }[];

  constructor(
    step: EffectStep,
    private readonly context: ChainContext,
    private readonly branches: readonly TimedBranch[],
  ) {
    const { sampleRate, channels } = context;
    const effect = effectsById.get(step.effect);
    if (!effect) throw new Error(`There is no effect “${step.effect}”.`);
    this.id = step.id;
    this.effect = effect;
    this.stored = step.parameters;
    this.values = resolveValues(effect.parameters, step.parameters);
    this.unmoved = { ...this.values };
    this.spare = { ...this.values };
    this.counts = Object.values(effect.parameters).some((parameter) => parameter.kind === 'number' && parameter.counted !== undefined);
    this.latency = stepLatency(step, context);
    this.keys = context.keys
      ? stepReferences(effect, this.values, 'layer').map(([name, reference]) => ({ name, reference, block: createBlock(channels) }))
      : [];
    this.processor = effect.create({
      sampleRate,
      channels,
      values: this.values,
      ...(branches.length > 0 && { branches }),
      keys: Object.fromEntries(this.keys.map(({ name, block }) => [name, block])),
      recordings: stepRecordings(effect, this.values, context),
      ...(context.offline && { offline: true }),
    });
    this.processor.reset();
    this.input = new Late(channels, this.latency);
    this.inputBlock = createBlock(channels);
    if (this.processor.dry) {
      this.ownDry = new Late(channels, this.latency);
      this.dryBlock = createBlock(channels);
    }
    this.part = createBlock(channels, effectStep);
    this.on.aim(step.enabled ? 1 : 0);
  }

  get gainReduction(): Decibels | undefined {
    return this.idle ? 0 : this.processor.gainReduction;
  }

  get takesKeys(): boolean {
    return this.keys.length > 0;
  }

  apply(step: EffectStep, lanes: OwnReaders, bpm: number): void {
    // Values that a lane has left behind must go with it.
    if (step.parameters !== this.stored || bpm !== this.bpm || lanes.length > 0 || this.lanes.length > 0) {
      this.stored = step.parameters;
      this.bpm = bpm;
      this.unmoved = resolveValues(this.effect.parameters, step.parameters);
      this.values = inTempo(this.effect.parameters, { ...this.unmoved }, bpm);
      this.spare = { ...this.values };
    }
    this.cell = NaN;
    // A step that is off stays off, whatever its lanes say.
    this.lanes = step.enabled ? lanes : [];
    this.mixMoves = this.lanes.some(({ key }) => key === 'mix');
    this.on.aim(step.enabled ? 1 : 0);
    if (!this.mixMoves) this.wet.aim(step.mix);
  }

  /** Forgets all sound. */
  reset(): void {
    this.cell = NaN;
    this.processor.reset();
    this.input.reset();
    this.ownDry?.reset();
  }

  process(block: Block, time: Frames, tap: StepTap | undefined): void {
    if (this.lanes.length === 0) {
      this.run(block, time, tap);
      return;
    }
    const { part } = this;
    const { channels } = this.context;
    for (let from = 0; from < block.frames; from += part.frames) {
      // Counted along the time axis of what comes out, so that it is heard alike in blocks of any size.
      const heardAt = time + from - this.latency;
      const cell = Math.floor(heardAt / effectStep);
      part.frames = Math.min((cell + 1) * effectStep - heardAt, block.frames - from);
      if (cell !== this.cell) this.followLanes(cell * effectStep + this.latency);
      this.cell = cell;
      for (let c = 0; c < channels; c++) copy(block.channels[c]!, from, part.channels[c]!, 0, part.frames);
      this.run(part, time + from, tap);
      for (let c = 0; c < channels; c++) copy(part.channels[c]!, 0, block.channels[c]!, from, part.frames);
    }
  }

  /** Takes over the values of the lanes at the end of the next step, when effects will have glided to them. */
  private followLanes(time: Frames): void {
    const { parameters } = this.effect;
    const next = this.spare;
    if (this.counts) Object.assign(next, this.unmoved);
    for (const { key, parameter, reader } of this.lanes) {
      const end = time + effectStep;
      if (key === 'mix') this.wet.aim(reader.at(end - this.latency));
      else if (parameter.kind === 'number') next[key] = reader.at(parameter.output ? end - this.latency : end);
      // Nothing glides to a stage: what is nearest to the middle of the step comes at its beginning.
      else next[key] = fromAxis(parameter, reader.at(time + effectStep / 2));
    }
    if (this.counts) inTempo(parameters, next, this.bpm);
    this.spare = this.values;
    this.values = next;
  }

  private run(block: Block, time: Frames, tap: StepTap | undefined): void {
    const { on, wet, latency, input, ownDry } = this;
    const off = !on.moving && on.current === 0;
    // What a lane will bring in must have heard what came before: it lags.
    const fullyDry = off || (!ownDry && !wet.moving && wet.current === 0 && !this.mixMoves);
    const fullyWet = !on.moving && on.current === 1 && !wet.moving && wet.current === 1;
    const dry = fullyDry ? undefined : this.processor.dry;
    if (!dry) tap?.hearBefore(block);
    if (fullyDry && latency === 0) {
      this.idle = true;
      tap?.hearAfter(block);
      return;
    }
    if (latency > 0 || !fullyWet) input.keep(block);
    if (fullyDry) {
      input.read(block, latency);
      this.idle = true;
      tap?.hearAfter(block);
      return;
    }
    if (this.idle) this.wake(time);
    this.compute(block, time);
    if (dry) {
      tap?.hearBefore(dry);
      ownDry?.keep(dry);
    }
    if (!fullyWet) this.mix(block);
    tap?.hearAfter(block);
  }

  /** Lets the effect hear what came in front of `time`, as far back as it lags: it would be silent for so long otherwise. */
  private wake(time: Frames): void {
    const { inputBlock, input, latency } = this;
    this.processor.reset();
    this.ownDry?.reset();
    this.idle = false;
    for (let ago = latency; ago > 0; ago -= inputBlock.frames) {
      inputBlock.frames = Math.min(maxBlock, ago);
      input.read(inputBlock, ago);
      this.compute(inputBlock, time - ago);
      if (this.processor.dry) this.ownDry?.keep(this.processor.dry);
    }
  }

  private compute(block: Block, time: Frames): void {
    for (const branch of this.branches) branch.time = time;
    for (const { reference, block: heard } of this.keys) {
      heard.frames = block.frames;
      this.context.keys!.read(reference, time, heard);
    }
    this.processor.process(block, this.values);
  }

  /** Mixes the effect with its dry sound, and what comes of it with the input as far as the step is off. */
  private mix(block: Block): void {
    const { on, wet } = this;
    const { channels } = this.context;
    const inputs = this.inputBlock.channels;
    this.inputBlock.frames = block.frames;
    this.input.read(this.inputBlock, this.latency);
    const dries = this.dryBlock?.channels ?? inputs;
    if (this.dryBlock) {
      this.dryBlock.frames = block.frames;
      this.ownDry?.read(this.dryBlock, this.latency);
    }
    for (let i = 0; i < block.frames; i++) {
      const present = on.next();
      const share = wet.next();
      for (let c = 0; c < channels; c++) {
        const channel = block.channels[c]!;
        const original = inputs[c]![i]!;
        const dry = dries[c]![i]!;
        const mixed = dry + (channel[i]! - dry) * share;
        channel[i] = original + (mixed - original) * present;
      }
    }
  }
}

/** Keeps the latest sound, and gives it back late. */
class Late {
  private readonly lines: readonly Float32Array[];
  private readonly mask: number;
  /** Where the block that was kept last begins. */
  private start = 0;
  private frames = 0;

  /** @param longest how late it must be able to give sound back */
  constructor(channels: number, longest: Frames) {
    const length = 2 ** Math.ceil(Math.log2(longest + maxBlock));
    this.mask = length - 1;
    this.lines = Array.from({ length: channels }, () => new Float32Array(length));
  }

  reset(): void {
    for (const line of this.lines) line.fill(0);
  }

  keep(block: Block): void {
    const { lines, mask } = this;
    const start = (this.start + this.frames) & mask;
    this.start = start;
    this.frames = block.frames;
    const whole = Math.min(block.frames, mask + 1 - start);
    for (let c = 0; c < lines.length; c++) {
      copy(block.channels[c]!, 0, lines[c]!, start, whole);
      copy(block.channels[c]!, whole, lines[c]!, 0, block.frames - whole);
    }
  }

  /** Fills a block with what was kept from `late` frames in front of the block that was kept last. */
  read(block: Block, late: Frames): void {
    const { lines, mask } = this;
    const { frames } = block;
    const from = (this.start - late) & mask;
    const whole = Math.min(frames, mask + 1 - from);
    for (let c = 0; c < lines.length; c++) {
      copy(lines[c]!, from, block.channels[c]!, 0, whole);
      copy(lines[c]!, 0, block.channels[c]!, whole, frames - whole);
    }
  }
}

/** Long runs are moved as a whole; for short ones, a loop is quicker than a view. */
function copy(from: Float32Array, start: Frames, to: Float32Array, at: Frames, frames: Frames): void {
  if (frames >= 64) {
    to.set(from.subarray(start, start + frames), at);
    return;
  }
  for (let i = 0; i < frames; i++) to[at + i] = from[start + i]!;
}
