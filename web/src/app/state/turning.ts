import { computed, inject, Injectable } from '@angular/core';
import type { AutomationLane, Mover, MoverCourse, NumberParameter, ParameterValue, Pull, Seconds } from '@tangled-choir/core';
import {
  axisOf,
  coursesOf,
  effectCatalogue,
  findProperty,
  laneValue,
  offsetFor,
  projectSampleRate,
  pointBefore,
  pulledValue,
  pullsBothWays,
  reachOf,
  toAxis,
} from '@tangled-choir/core';
import { LiveEngine } from '../engine/live/live-engine';
import { DocumentStore } from './project/document.store';
import { Playback } from './playback.store';
import { WorkbenchStore } from './workbench.store';

/**
 * Reads and turns properties of the sound by their addresses. Who turns a property that is automated moves its whole lane; of choices and
 * switches the stage at the playhead.
 */
@Injectable()
export class Turning {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly engine = inject(LiveEngine);

  private readonly lanes = computed(
    () => new Map((this.workbench.sound()?.automation ?? []).filter((lane) => lane.enabled).map((lane) => [lane.address, lane])),
  );
  /** Where the playhead was when the gesture at hand began: while the sound plays on, a turned dial must not be measured against another moment. */
  private held: { readonly gesture: string; readonly time: number } | undefined;

  /** The lane that moves a property, if one does. */
  laneOf(address: string): AutomationLane | undefined {
    return this.lanes().get(address);
  }

  /** Where each mover is at a moment, by its id. Followers only know where they are now, and only while the sound plays. */
  readonly courses = computed((): ReadonlyMap<string, MoverCourse> => {
    const sound = this.workbench.sound();
    const now = ({ id }: Mover): number => (this.engine.playing() === 'sound' ? (this.engine.meters()?.followers.get(id) ?? 0) : 0);
    return sound ? coursesOf(sound, projectSampleRate, (follower) => ({ at: () => now(follower) })) : new Map();
  });

  /** Who pulls at a property, by address: tides, reins and walks. */
  private readonly pulls = computed(() => {
    const sound = this.workbench.sound();
    const movers = new Map((sound?.movers ?? []).map((mover) => [mover.id, mover]));
    const courses = this.courses();
    const byAddress = new Map<string, (Pull & { readonly course: MoverCourse; readonly name: string; readonly bothWays: boolean })[]>();
    for (const pull of sound?.pulls ?? []) {
      const { address } = pull;
      const mover = movers.get(pull.mover);
      const course = courses.get(pull.mover);
      if (mover && course)
        byAddress.set(address, [...(byAddress.get(address) ?? []), { ...pull, course, name: mover.name, bothWays: pullsBothWays(mover) }]);
    }
    return byAddress;
  });

  /** The names of the tides, reins and walks that pull at a property. */
  pulledBy(address: string): readonly string[] {
    return (this.pulls().get(address) ?? []).map(({ name }) => name);
  }

  /** The value of a property at the playhead as its dial has it: what its lane says, or what is stored. */
  valueNow(address: string, stored: number, parameter: NumberParameter): number {
    const lane = this.laneOf(address);
    return lane ? laneValue(lane, parameter, this.playback.playhead()) : stored;
  }

  /** The value that is heard at the playhead, with everything that pulls at it. */
  heardNow(address: string, stored: number, parameter: NumberParameter): number {
    const base = this.valueNow(address, stored, parameter);
    return pulledValue(parameter, base, this.pulls().get(address) ?? [], this.pulledAt(address));
  }

  /** When a property is pulled as it is heard: now, but clips as they begin. */
  private pulledAt(address: string): Seconds {
    const [, , part, id] = address.split('/');
    const clip =
      part === 'clip'
        ? this.workbench
            .sound()
            ?.layers.flatMap(({ clips }) => clips)
            .find((each) => each.id === id)
        : undefined;
    return clip?.start ?? this.playback.playhead();
  }

  /** What a dial shows of those who pull at it: where it is heard, between which values it moves, and by whom; nothing where nobody does. */
  pulledDial(address: string, stored: number, parameter: NumberParameter) {
    const by = this.pulledBy(address).join(', ');
    return by === ''
      ? undefined
      : { by, heard: this.heardNow(address, stored, parameter), reach: this.reachOf(address, stored, parameter) };
  }

  /** Between which values a property moves; nothing when nobody moves it. */
  reachOf(address: string, stored: number, parameter: NumberParameter): { readonly low: number; readonly high: number } | undefined {
    const lane = this.laneOf(address);
    const pulls = this.pulls().get(address) ?? [];
    if (!lane && pulls.length === 0) return undefined;
    const bases = lane && lane.points.length > 0 ? lane.points.map(({ time }) => laneValue(lane, parameter, time)) : [stored];
    return reachOf(parameter, bases, pulls);
  }

  turn(values: Readonly<Record<string, ParameterValue>>, label: string, gesture?: string): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    const plain: Record<string, ParameterValue> = {};
    for (const [address, value] of Object.entries(values)) {
      const lane = this.laneOf(address);
      const parameter = findProperty(sound, address, effectCatalogue)?.parameter;
      const axis = parameter && axisOf(parameter);
      if (!lane || !axis) {
        plain[address] = value;
        continue;
      }
      const time = this.momentOf(gesture);
      const place = toAxis(parameter, value);
      if (axis.names) this.setStage(sound.id, lane, place - Math.round(lane.trim), time);
      else {
        const trim = offsetFor(axis, laneValue({ ...lane, trim: 0 }, axis, time), place);
        this.document.edit('setAutomation', { sound: sound.id, lane: lane.id, settings: { trim } }, gesture);
      }
    }
    if (Object.keys(plain).length > 0) this.document.edit('setValues', { sound: sound.id, values: plain, label }, gesture);
  }

  private setStage(sound: string, lane: AutomationLane, value: number, time: number): void {
    const at = Math.max(0, pointBefore(lane.points, time));
    const points = lane.points.map((point, index) => (index === at ? { ...point, value } : point));
    this.document.edit('setAutomationPoints', { sound, lane: lane.id, points, action: 'Set a stage' });
  }

  private momentOf(gesture: string | undefined): number {
    if (gesture === undefined) return this.playback.playhead();
    if (this.held?.gesture !== gesture) this.held = { gesture, time: this.playback.playhead() };
    return this.held.time;
  }
}
