import { fromAxis } from '../project/axis';
import type { Parameter, ParameterSet, ParameterValue, ParameterValues } from '../project/parameters';
import { resolveValues } from '../project/parameters';
import type { Frames } from '../units';
import { voiceStep } from './part';

/** Steps that a dial takes to its new value, so that nothing clicks. */
const glideSteps = 8;

/** What moves one parameter: a lane, tides, reins. */
export interface MovedParameter {
  readonly key: string;
  readonly parameter: Parameter;
  readonly reader: { at(frame: Frames): number; extremes(): readonly number[] };
}

/** The values of a part or a patch on their way: dials glide to where they are turned, and what moves is where its lanes have it. */
export class PartValues {
  /** Where they are at the end of the step. */
  readonly now: Record<string, ParameterValue>;
  private target: ParameterValues;
  private stored: ParameterValues;
  private moves: readonly MovedParameter[] = [];
  private gliding = 0;
  /** True when they changed in the step before. */
  moving = false;

  constructor(
    private readonly parameters: ParameterSet,
    stored: ParameterValues,
  ) {
    this.stored = stored;
    this.target = resolveValues(parameters, stored);
    this.now = { ...this.target };
  }

  apply(stored: ParameterValues, moves: readonly MovedParameter[]): void {
    // Values that a lane has left behind must go with it.
    if (stored !== this.stored || moves.length > 0 || this.moves.length > 0) {
      this.stored = stored;
      this.target = resolveValues(this.parameters, stored);
      this.gliding = glideSteps;
    }
    this.moves = moves;
  }

  /** Jumps to where everything is at a moment. */
  settle(frame: Frames): void {
    this.gliding = 0;
    this.moving = true;
    Object.assign(this.now, this.target);
    this.follow(frame);
  }

  /** Goes on by a step, at whose end `frame` lies. */
  step(frame: Frames): void {
    this.moving = this.gliding > 0 || this.moves.length > 0;
    if (!this.moving) return;
    if (this.gliding > 0) {
      for (const key in this.target) {
        const now = this.now[key]!;
        const target = this.target[key]!;
        this.now[key] = typeof now === 'number' && typeof target === 'number' ? now + (target - now) / this.gliding : target;
      }
      this.gliding--;
    }
    this.follow(frame);
  }

  private follow(frame: Frames): void {
    for (const { key, parameter, reader } of this.moves) {
      this.now[key] = parameter.kind === 'number' ? reader.at(frame) : fromAxis(parameter, reader.at(frame - voiceStep / 2));
    }
  }
}
