import type { Frames } from '../../units';
import type { KernelBlock, Kernels } from '../compiled/kernels';
import { getKernels } from '../compiled/kernels';
import type { SectionCoefficients } from './state-variable';
import { Section } from './state-variable';

/** Numbers of a pair of sections in the kernel's memory: seven vectors of two. */
const pairLength = 14;
const longestRun: Frames = 1_024;

/** Room for the samples of one run; every run writes its own into it. */
let run: KernelBlock | undefined;

/** Sections in series in compiled memory: those that work, in pairs, and how many pairs these are. */
interface Compiled {
  readonly kernels: Kernels;
  readonly run: KernelBlock;
  readonly pairs: KernelBlock;
}

function compiledRoom(sections: number): Compiled | undefined {
  const kernels = getKernels();
  if (!kernels) return undefined;
  run ??= kernels.allocate(longestRun * 4);
  return { kernels, run, pairs: kernels.allocate(Math.ceil(sections / 2) * pairLength * 8) };
}

/**
 * Sections in series over one channel. While coefficients move they run one by one; once all stand still, those that change anything are
 * handed over to a compiled kernel (see core/kernels/cascade.ts) until one is aimed elsewhere.
 */
export class SectionCascade {
  private readonly sections: readonly Section[];
  private readonly compiled: Compiled | undefined;
  /** Sections that the kernel has; none while they are here. */
  private readonly handedOver: Section[] = [];
  private steady = false;

  /** @param glideFrames frames over which changed coefficients are reached */
  constructor(count: number, glideFrames: Frames) {
    this.sections = Array.from({ length: count }, () => new Section(glideFrames));
    this.compiled = compiledRoom(count);
  }

  /** Gives a section other coefficients. */
  aim(index: number, target: Readonly<SectionCoefficients>): void {
    this.takeBack();
    this.sections[index]!.aim(target);
  }

  /** Forgets the sound; the next coefficients are taken over at once. */
  reset(): void {
    this.handedOver.length = 0;
    this.steady = false;
    for (const section of this.sections) section.reset();
  }

  /** Filters the first `frames` samples in place, at most 1024. */
  process(samples: Float32Array, frames: Frames): void {
    // The kernel takes over in the same frame whatever the blocks are.
    const from = this.steady ? 0 : this.processMoving(samples, frames);
    if (from === frames || !this.compiled) return;
    if (!this.steady) this.handOver(this.compiled);
    if (this.handedOver.length === 0) return;
    const { kernels, run, pairs } = this.compiled;
    const memory = kernels.samples();
    const place = run.at / 4;
    const whole = from === 0 && frames === samples.length;
    const steady = whole ? samples : samples.subarray(from, frames);
    memory.set(steady, place);
    kernels.cascade(run.at, steady.length, pairs.at, (this.handedOver.length + 1) >> 1);
    steady.set(memory.subarray(place, place + steady.length));
  }

  /** Runs the sections one by one until they all stand still; returns how many frames that took. */
  private processMoving(samples: Float32Array, frames: Frames): Frames {
    let moving = 0;
    for (const section of this.sections) moving = Math.max(moving, section.moving);
    const end = this.compiled ? Math.min(frames, moving) : frames;
    if (end > 0) for (const section of this.sections) if (!section.idle) section.process(samples, 0, end);
    return end;
  }

  private handOver({ kernels, pairs }: Compiled): void {
    this.steady = true;
    const numbers = kernels.doubles();
    const at = (n: number): number => pairs.at / 8 + (n >> 1) * pairLength + (n & 1);
    for (const section of this.sections) {
      if (section.idle) continue;
      section.writeDirect(numbers, at(this.handedOver.length), 2);
      this.handedOver.push(section);
    }
    if (this.handedOver.length & 1) passThrough(numbers, at(this.handedOver.length));
  }

  private takeBack(): void {
    if (!this.steady || !this.compiled) return;
    const { kernels, pairs } = this.compiled;
    const numbers = kernels.doubles();
    this.handedOver.forEach((section, n) => section.readDirect(numbers, pairs.at / 8 + (n >> 1) * pairLength + (n & 1), 2));
    this.handedOver.length = 0;
    this.steady = false;
  }
}

/** Makes the second of a pair one that changes nothing. */
function passThrough(numbers: Float64Array, at: number): void {
  for (let i = 0; i < 7; i++) numbers[at + 2 * i] = i === 0 ? 1 : 0;
}
