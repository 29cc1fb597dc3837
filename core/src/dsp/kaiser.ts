/** Modified Bessel function of the first kind, order zero (power series). */
export function besselI0(x: number): number {
  let sum = 1;
  let term = 1;
  const quarter = (x * x) / 4;
  for (let k = 1; k < 200 && term > sum * 1e-18; k++) {
    term *= quarter / (k * k);
    sum += term;
  }
  return sum;
}

/**
 * Kaiser window at `position` from -1 to 1 (0 outside), Kaiser & Schafer 1980. `beta` trades side lobes for width: 11.5
 * leaves about -115 dB.
 */
export function kaiser(position: number, beta: number): number {
  const inside = 1 - position * position;
  return inside <= 0 ? 0 : besselI0(beta * Math.sqrt(inside)) / besselI0(beta);
}

/** sin(πx) / (πx), 1 at 0. */
export function sinc(x: number): number {
  if (Math.abs(x) < 1e-9) return 1;
  return Math.sin(Math.PI * x) / (Math.PI * x);
}
