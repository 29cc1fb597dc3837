import type { Frames, Hertz } from '../../units';
import type { KernelBlock, Kernels } from './kernels';
import type { LineLoss } from '../filters/line-loss';
import { highCorner, lowCorner } from '../filters/line-loss';
import type { Lines, NetworkRun } from '../reverb-lines';

const longestRun: Frames = 1_024;
/** Places of the network's state, in fours of bytes (see core/kernels/reverberate.ts). */
const targetsAt = 48;
const shelvesAt = 96;
const delaysAt = 128;
const stateLength = 224;
/** In eights of bytes. */
const offsetsAt = 80;
const stepsAt = 96;

/** The lines of a network in the kernels' memory. */
export class CompiledNetwork implements Lines {
  private readonly ring: Frames;
  private readonly rings: KernelBlock;
  private readonly state: KernelBlock;
  private readonly lowG: number;
  private readonly highG: number;
  private position = 0;
  private fresh = true;

  constructor(
    longest: readonly Frames[],
    sampleRate: Hertz,
    private readonly kernels: Kernels,
  ) {
    this.ring = 2 ** Math.ceil(Math.log2(Math.max(...longest) + 4));
    this.rings = kernels.allocate(longest.length * this.ring * 4);
    this.state = kernels.allocate(stateLength * 4);
    const pole = (corner: Hertz): number => {
      const g = Math.tan((Math.PI * corner) / sampleRate);
      return g / (1 + g);
    };
    this.lowG = pole(lowCorner);
    this.highG = pole(highCorner);
    roomFor(kernels);
  }

  reset(): void {
    const { kernels, state, rings, ring } = this;
    const samples = kernels.samples();
    samples.fill(0, rings.at / 4, rings.at / 4 + 16 * ring);
    samples.fill(0, state.at / 4 + shelvesAt, state.at / 4 + delaysAt);
    this.position = 0;
    this.fresh = true;
  }

  aim(delays: readonly Frames[], losses: readonly LineLoss[]): void {
    const { kernels, fresh } = this;
    const from = this.state.at / 4;
    const samples = kernels.samples();
    this.fresh = false;
    losses.forEach(({ gain, lowShelf, highShelf }, n) => {
      [gain, lowShelf, highShelf].forEach((value, v) => {
        samples[from + targetsAt + 16 * v + n] = value;
        if (fresh) samples[from + 16 * v + n] = value;
      });
    });
    kernels.integers().set(delays, from + delaysAt);
  }

  process({ directLeft, directRight, sway, left, right, frames, glide }: NetworkRun): void {
    const { kernels, state, rings, ring, lowG, highG } = this;
    const room = roomFor(kernels).at;
    const memory = kernels.samples();
    const sides = [room + 20 * longestRun, room + 24 * longestRun] as const;
    memory.set(directLeft.subarray(0, frames), room / 4);
    memory.set(directRight.subarray(0, frames), room / 4 + 7 * longestRun);
    memory.set(sway.subarray(0, 4 * frames), room / 4 + longestRun);
    if (glide) {
      kernels.doubles().set(glide.offsets, state.at / 8 + offsetsAt);
      kernels.doubles().set(glide.steps, state.at / 8 + stepsAt);
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
      lowG,
      highG,
      glide ? 1 : 0,
    );
    left.set(memory.subarray(sides[0] / 4, sides[0] / 4 + frames));
    right.set(memory.subarray(sides[1] / 4, sides[1] / 4 + frames));
  }
}

let room: KernelBlock | undefined;

/** Where all networks put what goes in and find what comes out: the left, the sway of four lines, two sides that come out, the right. */
function roomFor(kernels: Kernels): KernelBlock {
  return (room ??= kernels.allocate(8 * longestRun * 4));
}
