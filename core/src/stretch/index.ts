export { chooseMethod } from './choose-method';
export type { MethodChoice } from './choose-method';
export { findAttacks } from './find-attacks';
export { retune } from './retune';
export type { RetuneOptions } from './retune';
export { stretchAudio } from './stretch-audio';
export type { StretchMethod, StretchOptions } from './stretch-audio';
export type { Corner } from './time-map';
export { TimeMap } from './time-map';
