import { createRandom } from '../dsp/random';
import type { NumberParameter } from '../project/parameters';
import { placeOfValue, valueAtPlace } from '../project/parameters';
import type { AutomationPoint } from '../project/schema';
import type { Hertz, Stretch, Unit } from '../units';
import { thinPoints } from './point-edits';

export const lfoShapes = ['sine', 'triangle', 'saw up', 'saw down', 'square', 'random'] as const;
export type LfoShape = (typeof lfoShapes)[number];

export interface LfoSettings {
  readonly shape: LfoShape;
  /** Rate at the beginning and at the end of the stretch; it changes by equal factors in equal times. */
  readonly startRate: Hertz;
  readonly endRate: Hertz;
  /** The values between which it swings. */
  readonly low: number;
  readonly high: number;
  /** Share of a period by which the first one is already over. */
  readonly phase: Unit;
  readonly seed: number;
}

const samplesPerPeriod = 48;
const mostSamples = 60_000;
/** Time in which a saw or a square jumps. */
const jump = 1e-3;

/** Height of a shape, 0 to 1, at `turn` of its period; `turn` counts whole periods too. */
function shapeAt(shape: LfoShape, turn: number, steps: readonly Unit[]): Unit {
  const at = turn - Math.floor(turn);
  switch (shape) {
    case 'sine':
      return 0.5 - 0.5 * Math.cos(2 * Math.PI * at);
    case 'triangle':
      return 1 - Math.abs(2 * at - 1);
    case 'saw up':
      return at;
    case 'saw down':
      return 1 - at;
    case 'square':
      return at < 0.5 ? 0 : 1;
    case 'random': {
      // From one drawn height to the next along half a cosine.
      const from = steps[Math.floor(turn)] ?? 0.5;
      const to = steps[Math.floor(turn) + 1] ?? 0.5;
      return from + (to - from) * (0.5 - 0.5 * Math.cos(Math.PI * at));
    }
  }
}

/** Periods since the beginning at `share` of a stretch of `seconds`: the integral of a rate that rises or falls exponentially. */
export function turnsAt(share: Unit, seconds: number, startRate: Hertz, endRate: Hertz): number {
  const growth = Math.log(endRate / startRate);
  const mean = Math.abs(growth) < 1e-9 ? share : Math.expm1(growth * share) / growth;
  return startRate * seconds * mean;
}

/**
 * Points that draw a low-frequency oscillation over a stretch of a lane, on the parameter's own scale. Throws RangeError when there
 * would be more periods than a lane can hold.
 */
export function lfoPoints(parameter: NumberParameter, { from, to }: Stretch, settings: LfoSettings): AutomationPoint[] {
  const { shape, startRate, endRate, phase } = settings;
  const seconds = to - from;
  const total = turnsAt(1, seconds, startRate, endRate);
  const count = Math.max(16, Math.ceil(total * samplesPerPeriod));
  if (count > mostSamples)
    throw new RangeError(`That would be ${Math.round(total)} periods; at most ${mostSamples / samplesPerPeriod} can be drawn at once.`);
  const random = createRandom(settings.seed);
  const steps = Array.from({ length: Math.ceil(total + phase) + 2 }, () => random.next());
  const low = placeOfValue(parameter, settings.low);
  const high = placeOfValue(parameter, settings.high);
  const point = (share: Unit, turn: number): AutomationPoint => ({
    time: from + share * seconds,
    value: valueAtPlace(parameter, low + (high - low) * shapeAt(shape, turn, steps)),
    bend: 0,
  });
  const points: AutomationPoint[] = [];
  let last = phase;
  for (let i = 0; i <= count; i++) {
    const share = i / count;
    const turn = phase + turnsAt(share, seconds, startRate, endRate);
    const end = i === count;
    // A jump at the very end is not taken: the last period ends as high as it got.
    const corner = end && cornerBetween(shape, turn - 1e-6, turn) !== undefined ? undefined : cornerBetween(shape, last, turn);
    // A corner lies at its own moment, not at the next sample; a jump has a point on either side of it.
    if (corner !== undefined) {
      const at = (i - 1 + (corner - last) / (turn - last)) / count;
      const gap = shape === 'triangle' ? 0 : jump / 2 / seconds;
      if (gap > 0) points.push(point(Math.max(0, at - gap), corner - 1e-9));
      points.push(point(Math.min(1, at + gap), corner + 1e-9));
    }
    if (corner === undefined || turn > corner + 1e-9) points.push(point(share, end ? turn - 1e-6 : turn));
    last = turn;
  }
  const ordered = points.sort((a, b) => a.time - b.time);
  return thinPoints(ordered, parameter, 0.002);
}

/** The moment between two samples at which a shape bends sharply or jumps, counted in periods. */
function cornerBetween(shape: LfoShape, from: number, to: number): number | undefined {
  if (shape === 'sine' || shape === 'random') return undefined;
  const every = shape === 'triangle' || shape === 'square' ? 0.5 : 1;
  const corner = Math.floor(to / every) * every;
  return corner > from && corner <= to ? corner : undefined;
}
