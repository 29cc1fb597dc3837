import type { Unit } from '../../units';

export type LinesShape = 'saw' | 'pulse' | 'triangle';

/** A slope may not be steeper: what corrects it would no longer be exact. */
const leastSkew = 0.01;

/** The skew of a triangle, as far as it may go. */
export function skewOf(width: Unit): Unit {
  return Math.max(leastSkew, Math.min(1 - leastSkew, width));
}

/** The two straight lines that one period of a wave consists of: from 0 to a bend, and from there to 1. */
export class WaveLines {
  /** All of them in this order: bend, shift, value and slope of both lines, jumps at the bend and at the end. */
  readonly numbers = new Float64Array(8);
  private shape = '';
  private width: Unit = NaN;

  get bend(): Unit {
    return this.numbers[0]!;
  }
  /** How far the period of the wave is shifted against theirs. */
  get shift(): Unit {
    return this.numbers[1]!;
  }
  get firstValue(): number {
    return this.numbers[2]!;
  }
  get firstSlope(): number {
    return this.numbers[3]!;
  }
  get secondValue(): number {
    return this.numbers[4]!;
  }
  get secondSlope(): number {
    return this.numbers[5]!;
  }
  /** By how much the value jumps at the bend, and at the end. */
  get jump(): number {
    return this.numbers[6]!;
  }
  get jumpBack(): number {
    return this.numbers[7]!;
  }

  set(shape: LinesShape, width: Unit): void {
    if (shape === this.shape && (width === this.width || shape === 'saw')) return;
    this.shape = shape;
    this.width = width;
    if (shape === 'saw') this.draw(0.5, 0, 0, 2, -2, 2, -2, 0);
    // A mean of nothing, whatever the width.
    else if (shape === 'pulse') this.draw(width, 0, 2 - 2 * width, 0, -2 * width, 0, -2, 2);
    else {
      const w = skewOf(width);
      this.draw(w, w / 2, -1, 2 / w, 1 + (2 * w) / (1 - w), -2 / (1 - w), 0, 0);
    }
  }

  private draw(
    bend: Unit,
    shift: Unit,
    firstValue: number,
    firstSlope: number,
    secondValue: number,
    secondSlope: number,
    jump: number,
    jumpBack: number,
  ): void {
    const { numbers } = this;
    numbers[0] = bend;
    numbers[1] = shift;
    numbers[2] = firstValue;
    numbers[3] = firstSlope;
    numbers[4] = secondValue;
    numbers[5] = secondSlope;
    numbers[6] = jump;
    numbers[7] = jumpBack;
  }
}
