import { inject, Injectable } from '@angular/core';
import type { ReferenceParameter } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import type { Offer } from '../../ui/choice-field';

/** What effects of the selected chain can take from elsewhere: other layers and groups, or sources. */
@Injectable()
export class ReferenceOffers {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);

  of(parameter: ReferenceParameter, value: string): Offer[] {
    const offers = [{ value: '', name: parameter.none }, ...(parameter.to === 'source' ? this.sources() : this.channels())];
    return offers.some((offer) => offer.value === value) ? offers : [...offers, { value, name: 'not there any more' }];
  }

  private sources(): Offer[] {
    const sources = this.document.project()?.sources ?? [];
    return sources.map(({ id, name }) => ({ value: `source/${id}`, name })).sort((a, b) => a.name.localeCompare(b.name));
  }

  /** A layer cannot be its own key, nor can its group. */
  private channels(): Offer[] {
    const sound = this.workbench.sound();
    const own = this.workbench.layer();
    const layers = sound?.layers.filter((layer) => layer !== own) ?? [];
    const groups = sound?.buses.filter((bus) => bus.kind === 'group' && bus.id !== own?.group) ?? [];
    return [
      ...layers.map(({ id, name }) => ({ value: `layer/${id}`, name })),
      ...groups.map(({ id, name }) => ({ value: `bus/${id}`, name: `${name} (group)` })),
    ];
  }
}
