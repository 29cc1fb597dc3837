import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal, viewChild } from '@angular/core';
import type { EffectStep } from '@tangled-choir/core';
import { drawnCurve, drawnLevels, drawnPoints, drawnResponse, hertz, readCurve, writeCurve } from '@tangled-choir/core';
import { area, line, scaleLinear, scaleLog } from 'd3';
import { LiveEngine } from '../../engine/live/live-engine';
import { spectrumHigh, spectrumLow, spectrumPoints } from '../../engine/protocol';
import { DocumentStore } from '../../state/project/document.store';
import { SpectrumMatch } from '../../state/spectrum-match.store';
import { ChoiceField, sourceOffers } from '../../ui/choice-field';
import { followPointer } from '../../ui/follow-pointer';
import { formatQuantity, signed } from '../../ui/quantity';
import { newGesture } from '../../ui/value-field';
import { ParameterList } from './parameter-list';
import { StepValues } from './step-values';

const reach = 24;
const width = 100;
const height = 100;
/** Close enough for the teeth of a comb. */
const heardFrequencies = Array.from({ length: 1_201 }, (_, i) => 20 * 2 ** (i / 120));
const frequencyParameter = hertz({ label: 'Frequency', min: 20, max: 20_480, default: 1_000 });

/** The drawn EQ: a curve to draw into over the live spectrum, and a spectrum to match. */
@Component({
  selector: 'tc-drawn-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, ParameterList],
  templateUrl: './drawn-editor.html',
  styleUrls: ['../../ui/plot-labels.scss', './drawn-editor.scss'],
})
export class DrawnEditor {
  readonly step = input.required<EffectStep>();
  private readonly values = inject(StepValues);
  private readonly engine = inject(LiveEngine);
  private readonly document = inject(DocumentStore);
  protected readonly matching = inject(SpectrumMatch);
  private readonly plot = viewChild.required<ElementRef<HTMLElement>>('plot');
  private readonly x = scaleLog([20, drawnPoints.at(-1)!], [0, width]).clamp(true);
  private readonly y = scaleLinear([reach, -reach], [0, height]).clamp(true);
  private readonly level = scaleLinear([-6, -90], [0, height]).clamp(true);

  protected readonly lines = [18, 12, 6, 0, -6, -12, -18].map((gain) => ({
    gain,
    y: this.y(gain),
    text: gain === 0 ? '0' : signed(gain, 0),
  }));
  protected readonly ticks = [50, 100, 200, 500, 1_000, 2_000, 5_000, 10_000].map((frequency) => ({
    x: this.x(frequency),
    text: frequency >= 1_000 ? `${frequency / 1_000}k` : String(frequency),
  }));
  /** The point that the arrow keys turn. */
  protected readonly cursor = signal(68);

  private readonly now = computed(() => this.values.read(this.step()));
  private readonly drawn = computed(() => readCurve(drawnCurve, String(this.now()['curve'] ?? '')) ?? []);
  protected readonly drawnPath = computed(() => this.pathOf(this.drawn()));
  /** What is filtered by: smoothed and scaled, with its comb. */
  protected readonly heardPath = computed(() => {
    const response = drawnResponse(this.now());
    return line()(heardFrequencies.map((frequency): [number, number] => [this.x(frequency), this.y(response(frequency))])) ?? '';
  });
  protected readonly cursorAt = computed(() => {
    const gain = this.drawn()[this.cursor()] ?? 0;
    const frequency = drawnPoints[this.cursor()]!;
    return { x: this.x(frequency), y: this.y(gain), gain, text: `${formatQuantity(frequency, frequencyParameter)}, ${signed(gain, 1)} dB` };
  });
  protected readonly before = computed(() => this.spectrumPath(this.engine.meters()?.before));
  protected readonly after = computed(() => this.spectrumPath(this.engine.meters()?.after));
  protected readonly sources = computed(() => sourceOffers(this.document.project()?.sources ?? []));
  /** The source that was chosen last, or the first one. */
  protected readonly wished = signal('');
  protected readonly target = computed(() => {
    const ids = this.sources().map(({ value }) => value);
    return ids.includes(this.wished()) ? this.wished() : (ids[0] ?? '');
  });

  /** A drag draws: every point that it passes goes to where it passed. */
  protected draw(event: PointerEvent): void {
    if (event.button !== 0) return;
    this.plot().nativeElement.focus();
    const gesture = newGesture();
    let before = this.at(event);
    this.set([before], gesture);
    followPointer(event, (moved) => {
      const now = this.at(moved);
      const steps = Math.max(1, Math.abs(now.point - before.point));
      const passed = Array.from({ length: steps }, (_, i) => {
        const share = (i + 1) / steps;
        return {
          point: Math.round(before.point + (now.point - before.point) * share),
          gain: before.gain + (now.gain - before.gain) * share,
        };
      });
      before = now;
      this.set(passed, gesture);
    });
  }

  protected key(event: KeyboardEvent): void {
    const fine = event.shiftKey ? 0.1 : 1;
    if (event.key === 'ArrowLeft') this.cursor.update((point) => Math.max(0, point - 1));
    else if (event.key === 'ArrowRight') this.cursor.update((point) => Math.min(drawnPoints.length - 1, point + 1));
    else if (event.key === 'ArrowUp') this.set([{ point: this.cursor(), gain: this.cursorAt().gain + fine }], newGesture());
    else if (event.key === 'ArrowDown') this.set([{ point: this.cursor(), gain: this.cursorAt().gain - fine }], newGesture());
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  protected flatten(): void {
    this.values.set(this.step(), { curve: '' });
  }

  protected smooth(): void {
    const curve = drawnLevels({ curve: this.now()['curve'] ?? '', strength: 1, smoothness: 0.12 });
    this.values.set(this.step(), { curve: writeCurve(drawnCurve, curve) });
  }

  protected async match(source: string): Promise<void> {
    const levels = await this.matching.levels(this.step().id, source);
    if (levels) this.values.set(this.step(), { curve: writeCurve(drawnCurve, levels) });
  }

  private set(passed: readonly { readonly point: number; readonly gain: number }[], gesture: string): void {
    const curve = [...this.drawn()];
    for (const { point, gain } of passed) curve[point] = gain;
    this.cursor.set(passed.at(-1)?.point ?? this.cursor());
    this.values.set(this.step(), { curve: writeCurve(drawnCurve, curve) }, gesture);
  }

  private at(event: PointerEvent): { point: number; gain: number } {
    const box = this.plot().nativeElement.getBoundingClientRect();
    const frequency = this.x.invert(((event.clientX - box.left) / box.width) * width);
    const point = Math.round(12 * Math.log2(frequency / 20));
    return {
      point: Math.max(0, Math.min(drawnPoints.length - 1, point)),
      gain: this.y.invert(((event.clientY - box.top) / box.height) * height),
    };
  }

  private pathOf(levels: readonly number[]): string {
    return line()(levels.map((gain, i): [number, number] => [this.x(drawnPoints[i]!), this.y(gain)])) ?? '';
  }

  private spectrumPath(levels: Float32Array | undefined): string {
    if (!levels) return '';
    const points = Array.from(levels, (value, i): [number, number] => [
      this.x(spectrumLow * (spectrumHigh / spectrumLow) ** ((i + 0.5) / spectrumPoints)),
      this.level(value),
    ]);
    return area().y0(height)(points) ?? '';
  }
}
