import { inject, Injectable } from '@angular/core';
import type { EffectStep, ParameterValue } from '@tangled-choir/core';
import { effectsById, resolveValues, stepAddress } from '@tangled-choir/core';
import { DocumentStore } from '../state/document.store';
import { WorkbenchStore } from '../state/workbench.store';

/** Reads and sets the parameters of the steps in the selected chain. */
@Injectable({ providedIn: 'root' })
export class StepValues {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);

  /** All values of a step, defaults included. */
  read(step: EffectStep): Record<string, ParameterValue> {
    const effect = effectsById.get(step.effect);
    return effect ? resolveValues(effect.parameters, step.parameters) : {};
  }

  set(step: EffectStep, values: Readonly<Record<string, ParameterValue>>, gesture?: string): void {
    const sound = this.workbench.sound();
    const effect = effectsById.get(step.effect);
    const [first] = Object.keys(values);
    if (!sound || !effect || !first) return;
    const addresses = Object.fromEntries(
      Object.entries(values).map(([key, value]) => [stepAddress(this.workbench.owner(), step.id, key), value]),
    );
    const label = first === 'mix' ? 'Mix' : (effect.parameters[first]?.label ?? first);
    this.document.edit('setValues', { sound: sound.id, values: addresses, label: `${effect.label}: ${label.toLowerCase()}` }, gesture);
  }
}
