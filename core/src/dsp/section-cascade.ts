import type { Frames } from '../units';
import type { KernelBlock, Kernels } from './kernels';
import { getKernels } from './kernels';
import type { Section } from './state-variable';

/** Numbers of a pair of sections in the kernel's memory: eleven vectors of two. */
const pairLength = 22;
const mostSections = 128;

const longestRun: Frames = 1_024;

/** Room for one cascade and its samples; every call writes its own into it. */
interface Room {
  readonly kernels: Kernels;
  readonly pairs: KernelBlock;
  readonly run: KernelBlock;
}

let room: Room | undefined;

function findRoom(): Room | undefined {
  const kernels = getKernels();
  if (kernels) room ??= { kernels, pairs: kernels.allocate((mostSections / 2) * pairLength * 8), run: kernels.allocate(longestRun * 4) };
  return room;
}

/** Runs samples through sections in series: those that stand still in compiled pairs (see core/kernels/cascade.ts), all others one by one. */
export class SectionCascade {
  private readonly active: Section[] = [];
  private readonly room = findRoom();

  constructor(private readonly sections: readonly Section[]) {}

  /** Filters the first `frames` samples in place, at most 1024. */
  process(samples: Float32Array, frames: Frames): void {
    let moving = 0;
    for (const section of this.sections) moving = Math.max(moving, section.moving);
    // The kernel takes over in the same frame whatever the blocks are.
    const steadyFrom = this.room ? Math.min(frames, moving) : frames;
    if (steadyFrom > 0) for (const section of this.sections) if (!section.idle) section.process(samples, 0, steadyFrom);
    if (this.room && steadyFrom < frames) this.processSteady(samples.subarray(steadyFrom, frames), this.room);
  }

  private processSteady(samples: Float32Array, { kernels, pairs, run }: Room): void {
    const { active } = this;
    active.length = 0;
    for (const section of this.sections) if (!section.idle) active.push(section);
    if (active.length === 0) return;
    const numbers = kernels.doubles();
    const memory = kernels.samples();
    const from = pairs.at / 8;
    const count = Math.ceil(active.length / 2);
    for (let n = 0; n < 2 * count; n++) {
      const at = from + (n >> 1) * pairLength + (n & 1);
      if (n < active.length) active[n]!.write(numbers, at, 2);
      else passThrough(numbers, at);
    }
    const place = run.at / 4;
    memory.set(samples, place);
    kernels.cascade(run.at, samples.length, pairs.at, count);
    samples.set(memory.subarray(place, place + samples.length));
    for (let n = 0; n < active.length; n++) {
      const states = from + (n >> 1) * pairLength + (n & 1) + 18;
      active[n]!.keep(numbers[states]!, numbers[states + 2]!);
    }
  }
}

/** Makes the second of a pair one that changes nothing. */
function passThrough(numbers: Float64Array, at: number): void {
  for (let i = 0; i < 11; i++) numbers[at + 2 * i] = i === 6 ? 1 : 0;
}
