export interface WasmMemory {
  readonly buffer: ArrayBuffer;
  grow(pages: number): number;
}

/** The part of WebAssembly's interface that is used; core's library has no types for it. */
export interface WasmApi {
  Memory: new (options: { initial: number }) => WasmMemory;
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object, imports: object) => { readonly exports: Readonly<Record<string, unknown>> };
  validate(bytes: Uint8Array): boolean;
}

/** What the platform has of it. */
export const wasmApi = (): WasmApi | undefined => (globalThis as { WebAssembly?: WasmApi }).WebAssembly;
