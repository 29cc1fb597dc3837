/**
 * What ES2023 does not describe and yet is there wherever core writes files and compiles its kernels: pages, workers, Node. Audio worklets have
 * neither, and need neither: they only play.
 */
declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
}

declare function atob(base64: string): string;
