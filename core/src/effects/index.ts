import { clipper } from './dynamics/clipper';
import { compressor } from './dynamics/compressor';
import { ducker } from './dynamics/ducker';
import { gate } from './dynamics/gate';
import { limiter } from './dynamics/limiter';
import { multiband } from './dynamics/multiband';
import { transientShaper } from './dynamics/transient-shaper';
import { bandDrive } from './drive/band-drive';
import { crusher } from './drive/crusher';
import { drive } from './drive/drive';
import { frequencyShifter } from './drive/frequency-shifter';
import { grit } from './drive/grit';
import { harmonicBuilder } from './drive/harmonic-builder';
import { ringModulator } from './drive/ring-modulator';
import { subWeight } from './drive/sub-weight';
import type { Effect } from './effect';
import { drawnEq } from './filters/drawn-eq';
import { dynamicEq } from './filters/dynamic-eq';
import { eq } from './filters/eq';
import { filter } from './filters/filter';
import { graphicEq } from './filters/graphic-eq';
import { resonator } from './filters/resonator';
import { tiltEq } from './filters/tilt-eq';
import { bands } from './hosts/bands';
import { sideBySide } from './hosts/side-by-side';
import { centring } from './image/centring';
import { stereoImage } from './image/stereo-image';
import { trim } from './image/trim';
import { formantShifter } from './pitch/formant-shifter';
import { harmony } from './pitch/harmony';
import { pitchShifter } from './pitch/pitch-shifter';
import { unison } from './pitch/unison';
import { chorus } from './movement/chorus';
import { detune } from './movement/detune';
import { dispersion } from './movement/dispersion';
import { flanger } from './movement/flanger';
import { haas } from './movement/haas';
import { phaser } from './movement/phaser';
import { rotation } from './movement/rotation';
import { tremolo } from './movement/tremolo';
import { convolution } from './space/convolution';
import { delay } from './space/delay';
import { distance } from './space/distance';
import { reverb } from './space/reverb';
import { reverseDelay } from './space/reverse-delay';
import { shimmer } from './space/shimmer';

/** Every effect of the application, family by family, in the order in which the interface offers them. */
export const effects: readonly Effect[] = [
  eq,
  graphicEq,
  drawnEq,
  dynamicEq,
  tiltEq,
  filter,
  resonator,
  compressor,
  gate,
  ducker,
  multiband,
  limiter,
  clipper,
  transientShaper,
  drive,
  bandDrive,
  crusher,
  ringModulator,
  frequencyShifter,
  grit,
  subWeight,
  harmonicBuilder,
  pitchShifter,
  formantShifter,
  unison,
  harmony,
  chorus,
  flanger,
  phaser,
  detune,
  dispersion,
  tremolo,
  rotation,
  haas,
  delay,
  reverseDelay,
  reverb,
  shimmer,
  convolution,
  distance,
  stereoImage,
  trim,
  centring,
  bands,
  sideBySide,
];

export const effectsById: ReadonlyMap<string, Effect> = new Map(effects.map((effect) => [effect.id, effect]));

export { automaticMakeUp, compressorCurve, upwardCurve } from '../dsp/gain-curves';
export type { BranchPath, Effect, EffectFamily, EffectPreset, Processor } from './effect';
export { effectFamilies } from './effect';
export type { EqBand, EqBandKind } from './filters/eq';
export { drawnCurve, drawnLevels, drawnPoints, drawnResponse } from './filters/drawn-eq';
export { graphicBands, graphicCurve } from './filters/graphic-eq';
export { eqBandCount, eqBandKinds, eqBandRegion, eqNarrowest, eqResponse, eqSlopes, readEqBand } from './filters/eq';
