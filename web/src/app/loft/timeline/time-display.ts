import { Injectable, signal } from '@angular/core';
import type { Clock, Division, Tempo } from '@tangled-choir/core';
import { formatTimecode, framesPerSecond, frameTime, frameAt, gridLines, noteLength } from '@tangled-choir/core';
import { scaleLinear } from 'd3';

export const timeModes = ['seconds', 'frames', 'beats', 'samples'] as const;
export type TimeMode = (typeof timeModes)[number];

export const nudgeSteps = ['10 ms', '1 ms', 'frame', 'sample'] as const;
export type NudgeStep = (typeof nudgeSteps)[number];

/** What dragged clips are drawn to. */
export interface SnapKinds {
  readonly marks: boolean;
  readonly edges: boolean;
  readonly syncs: boolean;
  readonly frames: boolean;
  readonly beats: boolean;
  readonly zeroCrossings: boolean;
}

/** How time is shown and what edits snap to; the same for all sounds while the page is open. */
@Injectable()
export class TimeDisplay {
  readonly mode = signal<TimeMode>('seconds');
  readonly division = signal<Division>('1/8');
  readonly nudge = signal<NudgeStep>('10 ms');
  readonly snap = signal<SnapKinds>({ marks: true, edges: true, syncs: true, frames: false, beats: false, zeroCrossings: false });

  toggleSnap(kind: keyof SnapKinds): void {
    this.snap.update((kinds) => ({ ...kinds, [kind]: !kinds[kind] }));
  }
}

/** Everything that a time must be measured against. */
export interface TimeAxis {
  readonly mode: TimeMode;
  readonly tempo: Tempo;
  readonly clock: Clock;
  readonly sampleRate: number;
}

export interface Tick {
  readonly time: number;
  readonly text: string;
}

const pixelsPerLabel = 90;
const leastBeat = 1;

/** A stretch of the axis, in seconds. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** Labelled ticks within a stretch of the axis, far enough apart to be read. */
export function ticksFor(axis: TimeAxis, { from, to }: Stretch, pixelsPerSecond: number): Tick[] {
  const seconds = Math.max(0, to - from);
  const most = Math.max(1, (seconds * pixelsPerSecond) / pixelsPerLabel);
  switch (axis.mode) {
    case 'seconds': {
      const ticks = scaleLinear([from, to], [0, 1]).ticks(most);
      const digits = Math.max(0, -Math.floor(Math.log10((ticks[1] ?? 1) - (ticks[0] ?? 0)) + 1e-9));
      return ticks.map((time) => ({ time, text: time.toFixed(Math.min(3, digits)) }));
    }
    case 'samples': {
      const ticks = scaleLinear([from * axis.sampleRate, to * axis.sampleRate], [0, 1]).ticks(most);
      return ticks.map((sample) => ({ time: sample / axis.sampleRate, text: sample.toLocaleString('en-GB') }));
    }
    case 'frames': {
      const rate = framesPerSecond(axis.clock.frameRate);
      const second = Math.round(rate);
      const frames = seconds * rate;
      const step = [1, 2, 5, 10, second, 2 * second, 5 * second, 10 * second, 30 * second, 60 * second, 300 * second, 600 * second].find(
        (candidate) => (frames / candidate) * 1.1 <= most,
      );
      const every = step ?? 3_600 * second;
      const first = Math.ceil((from * rate) / every);
      return Array.from({ length: Math.max(0, Math.floor((to * rate) / every) - first + 1) }, (_, i) => {
        const time = frameTime((first + i) * every, axis.clock.frameRate);
        return { time, text: formatTimecode(time + 1e-9, axis.clock) };
      });
    }
    case 'beats': {
      // Beats that nobody could tell from each other are not even counted.
      if (pixelsPerSecond * noteLength(axis.tempo, '1/4') < leastBeat) return [];
      const lines = gridLines(axis.tempo, '1/4', from, to);
      const step = [1, axis.tempo.beats, 2 * axis.tempo.beats, 4 * axis.tempo.beats, 16 * axis.tempo.beats].find(
        (candidate) => lines.length / candidate <= most,
      );
      return lines
        .map(({ time }) => ({ time, text: barAndBeat(time, axis.tempo) }))
        .filter((_, i) => beatNumber(lines[i]!.time, axis.tempo) % (step ?? 64) === 0);
    }
  }
}

function beatNumber(time: number, tempo: Tempo): number {
  return Math.round((time - tempo.offset) / noteLength(tempo, '1/4'));
}

/** “3.2” is the second beat of the third bar. */
export function barAndBeat(time: number, tempo: Tempo): string {
  const beat = Math.floor((time - tempo.offset) / noteLength(tempo, '1/4') + 1e-6);
  const bar = Math.floor(beat / tempo.beats);
  return `${bar + 1}.${beat - bar * tempo.beats + 1}`;
}

/** How far the nudge keys move. */
export function nudgeLength(step: NudgeStep, axis: Pick<TimeAxis, 'clock' | 'sampleRate'>): number {
  switch (step) {
    case '10 ms':
      return 0.01;
    case '1 ms':
      return 0.001;
    case 'frame':
      return 1 / framesPerSecond(axis.clock.frameRate);
    case 'sample':
      return 1 / axis.sampleRate;
  }
}

/** The beginning of the picture frame nearest to a time. */
export function nearestFrame(time: number, clock: Clock): number {
  const frame = frameAt(time + 0.5 / framesPerSecond(clock.frameRate), clock.frameRate);
  return frameTime(frame, clock.frameRate);
}
