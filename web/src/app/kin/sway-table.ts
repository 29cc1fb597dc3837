import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Alternative, NewSway, Source, Strength, Sway, SwayOffer } from '@tangled-choir/core';
import { effectCatalogue, findProperty, isChanced, projectSampleRate, readySways, strengths, swayOffers } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Playback } from '../state/playback.store';
import { WorkbenchStore } from '../state/workbench.store';
import type { Offer, OfferGroup } from '../ui/choice-field';
import { ChoiceField } from '../ui/choice-field';
import type { RangeChange } from '../ui/range-field';
import { RangeField } from '../ui/range-field';
import { RoleGlyph } from '../ui/role-glyph';
import { SwayHow } from './sway-how';
import type { SwayRow } from './sway-text';
import { howText, letterOf, swayRows } from './sway-text';

/** What may vary between siblings, and how far. */
@Component({
  selector: 'tc-sway-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatButtonModule, MatIconModule, MatTooltipModule, RangeField, RoleGlyph, SwayHow],
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
  private readonly offered = computed(() =>
    this.sound() ? swayOffers(this.sound()!, this.document.project()?.sources ?? [], effectCatalogue) : [],
  );
  protected readonly offers = computed(() => byOwner(this.offered()));
  protected readonly isChanced = isChanced;
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
    const { id: _, ...sway } = row.sway;
    if (sway.kind !== 'presence' && sway.kind !== 'range') return;
    const next: NewSway = sway.kind === 'presence' ? { ...sway, chance: high } : { ...sway, low, high };
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
    (this.document.project()?.sources ?? []).map(({ id: source, name: ofSource, frames, regions }) => ({
      name: ofSource,
      offers: [{ name: 'The whole', from: 0, to: frames / projectSampleRate }, ...regions].map(({ name, from, to }) => ({
        name,
        value: JSON.stringify([source, from, to]),
        stretch: { source, from, to },
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
      .flatMap(({ offers }) => offers)
      .find(({ value }) => value === key)?.stretch;
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

  /** How many of some layers are there at least and at most. */
  protected changeCounts({ sway: { id: _, ...sway } }: SwayRow, { low, high, gesture }: RangeChange): void {
    if (sway.kind !== 'some') return;
    const label = 'How many layers are there';
    this.document.edit('setSway', { sound: this.sound()!.id, sway: { ...sway, least: low, most: high }, label }, gesture);
  }

  /** Layers by name, and whether they are among some. */
  protected layersOf({ layers }: Extract<Sway, { kind: 'some' }>) {
    return (this.sound()?.layers ?? []).map(({ id, name }) => ({ key: id, name, on: layers.includes(id), last: layers.length === 1 }));
  }

  /** Layers join some of them, or leave. */
  protected toggleLayer({ sway: { id: _, ...sway } }: SwayRow, layer: string): void {
    if (sway.kind !== 'some') return;
    const wanted = new Set(sway.layers);
    if (!wanted.delete(layer)) wanted.add(layer);
    const layers = (this.sound()?.layers ?? []).flatMap(({ id }) => (wanted.has(id) ? [id] : []));
    const [least, most] = [sway.least, sway.most].map((count) => Math.min(count, layers.length));
    this.document.edit('setSway', {
      sound: this.sound()!.id,
      sway: { ...sway, layers, least: least!, most: most! },
      label: 'Which layers are there',
    });
  }

  /** The values of a choice or a switch, and which of them are drawn. */
  protected valuesOf({ sway }: SwayRow) {
    if (sway.kind !== 'choice') return [];
    const parameter = findProperty(this.sound()!, sway.address, effectCatalogue)?.parameter;
    const all = parameter?.kind === 'choice' ? parameter.options : parameter?.kind === 'switch' ? [true, false] : [];
    const name = (value: string | boolean): string => (value === true ? 'on' : value === false ? 'off' : value);
    return all.map((value) => ({ value, key: String(value), name: name(value), on: sway.of.includes(value), last: sway.of.length === 1 }));
  }

  protected toggleValue({ sway: { id: _, ...sway }, owner, property }: SwayRow, value: string | boolean): void {
    if (sway.kind !== 'choice') return;
    const of = sway.of.includes(value) ? sway.of.filter((other) => other !== value) : [...sway.of, value];
    this.document.edit('setSway', { sound: this.sound()!.id, sway: { ...sway, of }, label: `What ${owner}, ${property} may be` });
  }

  /** The row that shows how it is drawn. */
  protected readonly open = signal<string | undefined>(undefined);

  protected toggleHow({ sway: { id } }: SwayRow): void {
    this.open.update((open) => (open === id ? undefined : id));
  }

  protected how(row: SwayRow): string {
    return howText(row, this.rows());
  }

  protected add(address: string): void {
    const sound = this.sound();
    const offer = this.offered().find(({ sway }) => sway.address === address);
    if (!sound || !offer) return;
    const label = `Let ${offer.owner}, ${lowerFirst(offer.label)} vary`;
    this.document.edit('setSway', { sound: sound.id, sway: offer.sway, label });
  }
}

const lowerFirst = (label: string): string => label.charAt(0).toLowerCase() + label.slice(1);

/** Offers by whose they are. */
function byOwner(offers: readonly SwayOffer[]): OfferGroup[] {
  const owners = new Map<string, Offer[]>();
  for (const { owner, label, sway } of offers) owners.set(owner, [...(owners.get(owner) ?? []), { value: sway.address, name: label }]);
  return [...owners].map(([name, own]) => ({ name, offers: own }));
}
