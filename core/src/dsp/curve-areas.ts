/** Antiderivatives of the curves that are looked up in tables by the compiled shaper. */

/** ln cosh x, which grows like |x| where cosh itself would overflow: of tanh. */
export function logCosh(x: number): number {
  const size = Math.abs(x);
  return size + Math.log1p(Math.exp(-2 * size)) - Math.LN2;
}

/** Of sin(πx / 2), which turns back at full scale, over and over. */
export function foldedArea(x: number): number {
  return (-Math.cos((x * Math.PI) / 2) * 2) / Math.PI;
}

/** By how much the warm curve is out of the middle. */
export const warmBias = 0.6;
