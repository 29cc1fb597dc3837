/** What ES2023 does not describe and yet is there wherever core writes files: pages, workers, Node. Audio worklets have it not, and write none. */
declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
}
