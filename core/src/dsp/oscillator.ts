import type { Hertz, Unit } from '../units';

export const modulationShapes = ['sine', 'triangle', 'saw up', 'saw down', 'square'] as const;

/** Value of a modulation shape from -1 to 1 at a place of its period, 0 to 1; all begin at 0 or at their edge. */
export function shapeAt(shape: string, place: Unit): number {
  switch (shape) {
    case 'triangle':
      return place < 0.25 ? 4 * place : place < 0.75 ? 2 - 4 * place : 4 * place - 4;
    case 'saw up':
      return 2 * place - 1;
    case 'saw down':
      return 1 - 2 * place;
    case 'square':
      return place < 0.5 ? 1 : -1;
    default:
      return Math.sin(2 * Math.PI * place);
  }
}

/** Counts the periods of an oscillation; its frequency may change from frame to frame. */
export class Phase {
  place: Unit = 0;

  reset(): void {
    this.place = 0;
  }

  /** Goes on by one frame and returns the place before. */
  next(frequency: Hertz, sampleRate: Hertz): Unit {
    const { place } = this;
    const moved = place + frequency / sampleRate;
    this.place = moved - Math.floor(moved);
    return place;
  }
}
