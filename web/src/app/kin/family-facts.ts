import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { NumberParameter } from '@tangled-choir/core';
import { drawSibling, effectCatalogue, evenGain, nearestPair, siblingSound, twinDistance } from '@tangled-choir/core';
import { FamilyDifferences } from '../state/family-differences.store';
import { FamilyMap } from '../state/family-map.store';
import { FamilyRenders } from '../state/family-renders.store';
import { Notices } from '../state/notices';
import { DocumentStore } from '../state/project/document.store';
import { WorkbenchStore } from '../state/workbench.store';
import { formatLevel } from '../ui/quantity';
import { ValueField } from '../ui/value-field';
import type { PlannedSibling } from './family-plan';
import { FamilyPlan } from './family-plan';
import { drawText, swayRows } from './sway-text';

/** Siblings farther from the middle loudness than this stand out. */
const outlierLu = 3;
/** So many of the draws that matter most are told. */
const mostDiffering = 6;
const rateParameter: NumberParameter = {
  kind: 'number',
  label: 'Siblings a second',
  unit: '',
  min: 0.5,
  max: 20,
  default: 6,
  scale: 'log',
};
const spanParameter: NumberParameter = { kind: 'number', label: 'Within', unit: 'dB', min: 0, max: 6, default: 1, scale: 'linear' };

const everyParameter: NumberParameter = { kind: 'number', label: 'Every', unit: 's', min: 0.02, max: 60, default: 0.5, scale: 'log' };

/** What is measured of a family: who sounds alike, how soon repeats are heard, how loud each is, and the chosen one in numbers. */
@Component({
  selector: 'tc-family-facts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FamilyPlan, MatButtonModule, MatIconModule, MatTooltipModule, ValueField],
  templateUrl: './family-facts.html',
  styleUrl: './family-facts.scss',
})
export class FamilyFacts {
  readonly chosen = input.required<number>();
  /** The sibling that was heard before the chosen one. */
  readonly beside = input<number>();
  readonly picked = output<number>();
  readonly compared = output();
  protected readonly map = inject(FamilyMap);
  protected readonly renders = inject(FamilyRenders);
  protected readonly differences = inject(FamilyDifferences);
  private readonly workbench = inject(WorkbenchStore);
  private readonly document = inject(DocumentStore);
  private readonly notices = inject(Notices);
  protected readonly rateParameter = rateParameter;
  protected readonly spanParameter = spanParameter;
  protected readonly span = signal(1);
  protected readonly everyParameter = everyParameter;
  protected readonly every = signal(everyParameter.default);
  protected readonly formatLevel = formatLevel;
  private readonly siblings = computed(() => this.workbench.sound()?.family.siblings ?? []);
  protected readonly kept = computed(() => this.siblings().filter(({ state }) => state === 'kept').length);
  protected readonly sibling = computed(() => {
    const index = this.chosen();
    const found = this.siblings()[index];
    return (
      found && { index, state: found.state, loaded: this.renders.siblings()[index], nearest: this.map.family()?.findings.nearest[index] }
    );
  });
  /** By how much the louder of the chosen sibling and the one before is turned down where they are compared. */
  protected readonly evened = computed(() => {
    const [one, other] = [this.renders.siblings()[this.chosen()], this.renders.siblings()[this.beside() ?? -1]];
    if (!one || !other) return undefined;
    return { other: this.beside()! + 1, by: Math.min(evenGain(one.measured, other.measured), evenGain(other.measured, one.measured)) };
  });
  protected readonly planned = computed((): readonly PlannedSibling[] => {
    const places = this.map.family()?.places ?? [];
    return this.siblings().flatMap(({ state }, index) => (places[index] ? [{ index, state, place: places[index] }] : []));
  });
  /** In words: the nearest pair of those that are heard, and who stands out. */
  protected readonly told = computed(() => {
    const family = this.map.family();
    if (!family) return undefined;
    const heard = this.map.members();
    const nearest = nearestPair(family.distances, heard);
    const outliers = family.findings.outliers.filter((index) => heard.includes(index)).map((index) => index + 1);
    return { nearest, alike: nearest !== undefined && nearest.distance < twinDistance, outliers };
  });
  protected readonly repeats = computed(() => {
    const seconds = this.map.repeats();
    return seconds === undefined ? undefined : Number.isFinite(seconds) ? `${seconds.toFixed(seconds < 10 ? 1 : 0)} s` : 'never';
  });
  protected readonly loudness = computed(() => {
    const levels = this.siblings().map((_, index) => this.renders.siblings()[index]?.measured.integratedLufs ?? -Infinity);
    const known = levels.filter((level) => Number.isFinite(level)).sort((a, b) => a - b);
    const middle = known[Math.floor(known.length / 2)] ?? 0;
    const spread = known.length > 0 ? known.at(-1)! - known[0]! : 0;
    const bars = levels.map((level, index) => ({
      index,
      level,
      share: Number.isFinite(level) ? Math.max(4, Math.min(100, 50 + (level - middle) * 7)) : 0,
      outlier: Math.abs(level - middle) > outlierLu && Number.isFinite(level),
    }));
    return { bars, spread, outliers: bars.filter((bar) => bar.outlier).length, known: known.length };
  });

  /** What makes the chosen sibling what it is, most first, as soon as somebody asked. */
  protected readonly differs = computed(() => {
    const [sound, found] = [this.workbench.sound(), this.differences.current()];
    if (!sound || found?.index !== this.chosen()) return undefined;
    const rows = swayRows(sound, effectCatalogue);
    const draws = drawSibling(sound, found.index);
    const most = found.differences[0]?.by ?? 0;
    return found.differences.slice(0, mostDiffering).flatMap(({ addresses, by }) => {
      const row = rows.find(({ sway }) => sway.address === addresses[0]);
      const draw = draws[addresses[0] ?? ''];
      const name = row ? `${row.owner} · ${row.property}` : addresses[0] === 'sound/gain' ? 'Level of its own' : undefined;
      if (name === undefined || draw === undefined) return [];
      return [{ name, drawn: row ? drawText(row, draw, sound) : '', by, share: most > 0 ? (100 * by) / most : 0 }];
    });
  });

  /** The family stays here, as when one becomes a sound. */
  protected layOut(): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    const kept = sound.family.siblings.flatMap(({ state }, index) => (state === 'kept' ? [index] : []));
    const realised = kept.map((index) => siblingSound(sound, index, effectCatalogue));
    if (this.document.edit('layOutSiblings', { sound: sound.id, realised, every: this.every() }))
      this.notices.info(`“${sound.name} × ${kept.length}” is a sound of its own now, behind this one.`);
  }

  /** The family stays here; what is worked on stays the sound that it is of. */
  protected makeSound(): void {
    const [sound, index] = [this.workbench.sound(), this.chosen()];
    if (!sound) return;
    const realised = siblingSound(sound, index, effectCatalogue);
    if (this.document.edit('siblingToSound', { sound: sound.id, index, realised }))
      this.notices.info(`“${sound.name} ${index + 1}” is a sound of its own now.`);
  }
}
