import type { EditArguments, EditName, GameMove, Project } from '@tangled-choir/core';
import { startingCompressor, startingDistance, startingRoom } from '@tangled-choir/core';
import type { MadePart, Part } from './part';
import { lowCut } from './part';

export type Make = <N extends EditName>(name: N, args: EditArguments<N>) => void;
type Kind = EditArguments<'addBehaviour'>['kind'];
type Change = EditArguments<'setBehaviour'>['change'];

/** The small sounds that the game plays, and how large their families are. */
export const gameSounds: readonly { readonly name: string; readonly parts: readonly (Part | MadePart)[]; readonly family?: number }[] = [
  { name: 'Wind, breeze', parts: [{ source: 'windLoop', gain: -16, clips: [{ at: 0, speed: -3 }], eq: lowCut(90) }] },
  { name: 'Wind, ridge', parts: [{ source: 'windLoop', gain: -9, clips: [{ at: 0 }] }] },
  {
    name: 'Wind, storm',
    parts: [
      {
        source: 'windLoop',
        gain: -3,
        clips: [{ at: 0, speed: 4 }],
        eq: { ...lowCut(60), band4On: true, band4Frequency: 900, band4Gain: 4 },
      },
    ],
  },
  { name: 'Drill starts', parts: [{ source: 'drillStart', gain: -6, clips: [{ at: 0 }] }] },
  { name: 'Drill runs on', parts: [{ source: 'drillLoop', gain: -6, clips: [{ at: 0 }] }] },
  { name: 'Drill stops', parts: [{ source: 'drillStop', gain: -6, clips: [{ at: 0 }] }] },
  {
    name: 'Ice talks',
    parts: [
      { source: 'mediumCrack', gain: -8, clips: [{ at: 0 }] },
      { source: 'smallCrack', gain: -14, clips: [{ at: 0.11, speed: 2 }] },
    ],
    family: 6,
  },
  { name: 'Ice pebble', parts: [{ source: 'smallCrack', gain: -12, clips: [{ at: 0, speed: 7 }], eq: lowCut(900) }], family: 6 },
  { name: 'Radio call', parts: [{ source: 'radioLine', gain: -9, clips: [{ at: 0 }] }] },
];

/** How Halda Station behaves in a game: somebody walks over snow, towards a drill, in the wind, on ice that talks. */
export function conductHalda(make: Make, project: () => Project, sounds: ReadonlyMap<string, string>, step: string): void {
  const { behaviours, parts } = helpers(make, project);
  make('setConduct', { seed: 4127 });

  const wind = parts('parameters', 'Wind');
  make('setGamePart', { id: wind, part: 'parameters', change: { low: 0, high: 30, start: 9, smoothing: 0.8 } });
  const powder = parts('parameters', 'Powder');
  make('setGamePart', { id: powder, part: 'parameters', change: { low: 0, high: 1, start: 0.2, smoothing: 0 } });
  const outside = parts('buses', 'Outside');
  const radio = parts('buses', 'Radio');
  const valley = { ...startingRoom, decay: 2.4, high: 0.3, size: 2.4, share: 0.06 };
  make('setGamePart', {
    id: outside,
    part: 'buses',
    change: { duck: { under: radio, depth: -8, attack: 0.15, release: 0.6 }, room: valley },
  });
  // A cheap set: whatever comes through it is as loud as everything else.
  const narrow = { ...startingCompressor, threshold: -30, ratio: 6, attack: 0.002, gain: 6 };
  make('setGamePart', { id: radio, part: 'buses', change: { lowCut: 300, highCut: 3_400, compressor: narrow } });
  const hut = parts('moods', 'In the hut');
  make('setGamePart', { id: hut, part: 'moods', change: { fade: 1.5 } });
  make('setMoodLevel', { mood: hut, bus: outside, level: -18 });
  parts('moods', 'On the ice');
  const [always, glacier, station] = ['Always', 'Glacier', 'Station'].map((name) => parts('groups', name));
  for (const [id, megabytes] of [
    [always!, 12],
    [glacier!, 4],
    [station!, 2],
  ] as const)
    make('setGamePart', { id, part: 'groups', change: { budget: megabytes * 1024 * 1024 } });

  const steps = behaviours('pick', 'Steps on snow', { bus: outside, group: always, gainSpread: 1.5, voices: 4 });
  make('setBehaviour', {
    behaviour: steps,
    label: 'Kind',
    change: { play: { kind: 'pick', by: 'parameter', avoid: 1, parameter: powder } },
  });
  behaviours('one', 'On crust', { play: { kind: 'one', sound: step, from: 'family', avoid: 3, loops: false } }, steps);
  behaviours(
    'one',
    'In powder',
    { play: { kind: 'one', sound: step, from: 'family', avoid: 3, loops: false }, pitch: -4, gain: -3, highCut: 2_600, highCutSpread: 0.4 },
    steps,
  );

  const winds = behaviours('blend', 'Wind', {
    play: { kind: 'blend', parameter: wind },
    bus: outside,
    group: always,
    fadeIn: 1.5,
    fadeOut: 2,
  });
  for (const name of ['Wind, breeze', 'Wind, ridge', 'Wind, storm'])
    behaviours('one', name.slice(6, 7).toUpperCase() + name.slice(7), { play: looped(sounds.get(name)!) }, winds);
  make('setGamePull', {
    behaviour: winds,
    parameter: wind,
    property: 'gain',
    points: [
      { at: 0, value: -9 },
      { at: 30, value: 3 },
    ],
  });

  const drill = behaviours('hold', 'Core drill', {
    bus: outside,
    group: station,
    place: { x: 11, y: 7 },
    distance: { ...startingDistance, outer: 70, highCut: 2_500, width: 0.9, roomNear: 0.05, roomFar: 0.5 },
  });
  for (const [stage, name] of [
    ['start', 'Drill starts'],
    ['hold', 'Drill runs on'],
    ['end', 'Drill stops'],
  ] as const)
    behaviours(
      'one',
      { start: 'Spin up', hold: 'Run', end: 'Stop' }[stage],
      {
        play: { kind: 'one', sound: sounds.get(name)!, from: 'original', avoid: 0, loops: stage === 'hold' },
        slot: { weight: 1, offset: 0, stage, curve: [] },
      },
      drill,
    );

  const ice = behaviours('sprinkle', 'Ice talks', {
    play: { kind: 'sprinkle', shortest: 2, longest: 9 },
    bus: outside,
    group: glacier,
    place: { x: -9, y: 8 },
    distance: { ...startingDistance, inner: 4, highCut: 4_000, roomNear: 0.1, roomFar: 0.8 },
  });
  make('setGamePull', {
    behaviour: ice,
    parameter: wind,
    property: 'rate',
    points: [
      { at: 0, value: 0 },
      { at: 30, value: 1.5 },
    ],
  });
  behaviours(
    'one',
    'Crack',
    { play: { kind: 'one', sound: sounds.get('Ice talks')!, from: 'family', avoid: 2, loops: false }, pitchSpread: 3 },
    ice,
  );

  const slide = behaviours('burst', 'Pebbles slide', {
    play: { kind: 'burst', rate: 9, uneven: 0.6, shots: 14 },
    bus: outside,
    group: glacier,
    coolDown: 1,
  });
  behaviours(
    'one',
    'Pebble',
    { play: { kind: 'one', sound: sounds.get('Ice pebble')!, from: 'family', avoid: 2, loops: false }, pitchSpread: 4, gainSpread: 5 },
    slide,
  );
  behaviours('one', 'Radio call', {
    play: { kind: 'one', sound: sounds.get('Radio call')!, from: 'original', avoid: 0, loops: false },
    bus: radio,
    group: station,
    voices: 1,
    givesWay: 'newest',
  });
  make('addScript', { name: 'Walk to the drill', seconds: 16, moves: walk({ steps, winds, drill, ice, slide, wind, powder }) });
}

const looped = (sound: string): Change['play'] & object => ({ kind: 'one', sound, from: 'original', avoid: 0, loops: true });

function helpers(make: Make, project: () => Project) {
  return {
    /** A new behaviour with what is said of it; gives its id. */
    behaviours(kind: Kind, name: string, change: Change, parent?: string): string {
      make('addBehaviour', { kind, name, ...(parent !== undefined && { parent }) });
      const { id } = project().conduct.behaviours.at(-1)!;
      make('setBehaviour', { behaviour: id, label: 'Settings', change });
      return id;
    },
    parts(part: EditArguments<'addGamePart'>['part'], name: string): string {
      make('addGamePart', { part, name });
      return project().conduct[part].at(-1)!.id;
    },
  };
}

/** Sixteen seconds: from the crust into powder, past ice that talks, to the drill, which is started and stopped. */
function walk(ids: Readonly<Record<'steps' | 'winds' | 'drill' | 'ice' | 'slide' | 'wind' | 'powder', string>>) {
  const trigger = (behaviour: string): GameMove => ({ do: 'trigger', behaviour });
  const moves: { at: number; move: GameMove }[] = [
    {
      at: 0,
      move: {
        do: 'walk',
        points: [
          { x: 0, y: 0 },
          { x: 9, y: 4 },
        ],
        speed: 0.82,
        way: 'once',
      },
    },
    { at: 0, move: trigger(ids.winds) },
    { at: 0, move: trigger(ids.ice) },
    { at: 3, move: { do: 'set', parameter: ids.wind, value: 22 } },
    { at: 5, move: trigger(ids.drill) },
    { at: 6.5, move: { do: 'set', parameter: ids.powder, value: 0.8 } },
    { at: 9, move: trigger(ids.slide) },
    { at: 10, move: { do: 'set', parameter: ids.wind, value: 6 } },
    { at: 12.5, move: { do: 'stop', behaviour: ids.drill } },
  ];
  for (let at = 0.5; at < 12; at += 0.55) moves.push({ at, move: trigger(ids.steps) });
  return moves.sort((a, b) => a.at - b.at);
}
