import { choice, count, factor, semitones, share, toggle } from '../../project/parameters';
import type { Frames, Hertz, Semitones } from '../../units';
import { definePart } from '../define-part';
import { voiceStep } from '../part';
import type { WaveCourse } from './wave';
import { Wave, waveShapes } from './wave';

const shaped = { of: 'shape', values: ['triangle', 'pulse'] } as const;
const most = 9;
const stacked = { of: 'stack', values: [2, 3, 4, 5, 6, 7, 8, 9] } as const;

/** Band-limited waves, one or a stack of them detuned against each other; their phase can be moved by other parts, and a master can sync them. */
export const oscillator = definePart({
  id: 'oscillator',
  label: 'Oscillator',
  purpose: 'A steady wave at a pitch: the tone of a beacon, the sub under a hit, a motor.',
  modulated: true,
  own: {
    shape: { ...choice('Wave', waveShapes, 'sine'), builds: true },
    width: { ...share({ label: 'Width', min: 0.001, max: 0.999, default: 0.5 }), needs: shaped },
    phase: share({ label: 'Starts at', default: 0 }),
    synced: { ...toggle('Sync', false), builds: true },
    sync: { ...factor({ label: 'Sync ratio', unit: '×', min: 1, max: 16, default: 2 }), needs: 'synced' },
    stack: { ...count({ label: 'Stacked', min: 1, max: most, default: 1 }), builds: true },
    spread: { ...semitones({ label: 'Spread', min: 0, max: 2, default: 0.2 }), needs: stacked },
    stackWidth: { ...share({ label: 'Stack width', default: 0.7 }), needs: stacked },
  },
  channels: ({ stack }) => (stack > 1 ? 2 : 1),
  createSource({ sampleRate, values: { stack, shape, synced } }) {
    const waves = Array.from({ length: stack }, () => new Wave(waveShapes.find((each) => each === shape) ?? 'sine', synced));
    /** How much of the spread each takes, -1 to 1. */
    const away = waves.map((_, i) => (stack === 1 ? 0 : (2 * i) / (stack - 1) - 1));
    const detune = new Float64Array(stack);
    const course: WaveCourse = { increment: 0, incrementStep: 0, width: 0, widthStep: 0, sync: 1, syncStep: 0 };
    /** The course of one of a stack, which is off by its detuning. */
    const own: WaveCourse = { ...course };
    const wave = new Float64Array(voiceStep);
    let stackWidth = 0;
    const periods = (frequency: Hertz): number => Math.min(0.5, frequency / sampleRate);
    const take = (spread: Semitones): void => {
      for (let w = 0; w < stack; w++) detune[w] = Math.pow(2, (away[w]! * spread) / 12);
    };
    const fill = (w: number, into: Float64Array, from: Frames, to: Frames, moved: Float64Array | undefined): void => {
      Object.assign(own, course);
      own.increment = Math.min(0.5, course.increment * detune[w]!);
      own.incrementStep *= detune[w]!;
      waves[w]!.fill(into, from, to, moved, own);
    };
    return {
      start({ random, copy }, { width, sync, spread, phase, ...values }, frequency) {
        Object.assign(course, { increment: periods(frequency), incrementStep: 0, width, widthStep: 0, sync, syncStep: 0 });
        ({ stackWidth } = values);
        take(spread);
        for (const [w, each] of waves.entries()) {
          // Waves of a stack or in unison that began together would all meet in one peak.
          const chance = random.next();
          each.start(phase + (stack > 1 || copy > 0 ? chance : 0));
          // What lags begins so much earlier.
          if (each.lag > 0) fill(w, wave, 0, each.lag, undefined);
        }
      },
      aim(values, frequency, frames) {
        course.incrementStep = (periods(frequency) - course.increment) / frames;
        course.widthStep = (values.width - course.width) / frames;
        course.syncStep = (values.sync - course.sync) / frames;
        ({ stackWidth } = values);
        if (stack > 1) take(values.spread);
      },
      render({ left, right, phase }, from, to) {
        if (stack === 1) waves[0]!.fill(left, from, to, phase, course);
        else {
          left.fill(0, from, to);
          right.fill(0, from, to);
          for (let w = 0; w < stack; w++) {
            fill(w, wave, from, to, phase);
            addPanned(wave, left, right, from, to, away[w]! * stackWidth, 1 / Math.sqrt(stack));
          }
        }
        course.increment += (to - from) * course.incrementStep;
        course.width += (to - from) * course.widthStep;
        course.sync += (to - from) * course.syncStep;
      },
    };
  },
});

/** Adds a wave to both sides; in the middle it is as loud on each as it is. */
function addPanned(wave: Float64Array, left: Float64Array, right: Float64Array, from: Frames, to: Frames, pan: number, gain: number): void {
  const toLeft = gain * Math.sqrt(1 - pan);
  const toRight = gain * Math.sqrt(1 + pan);
  for (let i = from; i < to; i++) {
    left[i] = left[i]! + toLeft * wave[i]!;
    right[i] = right[i]! + toRight * wave[i]!;
  }
}
