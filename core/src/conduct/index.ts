/** What a player needs of core: decisions and their sound, without the document and without Zod. */
export type { ConductData, ConductEvent, GameMove, Take, Walk } from './conduct-data';
export { ConductEngine } from './engine';
export type { LogEntry } from './log';
export { conductLog } from './log';
export { ConductMixer } from './mixer';
