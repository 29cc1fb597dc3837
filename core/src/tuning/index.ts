export type { Beating } from './beats';
export { beatsBetween } from './beats';
export type { Note } from './note';
export { centsOff, frequencyToNote, noteName, noteToFrequency, pitchClasses, readNote } from './note';
export type { Scale, ScaleKind } from './scale';
export { nearestInScale, scaleKinds, stepsInScale } from './scale';
