import type { Block } from '../../dsp/block';
import type { BranchPath } from '../../effects/effect';
import type { Branch, EffectStep } from '../../project/chain/chain-schema';
import type { Decibels, Frames } from '../../units';
import type { Moves } from '../automation';
import type { ChainContext } from './chain-context';
import { branchDelay, branchLatency } from './chain-measures';
import { DelayLine } from '../../dsp/delay-line';
import { Fader, faderLanes } from '../fader';
import type { StepTaps } from './step-processor';
import { StepProcessor } from './step-processor';

const noTaps: StepTaps = new Map();

/** A chain of effects at work. Every step keeps its latency whether it is on or off, so that nothing shifts when it is switched. */
export class ChainProcessor {
  private readonly steps: StepProcessor[];
  private readonly branches: readonly (readonly BranchProcessor[])[];
  /** Frames by which the output lags. */
  readonly latency: Frames;
  private currentTaps: StepTaps = noTaps;

  constructor(chain: readonly EffectStep[], context: ChainContext) {
    this.branches = chain.map((step) => {
      const lead = branchLatency(step, context);
      return (step.branches ?? []).map((branch) => new BranchProcessor(branch, context, lead));
    });
    this.steps = chain.map((step, index) => new StepProcessor(step, context, this.branches[index]!));
    this.latency = this.steps.reduce((sum, step) => sum + step.latency, 0);
  }

  /** Takes over changed values, mixes and switches of a chain with the same structure, and the lanes that move them. */
  apply(chain: readonly EffectStep[], automation: Moves, owner: string): void {
    chain.forEach((step, index) => {
      this.steps[index]?.apply(step, automation.below(`${owner}/chain/${step.id}`), automation.bpm);
      const branches = step.branches ?? [];
      const alone = branches.some((branch) => branch.soloed);
      branches.forEach((branch, b) =>
        this.branches[index]?.[b]?.apply(branch, !branch.muted && (!alone || branch.soloed), automation, owner),
      );
    });
  }

  /** True when it passes on what goes in. */
  get empty(): boolean {
    return this.steps.length === 0;
  }

  /** True when something in it listens to other layers. */
  get takesKeys(): boolean {
    return this.steps.some((step) => step.takesKeys) || this.branches.flat().some((branch) => branch.chain.takesKeys);
  }

  set taps(taps: StepTaps) {
    this.currentTaps = taps;
    for (const branch of this.branches.flat()) branch.chain.taps = taps;
  }

  reset(): void {
    for (const step of this.steps) step.reset();
  }

  /** Processes a block in place; `time` is where on the time axis its input lies. */
  process(block: Block, time: Frames): void {
    let at = time;
    for (const step of this.steps) {
      step.process(block, at, this.currentTaps.get(step.id));
      at -= step.latency;
    }
  }

  /** Gain reduction of every step that has one, by step id; none in a chain that rests. */
  gainReductions(into: Map<string, Decibels>, resting = false): void {
    for (const step of this.steps) if (step.gainReduction !== undefined) into.set(step.id, resting ? 0 : step.gainReduction);
    for (const branches of this.branches) for (const branch of branches) branch.chain.gainReductions(into, resting);
  }
}

/** One way through a host at work: its chain, then its fader. All branches of a host lag by as much as the slowest of them. */
class BranchProcessor implements BranchPath {
  readonly chain: ChainProcessor;
  private readonly align: DelayLine;
  private readonly fader: Fader;
  /** Where on the time axis the input of the next block lies; told by the step. */
  time: Frames = 0;

  constructor(
    branch: Branch,
    context: ChainContext,
    private readonly lead: Frames,
  ) {
    this.chain = new ChainProcessor(branch.chain, context);
    this.align = new DelayLine(lead - this.chain.latency + branchDelay(branch, context.sampleRate), context.channels);
    this.fader = new Fader(context.channels);
  }

  apply(branch: Branch, audible: boolean, automation: Moves, owner: string): void {
    this.chain.apply(branch.chain, automation, owner);
    this.fader.aim(branch, audible, faderLanes(automation, `${owner}/branch/${branch.id}`));
  }

  reset(): void {
    this.chain.reset();
    this.align.reset();
  }

  process(block: Block): void {
    this.chain.process(block, this.time);
    this.align.process(block);
    this.fader.process(block, this.time - this.lead);
  }
}
