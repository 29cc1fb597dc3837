import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal, viewChild } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { AutomationLane, AutomationPoint, NumberParameter, Property, Stretch } from '@tangled-choir/core';
import {
  axisOf,
  bendThrough,
  drawStroke,
  gainParameter,
  insertPoint,
  laneValue,
  offsetReach,
  offsetUnit,
  placeOfValue,
  trimmedValue,
} from '@tangled-choir/core';
import { Playback } from '../../state/playback.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { followPointer } from '../../ui/follow-pointer';
import type { ShownScale } from '../../ui/quantity';
import { formatQuantity } from '../../ui/quantity';
import type { ValueChange } from '../../ui/value-field';
import { newGesture, ValueField } from '../../ui/value-field';
import { TimelineScale } from '../timeline/timeline-scale';
import type { LaneChoice } from './lane-commands';
import { LaneCommands } from './lane-commands';
import type { Handle, StripScale } from './lane-path';
import { bendHandles, lanePath, placeOfY, pointHandles, shownRange, valueOfY, yOfPlace } from './lane-path';

const curveTop = 24;
/** Pixels below the curve. */
const belowCurve = 5;
/** How near to the curve a press takes hold of it. */
const reach = 6;
const fineFactor = 0.1;
/** Longest time between the presses of a double click, in milliseconds; systems allow half a second. */
const doubleClickTime = 600;

/**
 * One automation lane under what it moves: its curve over time. Press on the curve to add a point, drag points and the diamonds between
 * them (Shift: fine), drag beside the curve to choose a stretch, draw with the pen or with Ctrl held.
 */
@Component({
  selector: 'tc-automation-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, MatMenuModule, MatTooltipModule, ValueField],
  templateUrl: './automation-strip.html',
  styleUrl: './automation-strip.scss',
  host: { '[class.off]': '!lane().enabled' },
})
export class AutomationStrip {
  /** The lane as it was when this was last drawn. */
  readonly drawn = input.required<AutomationLane>();
  readonly property = input.required<Property>();
  readonly seconds = input.required<number>();
  /** In pixels. */
  readonly height = input.required<number>();
  /** The stretch of time in view. */
  readonly shown = input.required<Stretch>();
  readonly snap = input.required<(time: number) => number>();
  protected readonly commands = inject(LaneCommands);
  private readonly playback = inject(Playback);
  private readonly scale = inject(TimelineScale);
  private readonly workbench = inject(WorkbenchStore);
  private readonly curve = viewChild.required<ElementRef<HTMLElement>>('curve');

  /** The lane as the document has it now: of two quick edits, the second must not undo the first. */
  protected readonly lane = computed(() => this.workbench.sound()?.automation.find(({ id }) => id === this.drawn().id) ?? this.drawn());
  /** When a press last put a point onto the curve, and what it holds since then. */
  private insertedAt = -Infinity;
  private inserted: Held | undefined;
  protected readonly pen = signal(false);
  protected readonly stretch = signal<Stretch | undefined>(undefined);
  protected readonly parameter = computed((): NumberParameter => {
    return axisOf(this.property().parameter) ?? gainParameter;
  });
  /** “EQ · Band 4 gain”, “Gain”: the layer's name stands above. */
  protected readonly title = computed(() => {
    const { within, parameter } = this.property();
    return within === undefined ? parameter.label : `${within} · ${parameter.label}`;
  });
  protected readonly name = computed(() => `${this.property().owner}: ${this.parameter().label.toLowerCase()}`);
  protected readonly strip = computed((): StripScale => ({
    pixelsPerSecond: this.scale.pixelsPerSecond(),
    top: curveTop,
    bottom: this.height() - belowCurve,
    seconds: this.seconds(),
  }));
  protected readonly width = computed(() => this.seconds() * this.scale.pixelsPerSecond());
  protected readonly path = computed(() => lanePath(this.lane(), this.parameter(), this.strip()));
  protected readonly defaultHeight = computed(() =>
    yOfPlace(this.strip(), placeOfValue(shownRange(this.parameter()), this.parameter().default)),
  );
  protected readonly points = computed(() => pointHandles(this.lane(), this.parameter(), this.strip(), this.shown()));
  protected readonly bends = computed(() => bendHandles(this.lane(), this.parameter(), this.strip(), this.points()));
  /** What the stages of a choice or a switch are called, where the lane goes over to them. */
  protected readonly stages = computed(() => {
    const parameter = this.parameter();
    if (!parameter.names) return [];
    const { points, trim } = this.lane();
    return this.points().map((handle) => ({
      ...handle,
      name: formatQuantity(trimmedValue(parameter, points[handle.index]!.value, trim), parameter),
      // Above the line, the title of the strip is in the way.
      below: handle.y < curveTop + 14,
    }));
  });
  protected readonly choice = computed((): LaneChoice => ({ lane: this.lane(), parameter: this.parameter(), stretch: this.stretch() }));
  protected readonly now = computed(() =>
    formatQuantity(laneValue(this.lane(), this.parameter(), this.playback.playhead()), this.parameter()),
  );
  protected readonly trimParameter = computed((): NumberParameter => {
    const most = offsetReach(this.parameter());
    const unit = offsetUnit(this.parameter());
    // Percent of a logarithmic value are counted as they are; shares are stored from 0 to 1.
    const counted = unit === '%' && this.parameter().scale === 'log';
    return { kind: 'number', label: 'Trim', unit: counted ? '' : unit, min: -most, max: most, default: 0, scale: 'linear' };
  });
  protected readonly trimScale = computed((): ShownScale => {
    const { unit } = this.trimParameter();
    const factor = unit === 's' ? 1_000 : unit === '%' ? 100 : 1;
    const shown = unit === 's' ? 'ms' : offsetUnit(this.parameter());
    return { unit: shown, factor, digits: shown === '' ? 2 : 1, signed: true };
  });

  protected textOf({ index }: Handle): string {
    const point = this.lane().points[index]!;
    return `${formatQuantity(trimmedValue(this.parameter(), point.value, this.lane().trim), this.parameter())} at ${point.time.toFixed(3)} s`;
  }

  protected setTrim({ value, gesture }: ValueChange): void {
    this.commands.setTrim(this.lane(), value, gesture);
  }

  /** A press beside the handles: draw, take hold of the curve, or choose a stretch. */
  protected press(event: PointerEvent): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    this.curve().nativeElement.focus();
    const { time, y } = this.at(event);
    if (this.inserted && this.isSecondPress(event)) {
      this.dragPoint(event, this.inserted);
      return;
    }
    // A press elsewhere begins a double click of its own, however quickly it comes.
    this.insertedAt = -Infinity;
    if (this.pen() || event.ctrlKey) this.draw(event);
    else if (Math.abs(this.heightAt(time) - y) <= reach) {
      this.insertedAt = event.timeStamp;
      this.inserted = this.insert(time, y);
      this.dragPoint(event, this.inserted);
    } else this.chooseStretch(event);
  }

  protected addAt(event: MouseEvent): void {
    if (event.timeStamp - this.insertedAt <= doubleClickTime) return;
    const { time, y } = this.at(event);
    this.stretch.set(undefined);
    this.insert(time, y);
  }

  /** A double click removes a point, unless its first press only just put it there. */
  protected doubleClickPoint(event: MouseEvent, index: number): void {
    event.stopPropagation();
    if (event.timeStamp - this.insertedAt > doubleClickTime) this.removePoint(index);
  }

  protected pressPoint(event: PointerEvent, index: number): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    if (event.currentTarget instanceof HTMLElement) event.currentTarget.focus();
    this.dragPoint(event, { points: this.lane().points, index, gesture: newGesture() });
  }

  protected pressBend(event: PointerEvent, index: number): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    const lane = this.lane();
    const gesture = newGesture();
    const from = this.placeOf(lane.points[index]!);
    const to = this.placeOf(lane.points[index + 1]!);
    followPointer(event, (moved) => {
      const share = (placeOfY(this.strip(), this.at(moved).y) - from) / (to - from);
      const bend = bendThrough(Math.max(0.02, Math.min(0.98, share)));
      this.commands.setPoints(lane, withPoint(lane.points, index, { ...lane.points[index]!, bend }), 'Bend', gesture);
    });
  }

  protected straighten(index: number): void {
    const { points } = this.lane();
    this.commands.setPoints(this.lane(), withPoint(points, index, { ...points[index]!, bend: 0 }), 'Straighten');
  }

  protected removePoint(index: number): void {
    const { points } = this.lane();
    if (points.length === 1) return;
    this.commands.setPoints(
      this.lane(),
      points.filter((_, other) => other !== index),
      'Remove a point',
    );
    this.curve().nativeElement.focus();
  }

  protected keyOnPoint(event: KeyboardEvent, index: number): void {
    if (event.key === 'Delete' || event.key === 'Backspace') this.removePoint(index);
    else {
      const step = event.shiftKey ? 0.1 : 1;
      const right = { ArrowLeft: -0.01, ArrowRight: 0.01 }[event.key] ?? 0;
      const up = { ArrowUp: 0.01, ArrowDown: -0.01 }[event.key] ?? 0;
      if ((right === 0 && up === 0) || event.ctrlKey || event.altKey) return;
      const { points } = this.lane();
      const point = points[index]!;
      const y = yOfPlace(this.strip(), this.placeOf(point) + up * step);
      this.commands.setPoints(this.lane(), moved(points, index, point.time + right * step, this.valueAt(y)), 'Move a point');
    }
    event.preventDefault();
    event.stopPropagation();
  }

  protected keyOnCurve(event: KeyboardEvent): void {
    const key = event.key.toLowerCase();
    if (event.ctrlKey && key === 'c') this.commands.copy(this.choice());
    else if (event.ctrlKey && key === 'v') this.commands.paste(this.choice());
    else if (event.key === 'Escape' && this.stretch()) this.stretch.set(undefined);
    else if (event.key !== 'Delete' && event.key !== 'Backspace') return;
    // Delete must not reach the layer that this lane belongs to.
    event.preventDefault();
    event.stopPropagation();
  }

  private dragPoint(press: PointerEvent, { points, index, gesture }: Held): void {
    const lane = this.lane();
    let { time, y } = this.at(press);
    let last = this.at(press);
    followPointer(press, (event) => {
      const next = this.at(event);
      const share = event.shiftKey ? fineFactor : 1;
      time += (next.time - last.time) * share;
      y += (next.y - last.y) * share;
      last = next;
      const snapped = event.altKey || event.shiftKey ? time : this.snap()(time);
      this.commands.setPoints(lane, moved(points, index, snapped, this.valueAt(y)), 'Move a point', gesture);
    });
  }

  /** Whether a press is the second of a double click whose first put a point here, which is not drawn yet. */
  private isSecondPress(event: PointerEvent): boolean {
    const point = this.inserted?.points[this.inserted.index];
    if (!point || event.timeStamp - this.insertedAt > doubleClickTime) return false;
    const { x, y } = this.at(event);
    const away = Math.hypot(x - point.time * this.scale.pixelsPerSecond(), y - yOfPlace(this.strip(), this.placeOf(point)));
    return away <= reach;
  }

  /** Puts a point into the lane and holds it. */
  private insert(time: number, y: number): Held {
    const lane = this.lane();
    const { points, index } = insertPoint(lane, this.parameter(), { time, value: this.valueAt(y) });
    const gesture = newGesture();
    this.commands.setPoints(lane, points, 'Add a point', gesture);
    return { points, index, gesture };
  }

  private draw(press: PointerEvent): void {
    const lane = this.lane();
    const gesture = newGesture();
    const stroke = new Map<number, { time: number; value: number }>();
    let last = this.at(press);
    const extend = (event: PointerEvent): void => {
      const next = this.at(event);
      const steps = Math.max(1, Math.abs(Math.round(next.x - last.x)));
      for (let i = 0; i <= steps; i++) {
        const x = Math.round(last.x + ((next.x - last.x) * i) / steps);
        const y = last.y + ((next.y - last.y) * i) / steps;
        stroke.set(x, { time: Math.max(0, x / this.scale.pixelsPerSecond()), value: this.valueAt(y) });
      }
      last = next;
      this.commands.setPoints(lane, drawStroke(lane, this.parameter(), [...stroke.values()]), 'Draw', gesture);
    };
    followPointer(press, extend);
  }

  private chooseStretch(press: PointerEvent): void {
    const start = this.at(press).time;
    this.stretch.set(undefined);
    followPointer(press, (event) => {
      const { time } = this.at(event);
      const [from, to] = [this.snap()(Math.min(start, time)), this.snap()(Math.max(start, time))];
      if (to - from > 1e-3) this.stretch.set({ from, to });
    });
  }

  /** Where the curve is drawn at a moment, in pixels from the strip's top. */
  private heightAt(time: number): number {
    return yOfPlace(this.strip(), placeOfValue(shownRange(this.parameter()), laneValue(this.lane(), this.parameter(), time)));
  }

  private placeOf(point: AutomationPoint): number {
    return placeOfValue(shownRange(this.parameter()), trimmedValue(this.parameter(), point.value, this.lane().trim));
  }

  private valueAt(y: number): number {
    return valueOfY(this.lane(), this.parameter(), this.strip(), y);
  }

  private at(event: MouseEvent): { x: number; y: number; time: number } {
    const box = this.curve().nativeElement.getBoundingClientRect();
    const x = event.clientX - box.left;
    return { x, y: event.clientY - box.top, time: Math.max(0, x / this.scale.pixelsPerSecond()) };
  }
}

/** A point in hand, among the points that it began with. */
interface Held {
  readonly points: readonly AutomationPoint[];
  readonly index: number;
  readonly gesture: string;
}

function withPoint(points: readonly AutomationPoint[], index: number, point: AutomationPoint): AutomationPoint[] {
  return points.map((other, i) => (i === index ? point : other));
}

/** Moves a point; in time it stays between its neighbours. */
function moved(points: readonly AutomationPoint[], index: number, time: number, value: number): AutomationPoint[] {
  const least = points[index - 1]?.time ?? 0;
  const most = points[index + 1]?.time ?? Infinity;
  return withPoint(points, index, { ...points[index]!, time: Math.max(least, Math.min(most, time)), value });
}
