/** A file of WebAssembly as its bytes: bundlers and tests put them in the place of the import. */
declare module '*.wasm' {
  const bytes: Uint8Array<ArrayBuffer>;
  export default bytes;
}

declare module 'wasm-media-encoders/wasm/ogg' {
  const bytes: Uint8Array<ArrayBuffer>;
  export default bytes;
}
