import type { Frames } from '../../units';
import type { KernelBlock, Kernels } from './kernels';
import type { SteepTaps } from '../filters/steep-lowering';
import type { Shaper } from '../shaper';

/** Frames that go through all filters together. */
const runFrames: Frames = 128;
/** Samples that the kernel may write beyond the end of a buffer. */
const overhang = 8;

/** One doubling, and the halving back: byte addresses of its buffers. */
interface Stage {
  readonly count: number;
  readonly taps: number;
  readonly input: number;
  readonly firsts: number;
  readonly seconds: number;
  /** Input frames for each frame of the sound. */
  readonly rate: number;
}

/** Doublings, a shaper and halvings in the kernels' memory, in single precision. */
export class CompiledOversampling {
  private readonly block: KernelBlock;
  private readonly stages: readonly Stage[];
  private readonly last: { readonly odd: number; readonly even: number; readonly count: number };
  private readonly raised: number;
  private readonly output: number;

  /**
   * @param designs half-band filters, the first doubling first: their coefficients at odd distances
   * @param last what halves the rate last, in the place of the first half-band filter
   * @param rest raised samples that the shaped sound is delayed by, besides
   */
  constructor(
    designs: readonly Float64Array[],
    last: SteepTaps,
    private readonly rest: number,
    private readonly kernels: Kernels,
  ) {
    let end = 0;
    const place = (samples: number): number => {
      const at = end;
      end += 4 * Math.ceil((samples + overhang) / 4);
      return at;
    };
    const places = designs.map((taps, s) => {
      const count = taps.length;
      const rate = 2 ** s;
      const room = rate * runFrames;
      const lag = 2 * (s === 0 ? last.odd.length : count) - 1;
      return {
        taps,
        count,
        rate,
        at: { taps: place(count), input: place(2 * count - 1 + room), firsts: place(lag + room), seconds: place(lag + room) },
      };
    });
    const lastAt = { odd: place(last.odd.length), even: place(last.even.length) };
    const raised = place(rest + 2 ** designs.length * runFrames);
    const output = place(runFrames);
    this.block = kernels.allocate(4 * end);
    const { at } = this.block;
    const samples = kernels.samples();
    for (const stage of places) samples.set(stage.taps, at / 4 + stage.at.taps);
    samples.set(last.odd, at / 4 + lastAt.odd);
    samples.set(last.even, at / 4 + lastAt.even);
    this.last = { odd: at + 4 * lastAt.odd, even: at + 4 * lastAt.even, count: last.odd.length };
    this.stages = places.map(({ count, rate, at: own }) => ({
      count,
      rate,
      taps: at + 4 * own.taps,
      input: at + 4 * own.input,
      firsts: at + 4 * own.firsts,
      seconds: at + 4 * own.seconds,
    }));
    this.raised = at + 4 * raised;
    this.output = at + 4 * output;
  }

  reset(): void {
    const samples = this.kernels.samples();
    const clear = (at: number, count: number): void => void samples.fill(0, at / 4, at / 4 + count);
    this.stages.forEach(({ input, firsts, seconds, count }, s) => {
      clear(input, 2 * count - 1);
      clear(firsts, 2 * (s === 0 ? this.last.count : count) - 1);
      clear(seconds, s === 0 ? 2 * this.last.count - 1 : count);
    });
    clear(this.raised, this.rest);
  }

  process(samples: Float32Array, frames: Frames, shaper: Shaper): void {
    for (let from = 0; from < frames; from += runFrames) this.run(samples, from, Math.min(runFrames, frames - from), shaper);
  }

  private run(samples: Float32Array, from: Frames, frames: Frames, shaper: Shaper): void {
    const { kernels, stages, raised, rest, output } = this;
    const memory = kernels.samples();
    const first = stages[0]!;
    const into = first.input / 4 + 2 * first.count - 1;
    memory.set(samples.subarray(from, from + frames), into);
    for (let s = 0; s < stages.length; s++) {
      const { input, taps, count, rate } = stages[s]!;
      const next = stages[s + 1];
      const target = next ? next.input + 4 * (2 * next.count - 1) : raised + 4 * rest;
      kernels.raiseHalf(input, taps, count, rate * frames, target);
    }
    const many = 2 ** stages.length * frames;
    shaper.shape(memory, raised / 4 + rest, many);
    for (let s = stages.length - 1; s > 0; s--) {
      const { firsts, seconds, taps, count, rate } = stages[s]!;
      // What a halving writes, the next one reads: from where the raised samples were, short of those that wait.
      kernels.lowerHalf(raised, firsts, seconds, taps, count, rate * frames, raised);
    }
    const { odd, even, count } = this.last;
    kernels.lowerSteep(raised, first.firsts, first.seconds, odd, even, count, frames, output);
    memory.copyWithin(raised / 4, raised / 4 + many, raised / 4 + many + rest);
    samples.set(memory.subarray(output / 4, output / 4 + frames), from);
  }
}
