import { pointBefore, valueFrom } from '../automation/lane-value';
import { effectCatalogue } from '../catalogue';
import type { MoverCourse } from '../movers/mover-value';
import { moverCourse, pulledExtremes, pulledValue } from '../movers/mover-value';
import { findProperty, isAutomatable } from '../project/address';
import { axisOf, toAxis } from '../project/axis';
import { mayPull, moverAddress } from '../project/mover-address';
import type { NumberParameter, Parameter } from '../project/parameters';
import type { AutomationLane, Follower, Mover, Pull, Sound } from '../project/schema';
import type { Frames, Hertz } from '../units';
import type { FollowerTracks } from './follower-tracks';

/** Frames for which an automated gain moves in a straight line. */
export const gainStep: Frames = 64;
/**
 * Frames after which automated parameters of an effect are looked up again: as long as effects glide to a changed value, so that they
 * are always on a straight way from one looked-up value to the next. More often would only cost more: an EQ designs its filters anew.
 */
export const effectStep: Frames = 512;

/** Says what a property is at a moment, whatever moves it. */
export interface PropertyReader {
  at(frame: Frames): number;
  /** Values that it can reach, for who must reckon with the longest tail. */
  extremes(): readonly number[];
}

/** Follows one lane along the time axis. Going forward costs next to nothing; jumps are found by bisection. */
class LaneReader implements PropertyReader {
  private before = -1;

  constructor(
    private readonly lane: AutomationLane,
    private readonly parameter: NumberParameter,
    private readonly sampleRate: Hertz,
  ) {}

  at(frame: Frames): number {
    const { points } = this.lane;
    const time = frame / this.sampleRate;
    const current = points[this.before];
    const next = points[this.before + 1];
    if ((current && current.time > time) || (next && next.time <= time)) this.before = pointBefore(points, time);
    return valueFrom(this.lane, this.parameter, time, this.before);
  }

  extremes(): readonly number[] {
    return this.lane.points.map((point) => this.at(point.time * this.sampleRate));
  }
}

/** A property that tides, reins and walks pull away from where its lane or its dial has it. */
class PulledReader implements PropertyReader {
  constructor(
    private readonly base: LaneReader | number,
    private readonly parameter: NumberParameter,
    private readonly sampleRate: Hertz,
    private readonly pulls: readonly (Pull & { readonly course: MoverCourse })[],
  ) {}

  at(frame: Frames): number {
    const base = typeof this.base === 'number' ? this.base : this.base.at(frame);
    return pulledValue(this.parameter, base, this.pulls, frame / this.sampleRate);
  }

  extremes(): readonly number[] {
    const bases = typeof this.base === 'number' ? [this.base] : this.base.extremes();
    return bases.flatMap((base) => pulledExtremes(this.parameter, base, this.pulls));
  }
}

/** Something of an owner that moves: the last part of its address, and where it is on its parameter's axis. */
export interface OwnReader {
  readonly key: string;
  readonly parameter: Parameter;
  readonly reader: PropertyReader;
}
export type OwnReaders = readonly OwnReader[];

const none: OwnReaders = [];

/** What moves the properties of an owner, such as `layer/<id>/chain/<step>`. */
export interface Moves {
  /** Tempo that times can be counted by. */
  readonly bpm: number;
  below(owner: string): OwnReaders;
  reader(owner: string, key: string): PropertyReader | undefined;
}

/** Nothing moves. */
export const noMoves: Moves = { bpm: 120, below: () => none, reader: () => undefined };

/** Everything that moves in a sound, by what it belongs to: `layer/<id>`, `layer/<id>/chain/<step>`. */
export class Automation implements Moves {
  readonly bpm: number;
  private readonly byOwner = new Map<string, OwnReader[]>();

  /** @param followers what followers have heard; without it they stay at 0 */
  constructor(sound: Sound, sampleRate: Hertz, followers?: FollowerTracks) {
    this.bpm = sound.tempo.bpm;
    const lanes = new Map(sound.automation.filter(({ enabled }) => enabled).map((lane) => [lane.address, lane]));
    const pulls = group(sound.pulls);
    const courses = coursesOf(sound, sampleRate, (follower) => ({
      at: (time) => followers?.at(follower, Math.round(time * sampleRate)) ?? 0,
    }));
    for (const address of new Set([...lanes.keys(), ...pulls.keys()])) {
      const moved = readerOf(sound, address, sampleRate, lanes.get(address), pulls.get(address) ?? [], courses);
      if (!moved) continue;
      const { parameter, reader } = moved;
      const cut = address.lastIndexOf('/');
      const owner = address.slice(0, cut);
      const readers = this.byOwner.get(owner) ?? [];
      readers.push({ key: address.slice(cut + 1), parameter, reader });
      this.byOwner.set(owner, readers);
    }
  }

  below(owner: string): OwnReaders {
    return this.byOwner.get(owner) ?? none;
  }

  reader(owner: string, key: string): PropertyReader | undefined {
    return this.below(owner).find((own) => own.key === key)?.reader;
  }
}

/** What moves a property: its lane, and those who pull at it; undefined where nothing does. */
function readerOf(
  sound: Sound,
  address: string,
  sampleRate: Hertz,
  lane: AutomationLane | undefined,
  pulls: readonly Pull[],
  courses: ReadonlyMap<string, MoverCourse>,
): { readonly parameter: Parameter; readonly reader: PropertyReader } | undefined {
  const property = findProperty(sound, address, effectCatalogue);
  const axis = property && isAutomatable(property) ? axisOf(property.parameter) : undefined;
  if (!property || !axis) return undefined;
  const { parameter } = property;
  const own = lane && new LaneReader(lane, axis, sampleRate);
  const pulling = pulls.flatMap((pull) => {
    const course = courses.get(pull.mover);
    return course ? [{ ...pull, course }] : [];
  });
  const reader = pulling.length > 0 ? new PulledReader(own ?? toAxis(parameter, property.value), axis, sampleRate, pulling) : own;
  return reader && { parameter, reader };
}

/** Those that move others come first (see `mayPull`). */
const kindsInOrder: readonly Mover['kind'][] = ['follower', 'rein', 'walk', 'tide'];

/** Where all movers of a sound are, by their ids, as their own lanes and those who pull at them have it. */
export function coursesOf(sound: Sound, sampleRate: Hertz, follow: (follower: Follower) => MoverCourse): ReadonlyMap<string, MoverCourse> {
  const courses = new Map<string, MoverCourse>();
  const kindOf = new Map(sound.movers.map(({ id, kind }) => [id, kind]));
  for (const kind of kindsInOrder)
    for (const mover of sound.movers) {
      if (mover.kind !== kind) continue;
      const address = moverAddress(mover);
      const lane = sound.automation.find((each) => each.enabled && each.address === address);
      const pulls = sound.pulls.filter((pull) => pull.address === address && mayPull(kindOf.get(pull.mover) ?? 'tide', pull.address));
      const moved = address === undefined ? undefined : readerOf(sound, address, sampleRate, lane, pulls, courses)?.reader;
      const course =
        mover.kind === 'follower' ? follow(mover) : moverCourse(mover, sound.tempo.bpm, moved && ((time) => moved.at(time * sampleRate)));
      courses.set(mover.id, course);
    }
  return courses;
}

function group(pulls: readonly Pull[]): Map<string, Pull[]> {
  const groups = new Map<string, Pull[]>();
  for (const pull of pulls) groups.set(pull.address, [...(groups.get(pull.address) ?? []), pull]);
  return groups;
}
