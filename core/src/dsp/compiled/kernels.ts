import { fromBase64 } from './from-base64';
import { kernelsBase64 } from './kernels.generated';
import type { WasmMemory } from './wasm-api';
import { wasmApi } from './wasm-api';

/** What core/kernels exports; the files there say what it does. All pointers are byte addresses. */
interface CompiledFunctions {
  readonly interpolate: (
    input: number,
    rows: number,
    output: number,
    taps: number,
    density: number,
    step: number,
    first: number,
    length: number,
  ) => void;
  readonly convertRate: (
    input: number,
    rows: number,
    offsets: number,
    output: number,
    taps: number,
    period: number,
    advance: number,
    length: number,
  ) => void;
  readonly forward: (earlier: number, later: number, data: number, twists: number, turns: number, size: number) => void;
  readonly inverse: (data: number, output: number, twists: number, turns: number, size: number) => void;
  readonly forwardPair: (left: number, right: number, window: number, data: number, halves: number, turns: number, size: number) => void;
  readonly inversePair: (data: number, halves: number, turns: number, size: number) => void;
  readonly addTurns: (
    now: number,
    earlier: number,
    last: number,
    places: number,
    power: number,
    turnRe: number,
    turnIm: number,
    size: number,
  ) => void;
  readonly turnBins: (now: number, last: number, copy: number, places: number, turnRe: number, turnIm: number, size: number) => void;
  readonly partPair: (data: number, window: number, into: number, size: number) => void;
  readonly accumulate: (past: number, ring: number, newest: number, response: number, count: number, sum: number, size: number) => void;
  readonly addTo: (sum: number, from: number, frames: number) => void;
  readonly raiseHalf: (input: number, taps: number, count: number, frames: number, output: number) => void;
  readonly lowerSteep: (
    input: number,
    firsts: number,
    seconds: number,
    odd: number,
    even: number,
    count: number,
    frames: number,
    output: number,
  ) => void;
  readonly lowerHalf: (input: number, firsts: number, seconds: number, taps: number, count: number, frames: number, output: number) => void;
  readonly shapeTabled: (
    samples: number,
    count: number,
    state: number,
    table: number,
    pieces: number,
    density: number,
    periodic: boolean,
    bias: number,
    level: number,
  ) => void;
  readonly shapeCornered: (samples: number, count: number, state: number, rectified: boolean) => void;
  readonly reverberate: (
    directLeft: number,
    directRight: number,
    sway: number,
    left: number,
    right: number,
    frames: number,
    state: number,
    rings: number,
    ring: number,
    position: number,
    sums: number,
    most: number,
    gliding: number,
    turning: number,
  ) => number;
  readonly peaksBetween: (input: number, rows: number, halves: number, output: number, frames: number, low: number, high: number) => void;
  readonly cascade: (samples: number, frames: number, pairs: number, count: number) => void;
  readonly echo: (
    samples: number,
    frames: number,
    ring: number,
    mask: number,
    position: number,
    whole: number,
    weights: number,
    filters: number,
    gains: number,
    most: number,
  ) => number;
  readonly magnitudes: (samples: number, levels: number, frames: number, first: boolean) => void;
  readonly pressGains: (
    levels: number,
    frames: number,
    threshold: number,
    slope: number,
    knee: number,
    curve: number,
    attack: number,
    release: number,
    lift: number,
    state: number,
  ) => void;
  readonly drawLines: (
    output: number,
    frames: number,
    place: number,
    increment: number,
    lines: number,
    line: number,
    steps: number,
    corners: number,
  ) => number;
  readonly drawSine: (
    output: number,
    frames: number,
    place: number,
    increment: number,
    incrementStep: number,
    moved: number,
    series: number,
  ) => void;
}
const functionNames = [
  'interpolate',
  'convertRate',
  'forward',
  'inverse',
  'forwardPair',
  'inversePair',
  'addTurns',
  'turnBins',
  'partPair',
  'accumulate',
  'addTo',
  'raiseHalf',
  'lowerHalf',
  'lowerSteep',
  'shapeTabled',
  'shapeCornered',
  'peaksBetween',
  'cascade',
  'reverberate',
  'echo',
  'magnitudes',
  'pressGains',
  'drawLines',
  'drawSine',
] as const satisfies readonly (keyof CompiledFunctions)[];

/** A piece of the kernels' memory. It is given back by itself once nothing refers to this object any more. */
export interface KernelBlock {
  /** Byte address, a multiple of 64. */
  readonly at: number;
}

/** The compiled kernels with their memory. */
export interface Kernels extends CompiledFunctions {
  /** A zeroed piece of memory. */
  allocate(bytes: number): KernelBlock;
  /** Gives a piece back at once, for work that takes many of them in a row. */
  release(block: KernelBlock): void;
  /** All memory as samples: a block begins at `at / 4`. The view is stale after the next call of `allocate`. */
  samples(): Float32Array<ArrayBuffer>;
  /** All memory as whole numbers, and in double precision (where a block begins at `at / 8`). Stale likewise. */
  integers(): Int32Array<ArrayBuffer>;
  doubles(): Float64Array<ArrayBuffer>;
}

const pageBytes = 65_536;
/** By so much of itself the memory grows at least. */
const spareShare = 0.25;
let kernels: Kernels | undefined;
let tried = false;

/** The kernels, compiled at the first call; undefined where WebAssembly with SIMD is not to be had, which the callers then do without. */
export function getKernels(): Kernels | undefined {
  if (!tried) {
    tried = true;
    kernels = compile();
  }
  return kernels;
}

function compile(): Kernels | undefined {
  const wasm = wasmApi();
  const bytes = fromBase64(kernelsBase64);
  if (!wasm?.validate(bytes)) return undefined;
  const memory = new wasm.Memory({ initial: 1 });
  try {
    const { exports } = new wasm.Instance(new wasm.Module(bytes), { env: { memory } });
    return hasFunctions(exports) ? { ...exports, ...share(memory) } : undefined;
  } catch {
    // Older browsers refuse to compile at once on the page's own thread, where little is computed.
    return undefined;
  }
}

function hasFunctions(exports: object): exports is CompiledFunctions {
  return functionNames.every((name) => typeof Reflect.get(exports, name) === 'function');
}

/**
 * Hands out pieces of one memory, whose sizes are powers of two, so that a piece that came back fits the next of its size. Filters come
 * and go with every edit and nobody tells them when: the collector of garbage does.
 */
function share(memory: WasmMemory): Pick<Kernels, 'allocate' | 'release' | 'samples' | 'integers' | 'doubles'> {
  const free = new Map<number, number[]>();
  let end = 64;
  let single = new Float32Array(memory.buffer);
  let double = new Float64Array(memory.buffer);
  let integer = new Int32Array(memory.buffer);
  const sizes = new Map<number, number>();
  const giveBack = (at: number): void => void free.get(sizes.get(at) ?? 0)?.push(at);
  const unreachable = new FinalizationRegistry<number>(giveBack);
  const samples = (): Float32Array<ArrayBuffer> => (single.buffer === memory.buffer ? single : (single = new Float32Array(memory.buffer)));
  return {
    samples,
    integers: () => (integer.buffer === memory.buffer ? integer : (integer = new Int32Array(memory.buffer))),
    doubles: () => (double.buffer === memory.buffer ? double : (double = new Float64Array(memory.buffer))),
    allocate(bytes) {
      const size = 2 ** Math.max(6, Math.ceil(Math.log2(bytes)));
      if (!free.has(size)) free.set(size, []);
      let at = free.get(size)?.pop();
      if (at === undefined) {
        at = end;
        end += size;
        const missing = end - memory.buffer.byteLength;
        // More than is missing: every growth makes the engine look for garbage.
        if (missing > 0) memory.grow(Math.ceil(Math.max(missing, memory.buffer.byteLength * spareShare) / pageBytes));
      }
      const block = { at };
      sizes.set(at, size);
      unreachable.register(block, at, block);
      samples().fill(0, at / 4, (at + size) / 4);
      return block;
    },
    release(block) {
      if (unreachable.unregister(block)) giveBack(block.at);
    },
  };
}
