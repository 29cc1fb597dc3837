import type { LfoShape } from '../automation/lfo-shape';
import { createRandom } from '../dsp/random';
import type { Tide } from '../project/schema';

type Point = Tide['points'][number];

const sinePoints = 16;
const randomPoints = 8;
/** Share of a round in which a saw or a square jumps. */
const jump = 0.004;

const point = (at: number, value: number): Point => ({ at, value, bend: 0 });

/** Points of a tide in the form of a shape: one round of it, from -1 to 1. */
export function shapePoints(shape: LfoShape, seed = 1): Point[] {
  switch (shape) {
    case 'sine':
      return Array.from({ length: sinePoints }, (_, i) => point(i / sinePoints, Math.sin((2 * Math.PI * i) / sinePoints)));
    case 'triangle':
      return [point(0, 0), point(0.25, 1), point(0.75, -1)];
    case 'saw up':
      return [point(0, -1), point(1 - jump, 1)];
    case 'saw down':
      return [point(0, 1), point(1 - jump, -1)];
    case 'square':
      return [point(0, 1), point(0.5 - jump, 1), point(0.5, -1), point(1 - jump, -1)];
    case 'random': {
      const random = createRandom(seed);
      return Array.from({ length: randomPoints }, (_, i) => point(i / randomPoints, 2 * random.next() - 1));
    }
  }
}
