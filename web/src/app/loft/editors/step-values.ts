import { inject, Injectable } from '@angular/core';
import type { EffectStep, ParameterValue } from '@tangled-choir/core';
import { effectsById, mixParameter, ownerAddress, stepsOf } from '@tangled-choir/core';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';
import type { Parametered } from './property-rows';
import { PropertyRows } from './property-rows';

/** Reads and sets the parameters of the steps in the selected chain. */
@Injectable()
export class StepValues {
  private readonly turning = inject(Turning);
  private readonly properties = inject(PropertyRows);
  private readonly workbench = inject(WorkbenchStore);

  /** All values of a step, defaults included; those that are automated as they are at the playhead. */
  read(step: EffectStep): Record<string, ParameterValue> {
    const parameters = effectsById.get(step.effect)?.parameters;
    return parameters ? this.properties.read({ address: this.addressOf(step), parameters, stored: this.current(step).parameters }) : {};
  }

  /** A step with its parameters and the share of it that is heard. */
  withMix(step: EffectStep): Parametered {
    const { parameters, mix } = this.current(step);
    return {
      address: this.addressOf(step),
      parameters: { ...effectsById.get(step.effect)?.parameters, mix: mixParameter },
      stored: { ...parameters, mix },
    };
  }

  isAutomated(step: EffectStep, key: string): boolean {
    return this.turning.laneOf(`${this.addressOf(step)}/${key}`) !== undefined;
  }

  /** The step as the document has it now: of two quick edits, the second builds on the first. */
  private current(step: EffectStep): EffectStep {
    return stepsOf(this.workbench.outerChain()).find(({ id }) => id === step.id) ?? step;
  }

  private addressOf(step: EffectStep): string {
    return `${ownerAddress(this.workbench.owner())}/chain/${step.id}`;
  }

  set(step: EffectStep, values: Readonly<Record<string, ParameterValue>>, gesture?: string): void {
    const sound = this.workbench.sound();
    const effect = effectsById.get(step.effect);
    const [first] = Object.keys(values);
    if (!sound || !effect || !first) return;
    const addresses = Object.fromEntries(Object.entries(values).map(([key, value]) => [`${this.addressOf(step)}/${key}`, value]));
    const label = first === 'mix' ? 'Mix' : (effect.parameters[first]?.label ?? first);
    this.turning.turn(addresses, `${effect.label}: ${label.toLowerCase()}`, gesture);
  }
}
