import type { Role } from '@tangled-choir/core';
import { beacon, drillLoop, drillRun, drillStart, drillStop } from './machine';
import { campRecording, fallSweep, radioLine, ridgeWind, windLoop, ropeCreak, snowGrain, snowPress, snowStepA, snowStepB } from './field';
import { crustTearing, icePebbles, iceShimmer, longCrack, mediumCrack, slabImpact, smallCrack, subBoom, waterRise } from './ice';

export interface DemoSource {
  readonly key: string;
  readonly name: string;
  readonly file: string;
  readonly role: Role;
  readonly tags: readonly string[];
  readonly make: () => Float32Array[];
  /** Its end goes on at its beginning. */
  readonly loops?: true;
}

/** Every made-up recording of the Halda Station project. */
export const demoSources: readonly DemoSource[] = [
  {
    key: 'smallCrack',
    name: 'Crack, thin sheet',
    file: 'halda-day1-003.wav',
    role: 'Strike',
    tags: ['ice', 'crack', 'small'],
    make: smallCrack,
  },
  { key: 'mediumCrack', name: 'Crack, river ice', file: 'halda-day1-007.wav', role: 'Strike', tags: ['ice', 'crack'], make: mediumCrack },
  {
    key: 'longCrack',
    name: 'Crack running over the lake',
    file: 'halda-day2-014.wav',
    role: 'Strike',
    tags: ['ice', 'crack', 'large'],
    make: longCrack,
  },
  { key: 'slabImpact', name: 'Slab knock, hollow', file: 'halda-day2-021.wav', role: 'Body', tags: ['ice', 'impact'], make: slabImpact },
  { key: 'subBoom', name: 'Sub boom', file: 'halda-made-001.wav', role: 'Weight', tags: ['made', 'low'], make: subBoom },
  { key: 'icePebbles', name: 'Ice pebbles', file: 'halda-day2-025.wav', role: 'Grit', tags: ['ice', 'debris'], make: icePebbles },
  { key: 'iceShimmer', name: 'Ice shimmer', file: 'halda-made-002.wav', role: 'Air', tags: ['ice', 'made', 'aurora'], make: iceShimmer },
  { key: 'crustTearing', name: 'Crust tearing', file: 'halda-day3-002.wav', role: 'Grit', tags: ['ice', 'tear'], make: crustTearing },
  { key: 'fallSweep', name: 'Fall sweep', file: 'halda-made-003.wav', role: 'Motion', tags: ['air', 'made'], make: fallSweep },
  { key: 'waterRise', name: 'Water rises', file: 'halda-day3-009.wav', role: 'Tail', tags: ['water'], make: waterRise },
  { key: 'ridgeWind', name: 'Wind over the ridge', file: 'halda-day3-011.wav', role: 'Bed', tags: ['wind', 'ambience'], make: ridgeWind },
  { key: 'snowStepA', name: 'Heel crunch 01', file: 'halda-day4-001.wav', role: 'Strike', tags: ['snow', 'step'], make: snowStepA },
  { key: 'snowStepB', name: 'Heel crunch 02', file: 'halda-day4-002.wav', role: 'Strike', tags: ['snow', 'step'], make: snowStepB },
  { key: 'snowPress', name: 'Toe press', file: 'halda-day4-004.wav', role: 'Body', tags: ['snow', 'step'], make: snowPress },
  { key: 'snowGrain', name: 'Grain falling back', file: 'halda-day4-006.wav', role: 'Grit', tags: ['snow', 'debris'], make: snowGrain },
  { key: 'drillStart', name: 'Drill spins up', file: 'halda-day5-001.wav', role: 'Motion', tags: ['machine', 'drill'], make: drillStart },
  { key: 'drillRun', name: 'Drill runs', file: 'halda-day5-002.wav', role: 'Body', tags: ['machine', 'drill', 'loop'], make: drillRun },
  { key: 'drillStop', name: 'Drill stops', file: 'halda-day5-003.wav', role: 'Tail', tags: ['machine', 'drill'], make: drillStop },
  { key: 'beacon', name: 'Beacon', file: 'halda-made-004.wav', role: 'Strike', tags: ['signal', 'made'], make: beacon },
  { key: 'radioLine', name: 'Radio line', file: 'halda-made-005.wav', role: 'Body', tags: ['voice', 'radio', 'made'], make: radioLine },
  { key: 'ropeCreak', name: 'Frozen rope creaks', file: 'halda-day6-003.wav', role: 'Grit', tags: ['rope', 'wood'], make: ropeCreak },
  {
    key: 'campRecording',
    name: 'Camp at night (hum, clicks, cough)',
    file: 'halda-day6-008.wav',
    role: 'Bed',
    tags: ['ambience', 'to mend'],
    make: campRecording,
  },
  {
    key: 'windLoop',
    name: 'Wind, comes round',
    file: 'halda-made-006.wav',
    role: 'Bed',
    tags: ['wind', 'loop', 'made'],
    make: windLoop,
    loops: true,
  },
  {
    key: 'drillLoop',
    name: 'Drill, comes round',
    file: 'halda-made-007.wav',
    role: 'Body',
    tags: ['machine', 'drill', 'loop', 'made'],
    make: drillLoop,
    loops: true,
  },
];
