import { inject, Injectable, signal } from '@angular/core';
import type { AutomationLane, AutomationPoint, LfoShape, NumberParameter, ParameterSet, Stretch } from '@tangled-choir/core';
import {
  choice,
  count,
  laneValue,
  lfoPoints,
  lfoShapes,
  pastePoints,
  placeOfValue,
  pointsWithin,
  replaceStretch,
  scaleStretch,
  seconds,
  share,
  smoothStretch,
  soundEnd,
  thinPoints,
  valueAtPlace,
} from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Notices } from '../../state/notices';
import { Playback } from '../../state/playback.store';
import { WorkbenchStore } from '../../state/workbench.store';
import type { SettingValues } from '../../ui/settings-dialog';
import { AskSettings } from '../../ui/settings-dialog';

/** A lane with what it moves, and the stretch of it that is chosen, if any. */
export interface LaneChoice {
  readonly lane: AutomationLane;
  readonly parameter: NumberParameter;
  readonly stretch: Stretch | undefined;
}

/** A copied course: moments from its beginning, places along the range, so that it fits any property. */
type CopiedCourse = readonly { readonly time: number; readonly place: number; readonly bend: number }[];

const thinning = 0.01;
const numberOf = (values: SettingValues, key: string): number => Number(values[key] ?? 0);

/** What can be done to an automation lane, or to a stretch of it. */
@Injectable()
export class LaneCommands {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly notices = inject(Notices);
  private readonly settings = inject(AskSettings);
  readonly copied = signal<CopiedCourse>([]);

  /** Gives a lane new points; `action` names the undo step. */
  setPoints(lane: AutomationLane, points: readonly AutomationPoint[], action: string, gesture?: string): void {
    this.document.edit('setAutomationPoints', { sound: this.soundId, lane: lane.id, points, action }, gesture);
  }

  copy({ lane, parameter, stretch }: LaneChoice): void {
    const points = pointsWithin(lane, parameter, stretch ?? this.wholeOf(lane));
    const start = points[0]!.time;
    this.copied.set(points.map(({ time, value, bend }) => ({ time: time - start, place: placeOfValue(parameter, value), bend })));
    this.notices.info('The course is copied. Paste it at the playhead, into this lane or another.');
  }

  paste({ lane, parameter }: LaneChoice): void {
    const points = this.copied().map(({ time, place, bend }) => ({ time, value: valueAtPlace(parameter, place), bend }));
    if (points.length > 0) this.setPoints(lane, pastePoints(lane, parameter, points, this.playback.playhead()), 'Paste');
  }

  async scale({ lane, parameter, stretch }: LaneChoice): Promise<void> {
    const parameters: ParameterSet = { factor: share({ label: 'Movement', min: 0, max: 4, default: 0.5 }) };
    const explain = 'Makes the movement smaller or larger around its mean: 0 % makes it flat, 200 % doubles it.';
    const values = await this.settings.ask({ title: 'Scale the movement', explain, action: 'Scale', parameters });
    if (values) this.setPoints(lane, scaleStretch(lane, parameter, stretch ?? this.wholeOf(lane), numberOf(values, 'factor')), 'Scale');
  }

  async smooth({ lane, parameter, stretch }: LaneChoice): Promise<void> {
    const parameters: ParameterSet = { width: seconds({ label: 'Over', min: 0.01, max: 10, default: 0.2 }) };
    const explain = 'Rounds off what moves faster than this; both ends stay where they are.';
    const values = await this.settings.ask({ title: 'Smooth', explain, action: 'Smooth', parameters });
    if (values) this.setPoints(lane, smoothStretch(lane, parameter, stretch ?? this.wholeOf(lane), numberOf(values, 'width')), 'Smooth');
  }

  /** Leaves out points that the curve does not need: it stays within 1 % of the range. */
  thin({ lane, parameter, stretch }: LaneChoice): void {
    const { from, to } = stretch ?? { from: 0, to: Infinity };
    const inside = lane.points.filter(({ time }) => time >= from && time <= to);
    const thinned = inside.length > 2 ? thinPoints(inside, parameter, thinning) : inside;
    if (thinned.length === inside.length) {
      this.notices.info('Every point here is needed; nothing was left out.');
      return;
    }
    const rest = lane.points.filter(({ time }) => time < from || time > to);
    this.setPoints(lane, [...rest, ...thinned], 'Thin');
  }

  async drawShape({ lane, parameter, stretch }: LaneChoice): Promise<void> {
    const { from, to } = stretch ?? { from: 0, to: Math.max(1, soundEnd(this.workbench.sound()!)) };
    const now = laneValue({ ...lane, trim: 0 }, parameter, from);
    const place = placeOfValue(parameter, now);
    const around = (move: number): number => valueAtPlace(parameter, place + move);
    const parameters: ParameterSet = {
      shape: choice('Shape', lfoShapes, 'sine'),
      startRate: { kind: 'number', label: 'Rate at the start', unit: 'Hz', min: 0.02, max: 40, default: 2, scale: 'log' },
      endRate: { kind: 'number', label: 'Rate at the end', unit: 'Hz', min: 0.02, max: 40, default: 2, scale: 'log' },
      low: { ...parameter, label: 'Lowest', default: around(-0.1) },
      high: { ...parameter, label: 'Highest', default: around(0.1) },
      phase: share({ label: 'Begins at', default: 0 }),
      seed: count({ label: 'Seed', min: 1, max: 999, default: 1 }),
    };
    const explain = `Draws from ${from.toFixed(3)} s to ${to.toFixed(3)} s, in the place of what is there.`;
    // What was asked last time belonged to another property.
    const fresh = { low: around(-0.1), high: around(0.1) };
    const values = await this.settings.ask({ title: 'Draw an LFO shape', explain, action: 'Draw', parameters, values: fresh });
    if (!values) return;
    const shape = lfoShapes.find((known): known is LfoShape => known === values['shape']) ?? 'sine';
    try {
      const drawn = lfoPoints(
        parameter,
        { from, to },
        {
          shape,
          startRate: numberOf(values, 'startRate'),
          endRate: numberOf(values, 'endRate'),
          low: numberOf(values, 'low'),
          high: numberOf(values, 'high'),
          phase: numberOf(values, 'phase'),
          seed: numberOf(values, 'seed'),
        },
      );
      this.setPoints(lane, replaceStretch(lane, parameter, { from, to }, drawn), 'Draw an LFO shape');
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.notices.error(error.message);
    }
  }

  setSteps(lane: AutomationLane, stepped: boolean): void {
    this.document.edit('setAutomation', { sound: this.soundId, lane: lane.id, settings: { stepped } });
  }

  setEnabled(lane: AutomationLane, enabled: boolean): void {
    this.document.edit('setAutomation', { sound: this.soundId, lane: lane.id, settings: { enabled } });
  }

  setTrim(lane: AutomationLane, trim: number, gesture: string): void {
    this.document.edit('setAutomation', { sound: this.soundId, lane: lane.id, settings: { trim } }, gesture);
  }

  remove(lane: AutomationLane): void {
    this.document.edit('removeAutomation', { sound: this.soundId, lane: lane.id });
  }

  /** From the beginning to the last point, or to the end of the sound. */
  private wholeOf(lane: AutomationLane): Stretch {
    return { from: 0, to: Math.max(lane.points.at(-1)!.time, soundEnd(this.workbench.sound()!), 0.1) };
  }

  private get soundId(): string {
    return this.workbench.sound()!.id;
  }
}
