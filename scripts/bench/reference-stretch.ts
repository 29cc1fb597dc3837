/** The reference library for stretching and shifting, run offline in a worklet scope that is made up for it. */

interface Processor {
  readonly port: { onmessage?: unknown; postMessage(message: unknown): void };
  wasmReady: boolean;
  readonly wasmModule: Wasm;
}

interface Wasm {
  readonly HEAP8?: Int8Array;
  readonly exports?: { readonly memory: { readonly buffer: ArrayBuffer } };
  _setBuffers(channels: number, frames: number): number;
  _inputLatency(): number;
  _outputLatency(): number;
  _reset(): void;
  _seek(frames: number, rate: number): void;
  _process(inputs: number, outputs: number): void;
  _setTransposeSemitones(semitones: number, tonality: number): void;
  _setFormantSemitones(semitones: number, compensation: boolean): void;
  _setFormantBase(frequency: number): void;
}

export interface ReferenceOptions {
  readonly stretch: number;
  readonly semitones?: number;
  readonly keepFormants?: boolean;
}

export type ReferenceStretch = (channels: readonly Float32Array[], options: ReferenceOptions) => Float32Array[];

/** Loads the library, which only knows worklets. Takes one or two channels at 48 kHz, and gives two. */
export async function referenceStretch(): Promise<ReferenceStretch> {
  const scope = globalThis as Record<string, unknown>;
  let registered: (new (options: object) => Processor) | undefined;
  scope['sampleRate'] = 48_000;
  scope['currentTime'] = 0;
  scope['AudioWorkletProcessor'] = class {
    readonly port = { postMessage: (): void => undefined };
  };
  scope['registerProcessor'] = (_name: string, processor: new (options: object) => Processor): void => void (registered = processor);
  await import('signalsmith-stretch');
  const processor = new registered!({ numberOfOutputs: 1, outputChannelCount: [2] });
  while (!processor.wasmReady) await new Promise((resolve) => setTimeout(resolve, 5));
  const wasm = processor.wasmModule;
  return (channels, { stretch, semitones = 0, keepFormants = false }) => {
    const pair = [channels[0]!, channels[1] ?? channels[0]!];
    const block = 4_096;
    const buffers = 8 * block + wasm._inputLatency() + wasm._outputLatency();
    const at = wasm._setBuffers(2, buffers);
    const memory = (): Float32Array => new Float32Array((wasm.exports?.memory.buffer ?? wasm.HEAP8!.buffer) as ArrayBuffer);
    wasm._reset();
    wasm._setTransposeSemitones(semitones, 0);
    wasm._setFormantSemitones(0, keepFormants);
    wasm._setFormantBase(0);
    const length = Math.round(pair[0]!.length * stretch);
    const lag = wasm._outputLatency();
    const outputs = [new Float32Array(length), new Float32Array(length)];
    const feed = (from: number, frames: number): void => {
      const heap = memory();
      pair.forEach((channel, c) => {
        const start = at / 4 + c * buffers;
        heap.fill(0, start, start + frames);
        const first = Math.max(0, from);
        const part = channel.subarray(Math.min(channel.length, first), Math.max(first, from + frames));
        if (part.length > 0) heap.set(part, start + first - from);
      });
    };
    // The input runs ahead by its latency; what comes out before the output's latency is over is let go.
    const ahead = wasm._inputLatency();
    feed(0, ahead);
    wasm._seek(ahead, 1 / stretch);
    let fed = ahead;
    for (let done = -lag; done < length; done += block) {
      const until = ahead + Math.round((done + lag + block) / stretch);
      feed(fed, until - fed);
      wasm._process(until - fed, block);
      fed = until;
      const heap = memory();
      outputs.forEach((output, c) => {
        const start = at / 4 + (2 + c) * buffers;
        const from = Math.max(0, -done);
        const to = Math.min(block, length - done);
        if (to > from) output.set(heap.subarray(start + from, start + to), done + from);
      });
    }
    return outputs;
  };
}
