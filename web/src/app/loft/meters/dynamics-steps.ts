import type { EffectStep, Role, Sound } from '@tangled-choir/core';
import { effectsById, stepsOf } from '@tangled-choir/core';

/** A step that takes level away, and where it lies. */
export interface DynamicsStep {
  readonly step: EffectStep;
  readonly label: string;
  /** Whose chain it is in. */
  readonly owner: { readonly kind: 'layer' | 'bus' | 'sound'; readonly id: string; readonly name: string; readonly role: Role | undefined };
  /** The branch of a host that it lies in. */
  readonly branch: string | undefined;
}

/** All steps of a sound that can reduce gain, also those within hosts, in the order of layers, buses and the whole. */
export function dynamicsSteps(sound: Sound): DynamicsStep[] {
  const owners = [
    ...sound.layers.map(({ id, name, role, chain }) => ({ kind: 'layer' as const, id, name, role, chain })),
    ...sound.buses.map(({ id, name, chain }) => ({ kind: 'bus' as const, id, name, role: undefined, chain })),
    { kind: 'sound' as const, id: sound.id, name: 'Whole sound', role: undefined, chain: sound.chain },
  ];
  return owners.flatMap(({ chain, ...owner }) => {
    const branchOf = new Map(
      stepsOf(chain).flatMap((host) =>
        (host.branches ?? []).flatMap((branch) => branch.chain.map((step) => [step.id, branch.id] as const)),
      ),
    );
    return stepsOf(chain).flatMap((step) => {
      const effect = effectsById.get(step.effect);
      return effect?.family === 'Dynamics' ? [{ step, label: effect.label, owner, branch: branchOf.get(step.id) }] : [];
    });
  });
}
