import { kernelsBase64 } from './kernels.generated';

/** The part of WebAssembly's interface that is used; core's library has no types for it. */
interface WasmMemory {
  readonly buffer: ArrayBuffer;
  grow(pages: number): number;
}
interface WasmApi {
  Memory: new (options: { initial: number }) => WasmMemory;
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports: object) => { readonly exports: Readonly<Record<string, unknown>> };
  validate(bytes: Uint8Array): boolean;
}

type InterpolateKernel = (
  input: number,
  rows: number,
  output: number,
  taps: number,
  density: number,
  step: number,
  first: number,
  length: number,
) => void;

/** The compiled kernels with their memory. */
export interface Kernels {
  readonly interpolate: InterpolateKernel;
  /** Memory as samples, at least `bytes` long. The view is stale after the next call. */
  memory(bytes: number): Float32Array<ArrayBuffer>;
}

const pageBytes = 65_536;
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
  const wasm = (globalThis as { WebAssembly?: WasmApi }).WebAssembly;
  const bytes = decodeBase64(kernelsBase64);
  if (!wasm?.validate(bytes)) return undefined;
  const memory = new wasm.Memory({ initial: 1 });
  const { exports } = new wasm.Instance(new wasm.Module(bytes), { env: { memory } });
  const interpolate = exports['interpolate'];
  if (!isKernel(interpolate)) return undefined;
  return {
    interpolate,
    memory(needed) {
      const missing = needed - memory.buffer.byteLength;
      if (missing > 0) memory.grow(Math.ceil(missing / pageBytes));
      return new Float32Array(memory.buffer);
    },
  };
}

function isKernel(value: unknown): value is InterpolateKernel {
  return typeof value === 'function';
}

/** Core has no atob: worklets have none. */
function decodeBase64(text: string): Uint8Array {
  const alphabet = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
  const clean = text.replace(/=+$/, '');
  const bytes = new Uint8Array(Math.floor((clean.length * 3) / 4));
  let buffer = 0;
  let bits = 0;
  let at = 0;
  for (const character of clean) {
    buffer = ((buffer << 6) | alphabet.indexOf(character)) & 0xffffff;
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      bytes[at++] = (buffer >> bits) & 0xff;
    }
  }
  return bytes;
}
