export { Conductor } from './conductor';
export type { FromConductor } from './protocol';
