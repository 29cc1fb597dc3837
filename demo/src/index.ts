export type { Demo } from './halda-station';
export { haldaStationArchive, makeHaldaStation } from './halda-station';
export { demoSources } from './sources';
