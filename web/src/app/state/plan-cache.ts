import type { Delivery, DeliveryItem, Project, Sound } from '@tangled-choir/core';
import { deliveredSounds, effectCatalogue, planDelivery, planSound } from '@tangled-choir/core';

interface Planned {
  readonly sources: Project['sources'];
  readonly project: string;
  readonly items: readonly DeliveryItem[];
}

interface PlannedBehaviours extends Planned {
  readonly key: string;
  readonly sounds: Project['sounds'];
  readonly behaviours: Project['conduct']['behaviours'];
}

/** Plans deliveries, and plans anew only what has changed: a project can have thousands of files, and a letter is typed quickly. */
export class PlanCache {
  private readonly known = new WeakMap<Sound, Map<string, Planned>>();
  /** The last plan of each delivery of behaviours. */
  private readonly ofBehaviours = new Map<string, PlannedBehaviours>();

  plan(project: Project, delivery: Delivery): readonly DeliveryItem[] {
    const { id: _id, on: _on, sounds: _sounds, ...settings } = delivery;
    const key = JSON.stringify(settings);
    if (delivery.content === 'behaviours') return this.planBehaviours(project, delivery, key);
    return deliveredSounds(project, delivery).flatMap((sound) => this.planSound(project, sound, delivery, key));
  }

  private planBehaviours(project: Project, delivery: Delivery, key: string): readonly DeliveryItem[] {
    const { sounds, sources, name } = project;
    const { behaviours } = project.conduct;
    const known = this.ofBehaviours.get(delivery.id);
    if (
      known?.sounds === sounds &&
      known.sources === sources &&
      known.behaviours === behaviours &&
      known.project === name &&
      known.key === key
    )
      return known.items;
    const items = planDelivery(project, delivery, effectCatalogue);
    this.ofBehaviours.set(delivery.id, { key, sounds, sources, behaviours, project: name, items });
    return items;
  }

  private planSound(project: Project, sound: Sound, delivery: Delivery, key: string): readonly DeliveryItem[] {
    const plans = this.known.get(sound) ?? new Map<string, Planned>();
    const known = plans.get(key);
    if (known?.sources === project.sources && known.project === project.name) return known.items;
    const items = planSound(project, sound, delivery, effectCatalogue);
    // Whoever types leaves settings behind that are never wanted again.
    if (plans.size > 20) plans.clear();
    this.known.set(sound, plans.set(key, { sources: project.sources, project: project.name, items }));
    return items;
  }
}
