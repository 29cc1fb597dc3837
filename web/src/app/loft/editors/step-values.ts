import { inject, Injectable } from '@angular/core';
import type { EffectStep, Parameter, ParameterValue } from '@tangled-choir/core';
import { axisOf, effectsById, fromAxis, mixParameter, resolveValues, stepAddress, stepsOf, toAxis } from '@tangled-choir/core';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';

/** Reads and sets the parameters of the steps in the selected chain. */
@Injectable()
export class StepValues {
  private readonly turning = inject(Turning);
  private readonly workbench = inject(WorkbenchStore);

  /** All values of a step, defaults included; those that are automated as they are at the playhead. */
  read(step: EffectStep): Record<string, ParameterValue> {
    const effect = effectsById.get(step.effect);
    if (!effect) return {};
    const values = resolveValues(effect.parameters, this.current(step).parameters);
    for (const [key, parameter] of Object.entries(effect.parameters)) {
      const axis = this.isAutomated(step, key) ? axisOf(parameter) : undefined;
      if (axis) values[key] = fromAxis(parameter, this.turning.valueNow(this.addressOf(step, key), toAxis(parameter, values[key]!), axis));
    }
    return values;
  }

  /** The share of the processed sound. */
  readMix(step: EffectStep): number {
    return this.turning.valueNow(this.addressOf(step, 'mix'), this.current(step).mix, mixParameter);
  }

  isAutomated(step: EffectStep, key: string): boolean {
    return this.turning.laneOf(this.addressOf(step, key)) !== undefined;
  }

  /** Who else moves it, for its tooltip, and where it is heard now; nothing when nobody pulls at it. */
  pulled(step: EffectStep, key: string, parameter: Parameter): { readonly by: string; readonly now: number } | undefined {
    const address = this.addressOf(step, key);
    const names = this.turning.pulledBy(address);
    const axis = axisOf(parameter);
    if (names.length === 0 || !axis) return undefined;
    return { by: names.join(', '), now: this.turning.heardNow(address, storedPlace(step, key, parameter), axis) };
  }

  /** Between which values it moves; nothing while it stands still. */
  reach(step: EffectStep, key: string, parameter: Parameter): { readonly low: number; readonly high: number } | undefined {
    const axis = axisOf(parameter);
    return axis && this.turning.reachOf(this.addressOf(step, key), storedPlace(step, key, parameter), axis);
  }

  /** The step as the document has it now: of two quick edits, the second builds on the first. */
  private current(step: EffectStep): EffectStep {
    return stepsOf(this.workbench.outerChain()).find(({ id }) => id === step.id) ?? step;
  }

  addressOf(step: EffectStep, key: string): string {
    return stepAddress(this.workbench.owner(), step.id, key);
  }

  set(step: EffectStep, values: Readonly<Record<string, ParameterValue>>, gesture?: string): void {
    const sound = this.workbench.sound();
    const effect = effectsById.get(step.effect);
    const [first] = Object.keys(values);
    if (!sound || !effect || !first) return;
    const addresses = Object.fromEntries(Object.entries(values).map(([key, value]) => [this.addressOf(step, key), value]));
    const label = first === 'mix' ? 'Mix' : (effect.parameters[first]?.label ?? first);
    this.turning.turn(addresses, `${effect.label}: ${label.toLowerCase()}`, gesture);
  }
}

/** Where its dial has a parameter on its axis. */
function storedPlace(step: EffectStep, key: string, parameter: Parameter): number {
  return toAxis(parameter, key === 'mix' ? step.mix : (step.parameters[key] ?? parameter.default));
}
