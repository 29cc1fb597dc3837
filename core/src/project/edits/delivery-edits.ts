import type { DeliverySettings } from '../deliveries/create-delivery';
import type { Delivery } from '../deliveries/delivery-schema';
import type { Project } from '../schema';
import { cleanName, defineEdit, EditError, takeId } from './edit';

const mostDeliveries = 100;

/** The delivery of that id. Throws EditError where there is none. */
export function deliveryOf(project: Project, id: string): Delivery {
  const delivery = project.deliveries.find((candidate) => candidate.id === id);
  if (!delivery) throw new EditError(`There is no delivery “${id}”.`);
  return delivery;
}

function checkCount({ deliveries }: Project): void {
  if (deliveries.length >= mostDeliveries) throw new EditError(`There are ${mostDeliveries} deliveries already; more are not possible.`);
}

export const addDelivery = defineEdit<{ name: string; settings: DeliverySettings }>({
  label: ({ name }) => `New delivery “${name}”`,
  apply: (draft, { name, settings }) => {
    checkCount(draft);
    draft.deliveries.push({ id: takeId(draft, 'delivery'), name: cleanName(name), on: true, ...settings });
  },
});

/** Changes a delivery; `sounds: undefined` is all of them, and sounds that are not there are left out. */
export const setDelivery = defineEdit<{ delivery: string; change: Partial<Omit<Delivery, 'id'>> }>({
  label: ({ delivery }, project) => `Change delivery “${deliveryOf(project, delivery).name}”`,
  apply: (draft, { delivery, change }) => {
    const target = deliveryOf(draft, delivery);
    const { name, sounds, ...rest } = change;
    Object.assign(target, rest);
    if (name !== undefined) target.name = cleanName(name);
    if (!('sounds' in change)) return;
    if (sounds) target.sounds = draft.sounds.map(({ id }) => id).filter((id) => sounds.includes(id));
    else delete target.sounds;
  },
});

export const duplicateDelivery = defineEdit<{ delivery: string }>({
  label: ({ delivery }, project) => `Duplicate delivery “${deliveryOf(project, delivery).name}”`,
  apply: (draft, { delivery }) => {
    checkCount(draft);
    const original = deliveryOf(draft, delivery);
    const { sounds } = original;
    const name = cleanName(`${original.name} copy`);
    const copy = { ...original, id: takeId(draft, 'delivery'), name, ...(sounds && { sounds: [...sounds] }) };
    draft.deliveries.splice(draft.deliveries.indexOf(original) + 1, 0, copy);
  },
});

export const removeDelivery = defineEdit<{ delivery: string }>({
  label: ({ delivery }, project) => `Remove delivery “${deliveryOf(project, delivery).name}”`,
  apply: (draft, { delivery }) => {
    draft.deliveries.splice(draft.deliveries.indexOf(deliveryOf(draft, delivery)), 1);
  },
});
