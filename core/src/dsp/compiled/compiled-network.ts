import type { Frames } from '../../units';
import type { KernelBlock, Kernels } from './kernels';
import type { LineLoss } from '../filters/line-loss';
import { lossNumbers, lossSections } from '../filters/line-loss';
import type { Lines, NetworkRun } from '../reverb-lines';

const longestRun: Frames = 1_024;
/** So many frames of all lines are computed together; more would not stay in the nearest cache. */
const mostAtOnce: Frames = 64;
/** Places of the network's state, in fours of bytes (see core/kernels/reverberate.ts). */
const stepsAt = 16 * lossNumbers;
const statesAt = 2 * stepsAt;
const delaysAt = statesAt + 16 * 2 * lossSections;
const stateLength = delaysAt + 80;
/** In eights of bytes. */
const offsetsAt = (delaysAt + 16) / 2;
const offsetStepsAt = offsetsAt + 16;

/** The lines of a network in the kernels' memory. */
export class CompiledNetwork implements Lines {
  private readonly ring: Frames;
  private readonly rings: KernelBlock;
  private readonly state: KernelBlock;
  private targets: readonly LineLoss[] = [];
  private position = 0;

  constructor(
    longest: readonly Frames[],
    private readonly kernels: Kernels,
  ) {
    this.ring = 2 ** Math.ceil(Math.log2(Math.max(...longest) + 4));
    this.rings = kernels.allocate(longest.length * this.ring * 4);
    this.state = kernels.allocate(stateLength * 4);
    roomFor(kernels);
  }

  reset(): void {
    const { kernels, state, rings, ring } = this;
    const samples = kernels.samples();
    samples.fill(0, rings.at / 4, rings.at / 4 + 16 * ring);
    samples.fill(0, state.at / 4 + statesAt, state.at / 4 + delaysAt);
    this.position = 0;
  }

  aim(delays: readonly Frames[], losses: readonly LineLoss[], turning: Frames): void {
    const { kernels } = this;
    const from = this.state.at / 4;
    const samples = kernels.samples();
    this.targets = losses;
    if (turning === 0) this.arrive();
    else
      losses.forEach((loss, line) => {
        for (let n = 0; n < lossNumbers; n++)
          samples[from + stepsAt + 16 * n + line] = (loss[n]! - samples[from + 16 * n + line]!) / turning;
      });
    kernels.integers().set(delays, from + delaysAt);
  }

  arrive(): void {
    const from = this.state.at / 4;
    const samples = this.kernels.samples();
    this.targets.forEach((loss, line) => {
      for (let n = 0; n < lossNumbers; n++) samples[from + 16 * n + line] = loss[n]!;
    });
  }

  process({ directLeft, directRight, sway, left, right, frames, glide, turning, most }: NetworkRun): void {
    const { kernels, state, rings, ring } = this;
    const room = roomFor(kernels).at;
    const memory = kernels.samples();
    const sides = [room + 20 * longestRun, room + 24 * longestRun] as const;
    memory.set(directLeft.subarray(0, frames), room / 4);
    memory.set(directRight.subarray(0, frames), room / 4 + 7 * longestRun);
    memory.set(sway.subarray(0, 4 * frames), room / 4 + longestRun);
    if (glide) {
      kernels.doubles().set(glide.offsets, state.at / 8 + offsetsAt);
      kernels.doubles().set(glide.steps, state.at / 8 + offsetStepsAt);
    }
    this.position = kernels.reverberate(
      room,
      room + 28 * longestRun,
      room + 4 * longestRun,
      sides[0],
      sides[1],
      frames,
      state.at,
      rings.at,
      ring,
      this.position,
      room + 32 * longestRun,
      Math.min(most, mostAtOnce),
      glide ? 1 : 0,
      turning ? 1 : 0,
    );
    left.set(memory.subarray(sides[0] / 4, sides[0] / 4 + frames));
    right.set(memory.subarray(sides[1] / 4, sides[1] / 4 + frames));
  }
}

let room: KernelBlock | undefined;

/** Where all networks put what goes in and find what comes out: the left, the sway of four lines, two sides that come out, the right, and what comes out of the lines. */
function roomFor(kernels: Kernels): KernelBlock {
  return (room ??= kernels.allocate((8 * longestRun + 16 * mostAtOnce) * 4));
}
