/** Puts compressed copies beside all files of a folder that get smaller by it. */
export function compressBelow(folder: string): void;
