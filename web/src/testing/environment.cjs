/** jsdom with what it lacks of the platform, taken from Node: its own blobs and files cannot be read. */
const { File } = require('node:buffer');
const environment = require('jest-preset-angular/environments/jest-jsdom-env');
const JsdomEnvironment = environment.default ?? environment;

module.exports = class extends JsdomEnvironment {
  async setup() {
    await super.setup();
    Object.assign(this.global, { structuredClone, Float32Array, fetch, TextEncoder, TextDecoder, Blob, File, SharedArrayBuffer, Atomics });
    Object.assign(this.global, { ReadableStream, WritableStream, TransformStream, CompressionStream, DecompressionStream, Response });
  }
};
