export { Conductor } from './conductor';
export type { GameData } from './game-data';
export type { LoadOptions, MadeMove } from './player';
export { load, Player } from './player';
export type { FromConductor } from './protocol';
