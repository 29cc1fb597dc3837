import { BandLimitedSteps, stepDelay } from '../../dsp/band-limited-steps';
import type { Frames, Unit } from '../../units';
import type { LinesShape } from './wave-lines';
import { skewOf, WaveLines } from './wave-lines';

export const waveShapes = ['sine', 'triangle', 'saw', 'pulse'] as const;
export type WaveShape = (typeof waveShapes)[number];

const sineSize = 4_096;
const sines = Float64Array.from({ length: sineSize + 2 }, (_, i) => Math.sin((2 * Math.PI * i) / sineSize));

/** The whole part of a number, downwards: quicker than `Math.floor` where it is asked for with every frame. */
function wholeBelow(x: number): number {
  const whole = x | 0;
  return x < whole ? whole - 1 : whole;
}

/** A sine at a place counted in periods; off by less than -130 dB. */
export function sineAt(place: number): number {
  const at = (place - wholeBelow(place)) * sineSize;
  const index = at | 0;
  const low = sines[index]!;
  return low + (sines[index + 1]! - low) * (at - index);
}

/** Fewer frames than these are not worth the call of a kernel. */
const fewest: Frames = 8;
/** A synced wave may swing so often within a frame; a sine that folds back is none. */
const mostPeriods = 8;
/** What others move by more periods within a frame is noise in any case. */
const mostMoved = 8;
/** A bend of the wave that is less than this is not heard. */
const leastBend = 0.01;
const mostOfSine = 0.5;

/** Where a wave goes in a run of frames: everything moves in straight lines. */
export interface WaveCourse {
  /** Periods per frame: of the master, where it is synced. */
  increment: number;
  incrementStep: number;
  /** Of a pulse; of a triangle, where its peak lies. */
  width: Unit;
  widthStep: number;
  /** Periods of a synced wave in one of its master. */
  sync: number;
  syncStep: number;
}

/** A place within a period, from at most one period outside. */
function wrapped(place: number): number {
  return place >= 1 ? place - 1 : place < 0 ? place + 1 : place;
}

/**
 * One periodic wave with its jumps of value and slope corrected (see `BandLimitedSteps`). All shapes begin at 0 or at an edge. A wave that is synced begins
 * anew with every period of a master, and has `sync` times its frequency.
 */
export class Wave {
  private readonly steps: BandLimitedSteps;
  private readonly lines = new WaveLines();
  private begin: Unit = 0;
  /** Where it is in its period, without what moves the phase. */
  private place = 0;
  private master: Unit = 0;
  /** Where the frame before was, with all that moves it; NaN before the first one. */
  private before = NaN;
  private movedBefore = 0;
  /** How fast it came to the frame before, in periods per frame. */
  private speedBefore = NaN;
  private width: Unit = 0.5;
  /** What is left of a synced sine that comes near to half the sampling rate. */
  private left = 1;

  /** @param compiled false for the reference in plain TypeScript */
  constructor(
    private readonly shape: WaveShape,
    private readonly synced: boolean,
    compiled = true,
  ) {
    this.steps = new BandLimitedSteps(compiled);
  }

  /** By how many frames it lags. */
  get lag(): Frames {
    return this.corrects ? stepDelay : 0;
  }

  private get corrects(): boolean {
    return this.shape !== 'sine' || this.synced;
  }

  start(place: Unit): void {
    this.begin = place - wholeBelow(place);
    this.place = this.begin;
    this.master = 0;
    this.left = 1;
    this.before = this.speedBefore = NaN;
    this.steps.reset();
  }

  /** Writes the next frames; `moved` says by how many periods the phase is moved in each. */
  fill(into: Float64Array, from: Frames, to: Frames, moved: Float64Array | undefined, course: Readonly<WaveCourse>): void {
    const { shape } = this;
    if (shape === 'sine' && !this.synced) {
      this.fillSine(into, from, to, moved, course);
      return;
    }
    if (this.synced || moved || shape === 'sine') this.fillMoved(into, from, to, moved, course);
    else if (this.drawLines(shape, into, from, to, course)) return;
    else this.fillLines(shape, into, from, to, course);
    this.steps.process(into, from, to);
  }

  private fillSine(into: Float64Array, from: Frames, to: Frames, moved: Float64Array | undefined, course: Readonly<WaveCourse>): void {
    const { place } = this;
    const { increment, incrementStep } = course;
    const frames = to - from;
    if (this.steps.waves && frames >= fewest) this.steps.waves.sine(into, from, to, place, increment, incrementStep, moved);
    else {
      for (let k = 0; k < frames; k++) {
        const at = place + k * (increment + 0.5 * (k - 1) * incrementStep);
        into[from + k] = sineAt(moved ? at + moved[from + k]! : at);
      }
    }
    const next = place + frames * (increment + 0.5 * (frames - 1) * incrementStep);
    this.place = next - wholeBelow(next);
  }

  /** Has a kernel draw a wave of which nothing moves; false where that cannot be. */
  private drawLines(shape: LinesShape, into: Float64Array, from: Frames, to: Frames, course: Readonly<WaveCourse>): boolean {
    if (to - from < fewest || course.incrementStep !== 0 || course.widthStep !== 0) return false;
    this.lines.set(shape, course.width);
    const next = this.steps.draw(into, from, to, this.place, course.increment, this.lines.numbers);
    if (next === undefined) return false;
    this.place = next;
    return true;
  }

  /** A wave whose phase only goes on: two straight lines, each drawn in one go up to where the next begins; what moves, frame by frame. */
  private fillLines(shape: LinesShape, into: Float64Array, from: Frames, to: Frames, course: Readonly<WaveCourse>): void {
    const { lines } = this;
    let { increment } = course;
    const still = course.incrementStep === 0 && course.widthStep === 0;
    lines.set(shape, course.width);
    for (let i = from; i < to;) {
      if (!still) lines.set(shape, course.width + (i - from) * course.widthStep);
      const place = wrapped(this.place + lines.shift);
      const first = place < lines.bend;
      const end = first ? lines.bend : 1;
      const run = still ? Math.min(to - i, Math.max(1, Math.ceil((end - place) / increment))) : 1;
      const slope = first ? lines.firstSlope : lines.secondSlope;
      const value = (first ? lines.firstValue : lines.secondValue) + slope * place;
      const rise = slope * increment;
      for (let k = 0; k < run; k++) into[i + k] = value + k * rise;
      i += run;
      const next = place + run * increment;
      if (next >= end) this.turn(next, first, increment, i - from);
      this.place = wrapped(wrapped(next) - lines.shift);
      increment += course.incrementStep;
    }
  }

  /** Corrects the ends of the lines that it has passed; where its other line is short, that may be over within the same frame. */
  private turn(next: number, first: boolean, increment: number, ahead: Frames): void {
    const { bend } = this.lines;
    if (first) this.bend((next - bend) / increment, increment, ahead);
    if (next >= 1) this.bend((next - 1) / increment, -increment, ahead);
    if (next - 1 >= bend) this.bend((next - 1 - bend) / increment, increment, ahead);
  }

  /** @param speed negative where the second line ends, and with it the period */
  private bend(ago: number, speed: number, ahead: Frames): void {
    const { lines } = this;
    this.steps.addStep(ago, speed > 0 ? lines.jump : lines.jumpBack, ahead);
    this.steps.addCorner(ago, (lines.secondSlope - lines.firstSlope) * speed, ahead);
  }

  /** A wave that others move or a master begins anew. */
  private fillMoved(into: Float64Array, from: Frames, to: Frames, moved: Float64Array | undefined, course: Readonly<WaveCourse>): void {
    const { synced } = this;
    for (let i = from; i < to; i++) {
      const past = i - from;
      this.setWidth(course.width + past * course.widthStep);
      const increment = course.increment + past * course.incrementStep;
      const most = this.shape === 'sine' ? mostOfSine : mostPeriods;
      const own = synced ? Math.min(most, increment * (course.sync + past * course.syncStep)) : increment;
      const by = moved ? this.nearMove(moved[i]!) : 0;
      const at = this.place + by;
      if (synced && this.before === this.before && this.master < increment) this.beginAnew(own, by, this.master / increment, past);
      else if (this.before === this.before) {
        const speed = at - this.before;
        if (moved) this.turnTo(speed, past);
        this.cross(this.before, at, 0, speed, past);
        this.speedBefore = speed;
      }
      const now = this.place + by;
      into[i] = this.left * this.valueAt(now);
      // Counted from the period it is in, so that numbers stay small.
      const whole = wholeBelow(this.place);
      this.before = now - whole;
      this.movedBefore = by;
      this.place += own - whole;
      if (synced) {
        this.master += increment;
        if (this.master >= 1) this.master -= wholeBelow(this.master);
      }
    }
  }

  /** A move of the phase that is no longer than it has to be: whole periods make no difference. */
  private nearMove(by: number): number {
    const move = by - this.movedBefore;
    return Math.abs(move) > mostMoved ? this.movedBefore + move - Math.round(move) : by;
  }

  /** At the frame before this one, the wave begins to go faster or slower: where others move it far, that bends it. */
  private turnTo(speed: number, ahead: Frames): void {
    const bend = this.slopeAt(this.before) * (speed - this.speedBefore);
    if (Math.abs(bend) > leastBend) this.steps.addCorner(1, bend, ahead);
  }

  private setWidth(width: Unit): void {
    this.width = this.shape === 'triangle' ? skewOf(width) : width;
  }

  /** The master began a period `ago` frames before this one. */
  private beginAnew(own: number, moved: number, ago: number, ahead: Frames): void {
    const speed = own + moved - this.movedBefore;
    const end = this.before + speed * (1 - ago);
    this.turnTo(speed, ahead);
    this.cross(this.before, end, ago, speed, ahead);
    this.speedBefore = own;
    const start = this.begin + moved;
    if (this.shape === 'sine') this.left = this.steps.addTurn(ago, 2 * Math.PI * own, 2 * Math.PI * end, 2 * Math.PI * start, ahead);
    else {
      this.steps.addStep(ago, this.valueAt(start) - this.valueAt(end), ahead);
      this.steps.addCorner(ago, this.slopeAt(start) * own - this.slopeAt(end) * speed, ahead);
    }
    this.place = this.begin + own * ago;
    this.cross(start, this.place + moved, 0, own, ahead);
  }

  /** Corrects what lies between two places; the second is reached `ago` frames before the frame that is `ahead`. */
  private cross(from: number, to: number, ago: number, speed: number, ahead: Frames): void {
    const { width } = this;
    switch (this.shape) {
      case 'triangle': {
        const corner = (2 / width + 2 / (1 - width)) * Math.abs(speed);
        this.corner(from, to, ago, speed, width / 2, -corner, ahead);
        this.corner(from, to, ago, speed, 1 - width / 2, corner, ahead);
        return;
      }
      case 'saw':
        this.corner(from, to, ago, speed, 0.5, speed > 0 ? -2 : 2, ahead);
        return;
      case 'pulse':
        this.corner(from, to, ago, speed, 0, speed > 0 ? 2 : -2, ahead);
        this.corner(from, to, ago, speed, width, speed > 0 ? -2 : 2, ahead);
    }
  }

  /** Corrects a jump that the wave has at one place of its period, as often as it is passed. */
  private corner(from: number, to: number, ago: number, speed: number, place: Unit, jump: number, ahead: Frames): void {
    const first = wholeBelow(from - place);
    const last = wholeBelow(to - place);
    if (first === last || speed === 0) return;
    const up = last > first;
    const passes = Math.abs(last - first);
    for (let i = 0; i < passes; i++) {
      const passed = (up ? last - i : last + 1 + i) + place;
      const since = Math.max(0, Math.min(0.999_999, ago + (to - passed) / speed));
      if (this.shape === 'triangle') this.steps.addCorner(since, jump, ahead);
      else this.steps.addStep(since, jump, ahead);
    }
  }

  private valueAt(at: number): number {
    const { width } = this;
    const place = at - wholeBelow(at);
    switch (this.shape) {
      case 'triangle': {
        let along = place + width / 2;
        if (along >= 1) along -= 1;
        return along < width ? (2 * along) / width - 1 : 1 - (2 * (along - width)) / (1 - width);
      }
      case 'saw':
        return place < 0.5 ? 2 * place : 2 * place - 2;
      case 'pulse':
        return (place < width ? 1 : -1) - (2 * width - 1);
      default:
        return sineAt(at);
    }
  }

  /** How steep it is there, per period. */
  private slopeAt(at: number): number {
    if (this.shape !== 'triangle') return this.shape === 'saw' ? 2 : 0;
    const { width } = this;
    const place = at + width / 2;
    return place - wholeBelow(place) < width ? 2 / width : -2 / (1 - width);
  }
}
