/** The worklets, bundled by scripts/build-worklet.mjs; the builder turns the import into the address of a hashed file. */
declare module '*/player.processor.js' {
  const address: string;
  export default address;
}

declare module '*/levels.processor.js' {
  const address: string;
  export default address;
}

declare module '*/conductor.processor.js' {
  const address: string;
  export default address;
}

declare module '*/recorder.processor.js' {
  const address: string;
  export default address;
}

/** The encoders, bundled by scripts/build-encoders.mjs. */
declare module '*/encoders.js' {
  const address: string;
  export default address;
}
