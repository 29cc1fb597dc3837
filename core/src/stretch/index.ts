export { findAttacks } from './find-attacks';
export { stretchAudio, stretchMethods } from './stretch-audio';
export type { StretchMethod, StretchOptions } from './stretch-audio';
export { TimeMap } from './time-map';
