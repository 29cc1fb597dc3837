import type { Kernels } from '../dsp/compiled/kernels';
import { getKernels } from '../dsp/compiled/kernels';
import type { Frames, Ratio } from '../units';
import { copyPadded } from './audio';
import { halfTaps, kernel } from './sinc-kernel';

/** Weights for a ratio whose places between input samples come again after a few output samples. */
export interface ExactPhases {
  /** Output samples after which the places come again, and inputs that are passed by then. */
  readonly period: number;
  readonly advance: Frames;
  /** Row after row the weights of each phase, `taps` of them, a multiple of 4; the last ones may be 0. */
  readonly weights: Float64Array;
  readonly taps: number;
  /** Where each phase's sum begins, in inputs after the first of its period; the kernel's middle lies `reach` - 1 inputs later. */
  readonly offsets: Int32Array;
  readonly reach: Frames;
}

/** @param step inputs per output; `period` of them are a whole number */
export function exactPhases(step: Ratio, period: number): ExactPhases {
  const band = Math.min(1, 1 / step);
  const reach = Math.ceil(halfTaps / band);
  const taps = 4 * Math.ceil((2 * reach) / 4);
  const weights = new Float64Array(period * taps);
  const offsets = new Int32Array(period);
  for (let phase = 0; phase < period; phase++) {
    const position = phase * step;
    const offset = Math.floor(position + 1e-9);
    offsets[phase] = offset;
    const fraction = position - offset;
    const row = weights.subarray(phase * taps, phase * taps + 2 * reach);
    let sum = 0;
    for (let tap = 0; tap < row.length; tap++) sum += row[tap] = kernel(tap - reach + 1 - fraction, band);
    for (let tap = 0; tap < row.length; tap++) row[tap]! /= sum;
  }
  return { period, advance: Math.round(step * period), weights, taps, offsets, reach };
}

/** `length` outputs from frame `start` of the input on; outside the input is silence. */
export function interpolateExactly(input: Float32Array, phases: ExactPhases, start: Frames, length: Frames): Float32Array {
  const kernels = getKernels();
  return kernels ? interpolateCompiled(input, phases, start, length, kernels) : interpolatePlain(input, phases, start, length);
}

/** Output frames per call of the compiled kernel, about; keeps its memory small whatever the length. */
const chunkFrames: Frames = 16_384;

function interpolateCompiled(input: Float32Array, phases: ExactPhases, start: Frames, length: Frames, kernels: Kernels): Float32Array {
  const { period, advance, weights, taps, offsets, reach } = phases;
  const periods = Math.max(1, Math.floor(chunkFrames / period));
  const inputFrames = 4 * Math.ceil((periods * advance + taps + 4) / 4);
  const place = (bytes: number): number => 16 * Math.ceil(bytes / 16);
  const sizes = [place(weights.byteLength), place(offsets.byteLength), 4 * inputFrames, 4 * periods * period] as const;
  const block = kernels.allocate(sizes.reduce((sum, size) => sum + size));
  const weightsAt = block.at;
  const offsetsAt = weightsAt + sizes[0];
  const inputAt = offsetsAt + sizes[1];
  const outputAt = inputAt + sizes[2];
  kernels.doubles().set(weights, weightsAt / 8);
  kernels.integers().set(offsets, offsetsAt / 4);
  const memory = kernels.samples();
  const output = new Float32Array(length);
  for (let done = 0, first = start - reach + 1; done < length; done += periods * period, first += periods * advance) {
    const count = Math.min(periods * period, length - done);
    copyPadded(input, first, memory.subarray(inputAt / 4, inputAt / 4 + inputFrames));
    kernels.convertRate(inputAt, weightsAt, offsetsAt, outputAt, taps, period, advance, count);
    output.set(memory.subarray(outputAt / 4, outputAt / 4 + count), done);
  }
  kernels.release(block);
  return output;
}

/** One output sample after another: the reference for the compiled kernel. */
export function interpolatePlain(input: Float32Array, phases: ExactPhases, start: Frames, length: Frames): Float32Array {
  const { period, advance, weights, taps, offsets, reach } = phases;
  const output = new Float32Array(length);
  for (let i = 0; i < length; i++) {
    const phase = i % period;
    const base = start + offsets[phase]! + ((i - phase) / period) * advance - reach + 1;
    const from = Math.max(0, -base);
    const to = Math.min(taps, input.length - base);
    let sum = 0;
    for (let tap = from, k = phase * taps + from; tap < to; tap++, k++) sum += input[base + tap]! * weights[k]!;
    output[i] = sum;
  }
  return output;
}
