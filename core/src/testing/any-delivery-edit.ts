import { deliveryKinds } from '../project/deliveries/create-delivery';
import type { EditArguments } from '../project/edits';
import type { Project } from '../project/schema';

type Name = 'addDelivery' | 'setDelivery' | 'duplicateDelivery' | 'removeDelivery';

/** Arguments of edits of deliveries, chosen by two numbers; see `any-edit.ts`. */
export function deliveryArguments(
  { deliveries, sounds }: Project,
  pick: number,
  amount: number,
): { readonly [N in Name]: () => EditArguments<N> | undefined } {
  const kinds = Object.entries(deliveryKinds);
  const [name, settings] = kinds[pick % kinds.length]!;
  const delivery = deliveries[pick % Math.max(1, deliveries.length)];
  return {
    addDelivery: () => ({ name, settings }),
    setDelivery: () =>
      delivery && {
        delivery: delivery.id,
        change:
          pick % 3 === 0
            ? { encoding: '32f', tail: 'fixed length', length: amount + 0.1, name: `Files ${pick}` }
            : pick % 3 === 1
              ? { channels: 'mono', template: '{sound}_{number}', sounds: sounds.slice(0, pick % 2).map(({ id }) => id) }
              : { level: 'loudness', loudness: -20 - amount, on: amount > 1, sounds: undefined },
      },
    duplicateDelivery: () => delivery && { delivery: delivery.id },
    removeDelivery: () => delivery && { delivery: delivery.id },
  };
}
