import { pointBefore, valueFrom } from '../automation/lane-value';
import { effectCatalogue } from '../effects';
import { findProperty, isAutomatable } from '../project/address';
import type { NumberParameter } from '../project/parameters';
import type { AutomationLane, Sound } from '../project/schema';
import type { Frames, Hertz } from '../units';

/** Frames for which an automated gain moves in a straight line. */
export const gainStep: Frames = 64;
/**
 * Frames after which automated parameters of an effect are looked up again: as long as effects glide to a changed value, so that they
 * are always on a straight way from one looked-up value to the next. More often would only cost more: an EQ designs its filters anew.
 */
export const effectStep: Frames = 512;

/** Follows one lane along the time axis. Going forward costs next to nothing; jumps are found by bisection. */
export class LaneReader {
  private before = -1;

  constructor(
    readonly lane: AutomationLane,
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
}

/** The lanes of one owner's properties, each with the last part of its address. */
export type OwnLanes = readonly { readonly key: string; readonly reader: LaneReader }[];

const none: OwnLanes = [];

/** All lanes of a sound that are on and lead somewhere, by what they belong to: `layer/<id>`, `layer/<id>/chain/<step>`. */
export class Automation {
  private readonly byOwner = new Map<string, { key: string; reader: LaneReader }[]>();

  constructor(sound: Sound, sampleRate: Hertz) {
    for (const lane of sound.automation) {
      const property = lane.enabled ? findProperty(sound, lane.address, effectCatalogue) : undefined;
      if (property?.parameter.kind !== 'number' || !isAutomatable(property)) continue;
      const cut = lane.address.lastIndexOf('/');
      const owner = lane.address.slice(0, cut);
      const own = this.byOwner.get(owner) ?? [];
      own.push({ key: lane.address.slice(cut + 1), reader: new LaneReader(lane, property.parameter, sampleRate) });
      this.byOwner.set(owner, own);
    }
  }

  below(owner: string): OwnLanes {
    return this.byOwner.get(owner) ?? none;
  }

  reader(owner: string, key: string): LaneReader | undefined {
    return this.below(owner).find((lane) => lane.key === key)?.reader;
  }
}
