import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject } from '@angular/core';
import { levelBetween } from '@tangled-choir/core';
import { area, line, scaleLinear, scaleLog } from 'd3';
import { LiveEngine } from '../../engine/live/live-engine';
import { spectrumHigh, spectrumLow, spectrumPoints } from '../../engine/protocol';
import { DocumentStore } from '../../state/project/document.store';
import { LecternPanel } from '../../state/lectern-panel.store';
import { ReferenceSpectrum } from '../../state/reference-spectrum.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { ChoiceField, sourceOffers } from '../../ui/choice-field';
import { formatLevel, signed } from '../../ui/quantity';
import { RoleGlyph } from '../../ui/role-glyph';
import type { DynamicsStep } from './dynamics-steps';
import { dynamicsSteps } from './dynamics-steps';
import { StereoFan } from './stereo-fan';

const width = 900;
const height = 200;
/** Gain reduction that fills a bar. */
const deepest = 24;

/** What is heard, measured: spectrum, stereo field, loudness, and what every dynamics step takes away. */
@Component({
  selector: 'tc-meters-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, RoleGlyph, StereoFan],
  templateUrl: './meters-view.html',
  styleUrl: './meters-view.scss',
})
export class MetersView {
  private readonly engine = inject(LiveEngine);
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly panel = inject(LecternPanel);
  protected readonly reference = inject(ReferenceSpectrum);

  protected readonly width = width;
  protected readonly height = height;
  private readonly x = scaleLog([spectrumLow, spectrumHigh], [0, width]);
  private readonly y = scaleLinear([-6, -96], [0, height]).clamp(true);
  protected readonly frequencyTicks = [50, 100, 200, 500, 1_000, 2_000, 5_000, 10_000].map((frequency) => ({
    x: this.x(frequency),
    text: frequency >= 1_000 ? `${frequency / 1_000}k` : String(frequency),
  }));
  protected readonly levelTicks = [-24, -48, -72].map((level) => ({ y: this.y(level), text: signed(level, 0) }));

  private readonly meters = computed(() => this.engine.meters());
  protected readonly output = computed(() => this.meters()?.output);
  protected readonly now = computed(() => this.filled(this.output()?.spectrum));
  protected readonly average = computed(() => this.drawn(this.output()?.average));
  protected readonly peak = computed(() => this.drawn(this.output()?.peak));
  /** The reference at the level of what was heard, so that only the shapes differ; as it is before anything was. */
  protected readonly referenceLine = computed(() => {
    const levels = this.reference.levels();
    const average = this.output()?.average;
    const shift = levels && average ? levelBetween(levels, average) : 0;
    return this.drawn(levels?.map((level) => level + shift));
  });
  protected readonly sources = computed(() => sourceOffers(this.document.project()?.sources ?? [], 'no reference'));

  protected readonly readings = computed(() => {
    const meters = this.meters();
    const correlation = meters?.correlation;
    return [
      { label: 'Momentary', text: formatLevel(meters?.momentary, 'LUFS'), id: 'momentary' },
      { label: 'Short-term', text: formatLevel(meters?.shortTerm, 'LUFS'), id: 'short-term' },
      { label: 'Integrated', text: formatLevel(meters?.integrated, 'LUFS'), id: 'integrated' },
      { label: 'Range', text: meters?.output && meters.output.range > 0 ? `${meters.output.range.toFixed(1)} LU` : '–', id: 'range' },
      { label: 'True peak', text: formatLevel(meters?.truePeak, 'dBTP'), id: 'true-peak' },
      { label: 'Correlation', text: correlation === undefined ? '–' : signed(correlation, 2), id: 'correlation' },
    ];
  });

  private readonly steps = computed(() => {
    const sound = this.workbench.sound();
    return sound ? dynamicsSteps(sound) : [];
  });
  protected readonly reductions = computed(() => {
    const reductions = this.engine.playing() === 'sound' ? this.meters()?.gainReductions : undefined;
    return this.steps().map((entry) => {
      const value = entry.step.enabled ? reductions?.get(entry.step.id) : undefined;
      const taken = Math.max(0, -(value ?? 0));
      return {
        entry,
        key: entry.step.id,
        share: Math.min(1, taken / deepest) * 100,
        text: entry.step.enabled ? (value === undefined ? '–' : formatLevel(taken < 0.05 ? 0 : -taken, 'dB')) : 'off',
      };
    });
  });

  constructor() {
    this.engine.showOutput(true);
    inject(DestroyRef).onDestroy(() => this.engine.showOutput(false));
  }

  /** Opens a step where it lies. */
  protected open({ owner, step, branch }: DynamicsStep): void {
    if (owner.kind === 'layer') this.workbench.selectLayer(owner.id);
    else if (owner.kind === 'bus') this.workbench.selectBus(owner.id);
    else this.workbench.selectWhole();
    this.workbench.openBranch(branch, step.id);
    this.panel.show('chain');
  }

  private place(level: number, point: number): [number, number] {
    return [this.x(spectrumLow * Math.pow(spectrumHigh / spectrumLow, (point + 0.5) / spectrumPoints)), this.y(level)];
  }

  private filled(levels: Float32Array | undefined): string {
    return levels ? (area().y0(height)(Array.from(levels, (level, point) => this.place(level, point))) ?? '') : '';
  }

  private drawn(levels: Float32Array | undefined): string {
    return levels ? (line()(Array.from(levels, (level, point) => this.place(level, point))) ?? '') : '';
  }
}
