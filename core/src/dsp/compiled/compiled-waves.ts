import type { Frames } from '../../units';
import type { KernelBlock, Kernels } from './kernels';

/** The most frames at a time. */
export const longestWave: Frames = 64;

/** Waves as compiled (see core/kernels/waves.ts). */
export interface CompiledWaves {
  /**
   * A wave of two straight lines.
   * @param block eight numbers that describe it, and behind them frames on their way
   * @param read where the next of those frames lies
   * @returns the place in its period behind them
   */
  lines(into: Float64Array, from: Frames, to: Frames, place: number, increment: number, block: KernelBlock, read: number): number;
  /** A sine, moved by `moved` if that is given. */
  sine(into: Float64Array, from: Frames, to: Frames, place: number, increment: number, step: number, moved?: Float64Array): void;
}

/** How many numbers describe a wave of lines. */
export const lineNumbers = 8;

/**
 * sin 2πt / (t · (t² − ¼)) as a polynomial in t², from its lowest term up, fitted at the zeros of a Chebyshev polynomial: within half a period of 0 the sine is
 * off by less than -200 dB. Behind them, ¼.
 */
const sineSeries = [
  -25.13274122804324, 64.83584378138825, -67.07760387851553, 38.51254453513957, -14.178227995667143, 3.6187208323201547, -0.609494062068461,
  0.25,
] as const;

let waves: CompiledWaves | undefined;

/** @param tables corrections of steps and of corners, each in rows */
export function compiledWaves(kernels: Kernels, tables: () => readonly [Float64Array, Float64Array]): CompiledWaves {
  return (waves ??= makeWaves(kernels, tables()));
}

function makeWaves(kernels: Kernels, tables: readonly [Float64Array, Float64Array]): CompiledWaves {
  const [steps, corners] = tables.map((table) => {
    const block = kernels.allocate(table.length * 8);
    kernels.doubles().set(table, block.at / 8);
    return block;
  });
  const output = kernels.allocate(longestWave * 8);
  const phases = kernels.allocate(longestWave * 8);
  const series = kernels.allocate(2 * 8 * sineSeries.length);
  sineSeries.forEach((factor, n) => kernels.doubles().fill(factor, series.at / 8 + 2 * n, series.at / 8 + 2 * n + 2));
  let outputView = new Float64Array(0);
  let phaseView = outputView;
  const views = (): void => {
    // Memory that has grown leaves views of no length behind.
    if (outputView.length > 0) return;
    outputView = kernels.doubles().subarray(output.at / 8, output.at / 8 + longestWave);
    phaseView = kernels.doubles().subarray(phases.at / 8, phases.at / 8 + longestWave);
  };
  const give = (into: Float64Array, from: Frames, to: Frames): void => {
    views();
    if (to - from === longestWave) into.set(outputView, from);
    else for (let i = from; i < to; i++) into[i] = outputView[i - from]!;
  };
  return {
    lines(into, from, to, place, increment, block, read) {
      const line = block.at + 8 * (lineNumbers + read);
      const next = kernels.drawLines(output.at, to - from, place, increment, block.at, line, steps!.at, corners!.at);
      give(into, from, to);
      return next;
    },
    sine(into, from, to, place, increment, step, moved) {
      views();
      if (moved) for (let i = from; i < to; i++) phaseView[i - from] = moved[i]!;
      kernels.drawSine(output.at, to - from, place, increment, step, moved ? phases.at : 0, series.at);
      give(into, from, to);
    },
  };
}
