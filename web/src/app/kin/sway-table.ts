import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { NewSway, Sound, Source, Alternative, Strength, Sway } from '@tangled-choir/core';
import {
  alternativesAddress,
  effectCatalogue,
  findProperty,
  firstSway,
  projectSampleRate,
  readySways,
  strengths,
  swayableAddresses,
} from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Playback } from '../state/playback.store';
import { WorkbenchStore } from '../state/workbench.store';
import type { RangeChange } from '../ui/range-field';
import { RangeField } from '../ui/range-field';
import { RoleGlyph } from '../ui/role-glyph';
import type { SwayRow } from './sway-text';
import { letterOf, playedBy, swayRows } from './sway-text';

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
  private readonly playback = inject(Playback);
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
    // Ready strengths say how far, not what: who is there and what is played stays as it is.
    const chosen = sound.family.sways.filter((sway) => sway.kind !== 'range');
    this.document.edit('setSways', {
      sound: sound.id,
      sways: [...readySways(sound, strength, effectCatalogue), ...chosen],
      label: `${strength} sways`,
    });
  }

  protected change(row: SwayRow, { low, high, gesture }: RangeChange): void {
    const { sway } = row;
    if (sway.kind === 'alternatives') return;
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

  /** All sources with the stretches of them that a clip may play: the whole, and their good parts. */
  protected readonly playable = computed(() =>
    (this.document.project()?.sources ?? []).map((source) => ({
      source,
      stretches: [{ name: 'The whole', from: 0, to: source.frames / projectSampleRate }, ...source.regions].map(({ name, from, to }) => ({
        name,
        key: JSON.stringify([source.id, from, to]),
        stretch: { source: source.id, from, to },
      })),
    })),
  );

  /** Alternatives by name. */
  protected alternativesOf({ of }: Extract<Sway, { kind: 'alternatives' }>) {
    return of.map(({ source: id, from, to }, index) => {
      const source = this.document.project()?.sources.find((candidate) => candidate.id === id);
      const region = source?.regions.find((each) => each.from === from && each.to === to);
      const name = region ? `${source!.name}: ${region.name}` : (source?.name ?? 'missing');
      return { index, key: `${id} ${from} ${to}`, letter: letterOf(index), name, part: region?.name ?? 'the whole', source, from, to };
    });
  }

  protected hear({ part, source, from, to }: { part: string; source: Source | undefined; from: number; to: number }): void {
    if (source) this.playback.auditionSource(source, { name: part, from, to });
  }

  protected leaveOut(row: SwayRow, index: number): void {
    if (row.sway.kind === 'alternatives')
      this.setAlternatives(
        row,
        row.sway.of.filter((_, i) => i !== index),
      );
  }

  protected addAlternative(row: SwayRow, key: string): void {
    const added = this.playable()
      .flatMap(({ stretches }) => stretches)
      .find((each) => each.key === key)?.stretch;
    const { sway } = row;
    if (!added || sway.kind !== 'alternatives') return;
    const known = sway.of.some(({ source, from, to }) => source === added.source && from === added.from && to === added.to);
    // Twice the same could be heard twice in a row.
    if (!known) this.setAlternatives(row, [...sway.of, { ...added, over: sway.of[0]!.over }]);
  }

  private setAlternatives({ sway: { address, locked }, owner }: SwayRow, of: readonly Alternative[]): void {
    this.document.edit('setSway', {
      sound: this.sound()!.id,
      sway: { kind: 'alternatives', address, locked, of: [...of] },
      label: `What ${owner} plays`,
    });
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
    const [layer, clip] = playedBy(sound, address);
    if (clip?.source !== undefined) {
      const source = this.document.project()?.sources.find(({ id }) => id === clip.source);
      // Good parts of one recording are takes of the same; without them it begins with what is there.
      const parts = source && source.regions.length > 1 ? source.regions : [{ from: clip.offset, to: clip.offset + clip.length }];
      const over = { from: clip.offset, to: clip.offset + clip.length };
      const of = parts.map(({ from, to }) => ({ source: clip.source!, from, to, over }));
      this.document.edit('setSway', {
        sound: sound.id,
        sway: { kind: 'alternatives', address, of, locked: false },
        label: `Let ${layer!.name} play one of several`,
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
  for (const layer of sound.layers)
    for (const [c, clip] of layer.clips.entries()) {
      const address = alternativesAddress(layer.id, clip.id);
      if (clip.source === undefined || taken.has(address)) continue;
      const label = layer.clips.length === 1 ? 'What it plays' : `What clip ${c + 1} plays`;
      offers.set(layer.name, [...(offers.get(layer.name) ?? []), { address, label }]);
    }
  return [...offers].map(([owner, properties]) => ({ owner, properties }));
}
