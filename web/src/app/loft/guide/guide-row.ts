import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Guide, NumberParameter, Source, Stretch } from '@tangled-choir/core';
import { decibelsToGain, gainParameter } from '@tangled-choir/core';
import { AudioLibrary } from '../../engine/audio-library';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { MenuPanel } from '../../ui/menu-panel';
import { followPointer } from '../../ui/follow-pointer';
import type { ValueChange } from '../../ui/value-field';
import { ValueField } from '../../ui/value-field';
import { Waveform } from '../../ui/waveform';
import { TimelineScale } from '../timeline/timeline-scale';

/** How far an arrow key moves the guide, in seconds; a tenth of it with Shift. */
const nudge = 0.1;

/** The guide of a sound on the time axis: one switch lets it be heard and seated; it can be moved, turned down, repeated and taken away. */
@Component({
  selector: 'tc-guide-row',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, MatMenuModule, MatTooltipModule, MenuPanel, ValueField, Waveform],
  templateUrl: './guide-row.html',
  styleUrl: './guide-row.scss',
})
export class GuideRow {
  readonly guide = input.required<Guide>();
  readonly source = input.required<Source | undefined>();
  /** How long the time axis is. */
  readonly seconds = input.required<number>();
  /** The stretch of the time axis that can be seen, or nearly. */
  readonly seen = input.required<Stretch>();
  readonly timeAt = input.required<(clientX: number) => number>();
  readonly snap = input.required<(time: number) => number>();
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly library = inject(AudioLibrary);
  private readonly scale = inject(TimelineScale);
  protected readonly gainParameter = { ...gainParameter, min: -60, max: 12 };
  protected readonly startParameter: NumberParameter = {
    kind: 'number',
    label: 'Begins at',
    unit: 's',
    min: -3_600,
    max: 3_600,
    default: 0,
    scale: 'linear',
  };
  private gestures = 0;

  private readonly rate = computed(() => this.document.project()?.sampleRate ?? 48_000);
  private readonly length = computed(() => (this.source()?.frames ?? 0) / this.rate());
  protected readonly name = computed(() => this.source()?.name ?? 'a missing source');
  protected readonly missing = computed(() => this.library.missing().has(this.source()?.audio ?? ''));
  protected readonly overview = computed(() => this.library.overview(this.source()?.audio ?? ''));
  protected readonly height = computed(() => decibelsToGain(this.guide().gain));
  /** The stretch of the axis that it takes. */
  protected readonly box = computed(() => {
    const { start, repeats } = this.guide();
    const perSecond = this.scale.pixelsPerSecond();
    const from = Math.max(0, start);
    const to = repeats ? this.seconds() : Math.max(from, start + this.length());
    return { left: from * perSecond, width: (to - from) * perSecond };
  });
  /** What of its first run can be seen: in pixels of the axis, and in frames of the recording. */
  protected readonly drawn = computed(() => {
    const { start } = this.guide();
    const { from, to } = this.seen();
    const first = Math.max(0, start, from);
    const last = Math.max(first, Math.min(to, start + this.length()));
    const perSecond = this.scale.pixelsPerSecond();
    return {
      left: first * perSecond,
      width: (last - first) * perSecond,
      from: (first - start) * this.rate(),
      to: (last - start) * this.rate(),
    };
  });

  protected change(change: Partial<Omit<Guide, 'source'>>, gesture?: string): void {
    this.document.edit('changeGuide', { sound: this.workbench.sound()!.id, change }, gesture);
  }

  protected turn(key: 'gain' | 'start', { value, gesture }: ValueChange): void {
    this.change({ [key]: value }, gesture);
  }

  protected drag(event: PointerEvent): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    const grabbed = this.timeAt()(event.clientX) - this.guide().start;
    const gesture = `guide ${this.gestures++}`;
    followPointer(event, (moved) => {
      const start = this.timeAt()(moved.clientX) - grabbed;
      this.change({ start: moved.altKey ? start : this.snap()(start) }, gesture);
    });
  }

  protected key(event: KeyboardEvent): void {
    const direction = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (direction !== 0) this.change({ start: this.guide().start + direction * (event.shiftKey ? nudge / 10 : nudge) });
    else if (event.key === 'Delete') this.remove();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  protected remove(): void {
    this.document.edit('setGuide', { sound: this.workbench.sound()!.id, source: undefined });
  }
}
