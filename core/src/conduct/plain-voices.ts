import { betweenDensity, betweenReach, betweenTaps } from '../dsp/fractional-read';
import type { Frames } from '../units';
import type { VoiceBench } from './voice-bench';
import { benchFrames, stateOf, windowLength } from './voice-bench';

/** A bench without WebAssembly: the same arithmetic, its sums in double precision. */
export function plainBench(): VoiceBench {
  const bench = {
    state: new Float64Array(stateOf.length),
    first: new Float32Array(windowLength),
    second: new Float32Array(windowLength),
    left: new Float32Array(benchFrames),
    right: new Float32Array(benchFrames),
  };
  return { ...bench, play: (...how) => playPlain(bench, ...how) };
}

function playPlain(
  { state, first, second, left, right }: Omit<VoiceBench, 'play'>,
  base: number,
  stereo: boolean,
  from: Frames,
  frames: Frames,
  filtered: boolean,
): void {
  const held = state.subarray(stateOf.held, stateOf.held + 4);
  const moving = state.subarray(stateOf.left, stateOf.left + 5);
  const steps = state.subarray(stateOf.leftStep, stateOf.leftStep + 5);
  for (let i = from; i < from + frames; i++) {
    const place = state[stateOf.place]!;
    const [l, r, ratio, g, fade] = [moving[0]!, moving[1]!, moving[2]!, moving[3]!, moving[4]!];
    let one = between(first, place, base);
    let two = stereo ? between(second, place, base) : one;
    if (filtered) {
      one = lowPass(held, 0, one, g);
      two = stereo ? lowPass(held, 2, two, g) : one;
    }
    left[i] = left[i]! + one * l * fade;
    right[i] = right[i]! + two * r * fade;
    state[stateOf.place] = place + ratio;
    for (let n = 0; n < 5; n++) moving[n] = moving[n]! + steps[n]!;
  }
}

function between(window: Float32Array, place: number, base: number): number {
  const whole = Math.floor(place);
  const share = place - whole;
  if (share === 0) return window[whole - base]!;
  const taps = betweenTaps();
  const row = Math.floor(share * betweenDensity + 0.5) * 2 * betweenReach;
  const start = whole - base - betweenReach + 1;
  let sum = 0;
  for (let tap = 0; tap < 2 * betweenReach; tap++) sum += window[start + tap]! * taps[row + tap]!;
  return sum;
}

/** A state-variable filter with trapezoidal integrators (Zavalishin, “The Art of VA Filter Design”, 2012, ch. 4), Q of 1/√2. */
export function lowPass(held: Float64Array, at: number, sample: number, g: number): number {
  const high = (sample - held[at + 1]! - (Math.SQRT2 + g) * held[at]!) / (1 + g * (g + Math.SQRT2));
  const band = g * high + held[at]!;
  held[at] = g * high + band;
  const low = g * band + held[at + 1]!;
  held[at + 1] = g * band + low;
  return low;
}
