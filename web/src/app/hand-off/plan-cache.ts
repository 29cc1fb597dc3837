import type { Delivery, DeliveryItem, Project, Sound } from '@tangled-choir/core';
import { deliveredSounds, effectCatalogue, planSound } from '@tangled-choir/core';

interface Planned {
  readonly sources: Project['sources'];
  readonly project: string;
  readonly items: readonly DeliveryItem[];
}

/** Plans deliveries, and plans anew only what has changed: a project can have thousands of files, and a letter is typed quickly. */
export class PlanCache {
  private readonly known = new WeakMap<Sound, Map<string, Planned>>();

  plan(project: Project, delivery: Delivery): readonly DeliveryItem[] {
    if (delivery.content !== 'sounds') return [];
    const { id: _id, on: _on, sounds: _sounds, ...settings } = delivery;
    const key = JSON.stringify(settings);
    return deliveredSounds(project, delivery).flatMap((sound) => this.planSound(project, sound, delivery, key));
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
