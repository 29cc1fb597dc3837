import { fromBase64 } from '../dsp/compiled/from-base64';
import type { WasmApi } from '../dsp/compiled/wasm-api';
import { wasmApi } from '../dsp/compiled/wasm-api';
import type { VoiceBench } from './voice-bench';
import { benchFrames, stateOf, windowLength } from './voice-bench';
import { kernelsBase64 } from './voice-kernel.generated';

/** See core/kernels/play-voice.ts; all pointers are byte addresses. */
type PlayVoice = (
  state: number,
  first: number,
  second: number,
  base: number,
  taps: number,
  density: number,
  left: number,
  right: number,
  frames: number,
  filtered: boolean,
) => void;

const isPlayVoice = (value: unknown): value is PlayVoice => typeof value === 'function';
const pageBytes = 65_536;

/** The bench in a memory of WebAssembly; undefined where that, or its SIMD, is not to be had. */
export function compileVoices(taps: Float64Array, density: number): VoiceBench | undefined {
  const wasm = wasmApi();
  const bytes = fromBase64(kernelsBase64);
  if (!wasm?.validate(bytes)) return undefined;
  // Blocks begin at multiples of 64, as vectors like it.
  let end = 64;
  const place = (length: number, size: number): number => {
    const at = end;
    end += Math.ceil((length * size) / 64) * 64;
    return at;
  };
  const at = {
    state: place(stateOf.length, 8),
    taps: place(taps.length, 4),
    first: place(windowLength, 4),
    second: place(windowLength, 4),
    left: place(benchFrames, 4),
    right: place(benchFrames, 4),
  };
  const memory = new wasm.Memory({ initial: Math.ceil(end / pageBytes) });
  const playVoice = exportOf(wasm, bytes, memory);
  if (!isPlayVoice(playVoice)) return undefined;
  const samples = (from: number, length: number): Float32Array => new Float32Array(memory.buffer, from, length);
  samples(at.taps, taps.length).set(taps);
  return {
    state: new Float64Array(memory.buffer, at.state, stateOf.length),
    first: samples(at.first, windowLength),
    second: samples(at.second, windowLength),
    left: samples(at.left, benchFrames),
    right: samples(at.right, benchFrames),
    play: (base, stereo, from, frames, filtered) =>
      playVoice(
        at.state,
        at.first,
        stereo ? at.second : at.first,
        base,
        at.taps,
        density,
        at.left + 4 * from,
        at.right + 4 * from,
        frames,
        filtered,
      ),
  };
}

function exportOf(wasm: WasmApi, bytes: Uint8Array, memory: object): unknown {
  try {
    return new wasm.Instance(new wasm.Module(bytes), { env: { memory } }).exports['playVoice'];
  } catch {
    // The policy of a page may forbid to compile.
    return undefined;
  }
}
