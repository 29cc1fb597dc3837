import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { NewSway, Sound, Strength } from '@tangled-choir/core';
import { effectCatalogue, findProperty, firstSway, readySways, strengths, swayableAddresses } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { WorkbenchStore } from '../state/workbench.store';
import type { RangeChange } from '../ui/range-field';
import { RangeField } from '../ui/range-field';
import { RoleGlyph } from '../ui/role-glyph';
import type { SwayRow } from './sway-text';
import { swayRows } from './sway-text';

interface Offer {
  readonly owner: string;
  readonly properties: readonly { readonly address: string; readonly label: string }[];
}

/** What may vary between siblings, and how far. */
@Component({
  selector: 'tc-sway-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatTooltipModule, RangeField, RoleGlyph],
  templateUrl: './sway-table.html',
  styleUrl: './sway-table.scss',
})
export class SwayTable {
  private readonly document = inject(DocumentStore);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly strengths = strengths;
  protected readonly sound = this.workbench.sound;
  protected readonly rows = computed(() => (this.sound() ? swayRows(this.sound()!, effectCatalogue) : []));
  protected readonly offers = computed(() => (this.sound() ? listOffers(this.sound()!) : []));
  /** The ready strength that the sways agree with, if they do. */
  protected readonly strength = computed(() => {
    const sound = this.sound();
    if (!sound || sound.family.sways.length === 0) return undefined;
    return strengths.find((strength) => {
      const ready = readySways(sound, strength, effectCatalogue);
      return (
        ready.length > 0 &&
        ready.every(
          (sway) =>
            sway.kind === 'range' &&
            sound.family.sways.some(
              (own) => own.kind === 'range' && own.address === sway.address && own.high === sway.high && own.low === sway.low,
            ),
        )
      );
    });
  });

  protected roleOf(row: SwayRow) {
    return this.sound()?.layers.find((layer) => layer.id === row.layerId)?.role;
  }

  protected apply(strength: Strength): void {
    const sound = this.sound();
    if (!sound) return;
    const presences = sound.family.sways.filter((sway) => sway.kind === 'presence');
    this.document.edit('setSways', {
      sound: sound.id,
      sways: [...readySways(sound, strength, effectCatalogue), ...presences],
      label: `${strength} sways`,
    });
  }

  protected change(row: SwayRow, { low, high, gesture }: RangeChange): void {
    const { sway } = row;
    const next: NewSway =
      sway.kind === 'presence'
        ? { kind: 'presence', address: sway.address, locked: sway.locked, chance: high }
        : { kind: 'range', address: sway.address, locked: sway.locked, low, high };
    this.document.edit('setSway', { sound: this.sound()!.id, sway: next, label: `Sway of ${row.owner}, ${row.property}` }, gesture);
  }

  protected lock(row: SwayRow): void {
    const { id: _, ...sway } = row.sway;
    this.document.edit('setSway', {
      sound: this.sound()!.id,
      sway: { ...sway, locked: !sway.locked },
      label: sway.locked ? 'Unlock sway' : 'Lock sway',
    });
  }

  protected remove(row: SwayRow): void {
    this.document.edit('removeSway', { sound: this.sound()!.id, sway: row.sway.id });
  }

  protected add(address: string): void {
    const sound = this.sound();
    if (!sound || !address) return;
    if (address.endsWith('/presence')) {
      this.document.edit('setSway', {
        sound: sound.id,
        sway: { kind: 'presence', address, chance: 0.7, locked: false },
        label: 'Presence',
      });
      return;
    }
    const property = findProperty(sound, address, effectCatalogue);
    if (property?.parameter.kind !== 'number') return;
    this.document.edit('setSway', {
      sound: sound.id,
      sway: firstSway(address, property.parameter),
      label: `Let ${property.owner}, ${property.parameter.label.toLowerCase()} vary`,
    });
  }
}

/** What else could vary, by owner; bands of an EQ that are off are left out. */
function listOffers(sound: Sound): Offer[] {
  const taken = new Set(sound.family.sways.map((sway) => sway.address));
  const offers = new Map<string, { address: string; label: string }[]>();
  for (const address of swayableAddresses(sound, effectCatalogue)) {
    if (taken.has(address)) continue;
    const presence = /^layer\/([^/]+)\/presence$/.exec(address);
    const property = presence ? undefined : findProperty(sound, address, effectCatalogue);
    const owner = presence ? sound.layers.find((layer) => layer.id === presence[1])?.name : property?.owner;
    if (owner === undefined) continue;
    const band = /^(.*\/band\d)[A-Z]\w*$/.exec(address);
    if (band && findProperty(sound, `${band[1]}On`, effectCatalogue)?.value !== true) continue;
    const label = presence ? 'Presence' : (property?.parameter.label ?? '');
    offers.set(owner, [...(offers.get(owner) ?? []), { address, label }]);
  }
  return [...offers].map(([owner, properties]) => ({ owner, properties }));
}
