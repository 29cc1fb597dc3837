import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Source } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { ChoiceField } from '../ui/choice-field';
import { formatDuration } from '../ui/quantity';
import { ExportSources } from './export-sources';
import type { ChosenRole } from './role-offers';
import { roleOffers } from './role-offers';

/** What can be done to several sources at once: role and tags, placing, writing, removing. */
@Component({
  selector: 'tc-sources-inspector',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatButtonModule, MatIconModule, MatTooltipModule],
  templateUrl: './sources-inspector.html',
  styleUrls: ['./inspector.scss', './sources-inspector.scss'],
})
export class SourcesInspector {
  readonly sources = input.required<readonly Source[]>();
  /** How many of them something uses. */
  readonly used = input.required<number>();
  readonly place = output();
  readonly remove = output();
  private readonly document = inject(DocumentStore);
  protected readonly files = inject(ExportSources);
  protected readonly roles = roleOffers;
  private readonly ids = computed(() => this.sources().map(({ id }) => id));
  protected readonly length = computed(() => {
    const frames = this.sources().reduce((sum, source) => sum + source.frames, 0);
    return formatDuration(frames / (this.document.project()?.sampleRate ?? 48_000));
  });
  /** The role that all of them have; undefined where they differ. */
  protected readonly role = computed(() => {
    const [first = '', ...others] = new Set(this.sources().map((source): ChosenRole => source.role ?? ''));
    return others.length === 0 ? first : undefined;
  });
  /** Every tag that one of them has, and on how many. */
  protected readonly tags = computed(() => {
    const counts = new Map<string, number>();
    for (const tag of this.sources().flatMap((source) => source.tags)) counts.set(tag, (counts.get(tag) ?? 0) + 1);
    return [...counts].map(([tag, count]) => ({ tag, count })).sort((a, b) => b.count - a.count || a.tag.localeCompare(b.tag));
  });

  protected setRole(chosen: ChosenRole): void {
    const role = chosen === '' ? undefined : chosen;
    this.document.edit('setSourceRole', { sources: this.ids(), role });
  }

  protected addTags(field: HTMLInputElement): void {
    this.document.edit('tagSources', { sources: this.ids(), add: field.value.split(','), remove: [] });
    field.value = '';
  }

  /** A tag that some have goes to all of them; one that all have is taken away. */
  protected toggleTag(tag: string, count: number): void {
    const all = count === this.sources().length;
    this.document.edit('tagSources', { sources: this.ids(), add: all ? [] : [tag], remove: all ? [tag] : [] });
  }
}
