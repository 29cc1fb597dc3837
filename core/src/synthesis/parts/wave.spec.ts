import fc from 'fast-check';
import { stepDelay } from '../../dsp/band-limited-steps';
import { getKernels } from '../../dsp/compiled/kernels';
import { besselI0, sinc } from '../../dsp/kaiser';
import { createRandom } from '../../dsp/random';
import { voiceStep } from '../part';
import type { WaveCourse, WaveShape } from './wave';
import { Wave, waveShapes } from './wave';

const still: WaveCourse = { increment: 0.01, incrementStep: 0, width: 0.3, widthStep: 0, sync: 1, syncStep: 0 };

/** A wave in runs of some lengths, one after the other. */
function draw(shape: WaveShape, course: WaveCourse, compiled: boolean, runs: readonly number[], between?: (run: number) => void): number[] {
  const wave = new Wave(shape, false, compiled);
  wave.start(0.2);
  const buffer = new Float64Array(voiceStep);
  return runs.flatMap((frames, run) => {
    between?.(run);
    wave.fill(buffer, voiceStep - frames, voiceStep, undefined, course);
    return [...buffer.subarray(voiceStep - frames)];
  });
}
const farthest = (a: readonly number[], b: readonly number[]): number =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i]!)), a.length === b.length ? 0 : NaN);

describe('a wave drawn by a kernel', () => {
  it('is the reference, at every frequency, width and length of run', () => {
    expect(getKernels()).toBeDefined();
    fc.assert(
      fc.property(
        fc.constantFrom(...waveShapes),
        fc.double({ min: 1e-5, max: 0.5, noNaN: true }),
        fc.double({ min: 0.001, max: 0.999, noNaN: true }),
        fc.array(fc.integer({ min: 1, max: voiceStep }), { minLength: 1, maxLength: 30 }),
        (shape, increment, width, runs) => {
          const course = { ...still, increment, width };
          // The reference reads its sine out of a table that is off by -130 dB.
          expect(farthest(draw(shape, course, true, runs), draw(shape, course, false, runs))).toBeLessThan(shape === 'sine' ? 4e-7 : 2e-9);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('is a sine to -180 dB, and where its frequency moves, too', () => {
    const buffer = new Float64Array(voiceStep);
    const wave = new Wave('sine', false);
    wave.start(0.1);
    let place = 0.1;
    let increment = 0.003;
    for (let run = 0; run < 50; run++) {
      const incrementStep = (run % 2 === 0 ? 1 : -1) * 4e-5;
      wave.fill(buffer, 0, voiceStep, undefined, { ...still, increment, incrementStep });
      for (let k = 0; k < voiceStep; k++) {
        expect(Math.abs(buffer[k]! - Math.sin(2 * Math.PI * (place + k * increment + (k * (k - 1) * incrementStep) / 2)))).toBeLessThan(
          1e-9,
        );
      }
      place += voiceStep * increment + (voiceStep * (voiceStep - 1) * incrementStep) / 2;
      increment += voiceStep * incrementStep;
    }
  });

  it('goes on where the memory of the kernels grows', () => {
    const runs = Array.from({ length: 20 }, () => voiceStep);
    const kernels = getKernels()!;
    const held: unknown[] = [];
    const grows = (): void => void held.push(kernels.allocate(2 * kernels.samples().length * 4));
    for (const shape of waveShapes) {
      const disturbed = draw(shape, still, true, runs, (run) => {
        if (run === 7) grows();
      });
      expect(farthest(disturbed, draw(shape, still, true, runs))).toBe(0);
    }
  });

  it('draws one run the same in one piece and in two of which the first is too short for a kernel', () => {
    for (const shape of waveShapes) {
      const whole = draw(shape, still, true, [voiceStep, voiceStep]);
      const parts = draw(shape, still, true, [3, voiceStep - 3, 5, voiceStep - 5]);
      expect(farthest(whole, parts)).toBeLessThan(4e-7);
    }
  });
});

describe('a wave that others move', () => {
  const frames = 400;
  const course: WaveCourse = { ...still, increment: 0.02 };

  /** Its frames, without the lag. */
  function drawMoved(shape: WaveShape, width: number, moved: Float64Array): number[] {
    const wave = new Wave(shape, false);
    wave.start(0.2);
    const drawn: number[] = [];
    for (let at = 0; at < frames; at += voiceStep) {
      const count = Math.min(voiceStep, frames - at);
      const buffer = new Float64Array(voiceStep);
      wave.fill(buffer, 0, count, moved.subarray(at, at + count), { ...course, width });
      drawn.push(...buffer.subarray(0, count));
    }
    return drawn.slice(stepDelay);
  }

  /** The plain wave, its phase going straight from frame to frame, behind a low-pass whose kernel is windowed by Kaiser's. */
  function filtered(shape: WaveShape, width: number, moved: Float64Array): number[] {
    const pieces = 128;
    const phase = (time: number): number => {
      const frame = Math.floor(time);
      const move = moved[frame]! + (moved[frame + 1]! - moved[frame]!) * (time - frame);
      return 0.2 + time * course.increment + move;
    };
    const plain = (place: number): number => {
      const at = (shape === 'triangle' ? place + width / 2 : place) - Math.floor(shape === 'triangle' ? place + width / 2 : place);
      if (shape === 'saw') return at < 0.5 ? 2 * at : 2 * at - 2;
      if (shape === 'pulse') return (at < width ? 1 : -1) - (2 * width - 1);
      return at < width ? (2 * at) / width - 1 : 1 - (2 * (at - width)) / (1 - width);
    };
    const wave = Float64Array.from({ length: (frames - 1) * pieces }, (_, i) => plain(phase((i + 0.5) / pieces)));
    const kernel = Float64Array.from({ length: 2 * stepDelay * pieces }, (_, i) => {
      const at = (i + 0.5) / pieces - stepDelay;
      return sinc(at * 0.905) * besselI0(9.2 * Math.sqrt(1 - (at / stepDelay) ** 2));
    });
    const sum = kernel.reduce((all, value) => all + value, 0);
    return Array.from({ length: frames - 2 * stepDelay }, (_, n) => {
      let value = 0;
      for (let i = 0; i < kernel.length; i++) value += kernel[i]! * wave[n * pieces + i]!;
      return value / sum;
    });
  }

  it('is what a low-pass leaves of it, however far it is moved', () => {
    const random = createRandom(5);
    for (const depth of [0.05, 0.6, 3.9])
      for (const [shape, width] of [
        ['saw', 0.5],
        ['pulse', 0.3],
        ['triangle', 0.5],
        ['triangle', 0.05],
      ] as const) {
        const moved = Float64Array.from({ length: frames }, () => depth * (2 * random.next() - 1));
        const [drawn, wanted] = [drawMoved(shape, width, moved), filtered(shape, width, moved)];
        // Up to its first frame the wave is not there.
        for (let n = stepDelay; n < wanted.length; n++) expect(Math.abs(drawn[n]! - wanted[n - stepDelay]!)).toBeLessThan(0.06);
      }
  });

  it('stays within what a low-pass can make of its height, whatever moves it', () => {
    const random = createRandom(6);
    for (const depth of [0.01, 0.3, 1, 5, 300, 3e5])
      for (const shape of waveShapes)
        for (const width of [0.001, 0.5, 0.999]) {
          const moved = Float64Array.from({ length: frames }, () => depth * (2 * random.next() - 1));
          for (const value of drawMoved(shape, width, moved)) expect(Math.abs(value)).toBeLessThan(3.5);
        }
  });
});
