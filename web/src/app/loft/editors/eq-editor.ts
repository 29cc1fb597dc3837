import type { ElementRef } from '@angular/core';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import type { EffectStep } from '@tangled-choir/core';
import { eqBandCount, eqBandRegion, eqNarrowest, eqResponse, readEqBand } from '@tangled-choir/core';
import { area, line, scaleLinear, scaleLog } from 'd3';
import { LiveEngine } from '../../engine/live/live-engine';
import { Judging } from '../../state/judging.store';
import { spectrumHigh, spectrumLow, spectrumPoints } from '../../engine/protocol';
import { followPointer } from '../../ui/follow-pointer';
import { signed } from '../../ui/quantity';
import { newGesture } from '../../ui/value-field';
import { OutputMatch } from './output-match';
import { ParameterList } from './parameter-list';
import { StepValues } from './step-values';

const curvePoints = 240;
const gainRange = 18;
const spectrumRange = { low: -90, high: -6 };
/** Kinds of bands whose handle moves in height. */
const gainKinds = new Set(['bell', 'low shelf', 'high shelf', 'tilt']);

/** The EQ as a curve with handles over the live spectrum. */
@Component({
  selector: 'tc-eq-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, OutputMatch, ParameterList],
  templateUrl: './eq-editor.html',
  styleUrl: './eq-editor.scss',
})
export class EqEditor {
  readonly step = input.required<EffectStep>();
  private readonly stepValues = inject(StepValues);
  private readonly engine = inject(LiveEngine);
  private readonly judging = inject(Judging);
  private readonly plot = viewChild.required<ElementRef<SVGSVGElement>>('plot');

  protected readonly width = 900;
  protected readonly height = 190;
  private readonly x = scaleLog([20, 20_000], [0, this.width]);
  private readonly y = scaleLinear([gainRange, -gainRange], [0, this.height]);
  private readonly level = scaleLinear([spectrumRange.high, spectrumRange.low], [0, this.height]).clamp(true);
  protected readonly frequencyTicks = [50, 100, 200, 500, 1_000, 2_000, 5_000, 10_000].map((frequency) => ({
    x: this.x(frequency),
    text: frequency >= 1_000 ? `${frequency / 1_000}k` : String(frequency),
  }));
  protected readonly gainTicks = [12, 6, 0, -6, -12].map((gain) => ({ y: this.y(gain), text: gain === 0 ? '0' : signed(gain, 0) }));

  protected readonly values = computed(() => this.stepValues.read(this.step()));
  protected readonly chosen = signal<number | undefined>(undefined);
  protected readonly bands = computed(() => {
    const values = this.values();
    return Array.from({ length: eqBandCount }, (_, index) => ({ index, ...readEqBand(values, index) }))
      .filter((band) => band.on)
      .map((band) => ({
        ...band,
        x: this.x(band.frequency),
        y: this.y(
          gainKinds.has(band.kind) ? clampGain(band.kind.includes('shelf') || band.kind === 'tilt' ? band.gain / 2 : band.gain) : 0,
        ),
      }));
  });
  /** The open band: the chosen one if it is on, else the first that is. */
  protected readonly open = computed(() => this.bands().find((band) => band.index === this.chosen()) ?? this.bands()[0]);
  protected readonly openKeys = computed(() => {
    const band = this.open();
    if (!band) return ['works', 'strength', 'output', 'mix'];
    const name = `band${band.index + 1}`;
    const own = gainKinds.has(band.kind)
      ? [`${name}Kind`, `${name}Frequency`, `${name}Gain`, ...(band.kind === 'tilt' ? [] : [`${name}Q`])]
      : band.kind.endsWith('cut')
        ? [`${name}Kind`, `${name}Frequency`, `${name}Slope`, `${name}Q`]
        : [`${name}Kind`, `${name}Frequency`, `${name}Q`];
    return [...own, 'works', 'strength', 'output', 'mix'];
  });
  protected readonly labels = computed(() => {
    const name = `band${(this.open()?.index ?? 0) + 1}`;
    return {
      [`${name}Kind`]: 'Kind',
      [`${name}Frequency`]: 'Frequency',
      [`${name}Gain`]: 'Gain',
      [`${name}Q`]: 'Width (Q)',
      [`${name}Slope`]: 'Slope, dB/oct',
    };
  });
  protected readonly curve = computed(() => {
    const values = this.values();
    const points = Array.from({ length: curvePoints }, (_, i): [number, number] => {
      const frequency = 20 * Math.pow(1_000, i / (curvePoints - 1));
      return [this.x(frequency), this.y(Math.max(-30, Math.min(30, eqResponse(values, frequency))))];
    });
    return line()(points) ?? '';
  });
  protected readonly before = computed(() => this.spectrumPath(this.engine.meters()?.before));
  protected readonly after = computed(() => this.spectrumPath(this.engine.meters()?.after));

  /** Whether only the open band is heard. */
  protected readonly listening = computed(() => {
    const alone = this.judging.alone();
    return alone?.step === this.step().id && alone.what !== 'change';
  });

  constructor() {
    // What is heard goes along with the open band while it is chosen and dragged.
    effect(() => {
      const band = this.open();
      const step = this.step().id;
      untracked(() => {
        // Another EQ was opened in the place of the one that was listened to.
        const alone = this.judging.alone();
        if (alone && alone.what !== 'change' && alone.step !== step) this.judging.listen(undefined);
        if (this.listening()) this.judging.listen(band && { step: this.step().id, what: eqBandRegion(band) });
      });
    });
    inject(DestroyRef).onDestroy(() => {
      if (this.listening()) this.judging.listen(undefined);
    });
  }

  /** Hears only what the open band works on, or everything again. */
  protected listen(): void {
    const band = this.open();
    this.judging.listen(this.listening() || !band ? undefined : { step: this.step().id, what: eqBandRegion(band) });
  }

  protected startDrag(event: PointerEvent, index: number): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    this.chosen.set(index);
    if (event.currentTarget instanceof HTMLElement) event.currentTarget.focus();
    const gesture = newGesture();
    const band = readEqBand(this.values(), index);
    const move = (moved: PointerEvent): void => {
      const { frequency, gain } = this.valuesAt(moved);
      const heightFactor = band.kind.includes('shelf') || band.kind === 'tilt' ? 2 : 1;
      this.stepValues.set(
        this.step(),
        {
          [`band${index + 1}Frequency`]: frequency,
          ...(gainKinds.has(band.kind) && !moved.shiftKey && { [`band${index + 1}Gain`]: gain * heightFactor }),
        },
        gesture,
      );
    };
    followPointer(event, move);
  }

  /** A double click on free ground turns the next unused band on, right there. */
  protected addBand(event: MouseEvent): void {
    const values = this.values();
    const { frequency, gain } = this.valuesAt(event);
    const free = [2, 3, 4, 5, 1, 6, 0, 7, 8, 9, 10, 11, 12, 13, 14, 15].find((index) => !readEqBand(values, index).on);
    if (free === undefined) return;
    const name = `band${free + 1}`;
    const kind = frequency < 45 ? 'low cut' : frequency > 15_000 ? 'high cut' : 'bell';
    this.stepValues.set(this.step(), {
      [`${name}On`]: true,
      [`${name}Kind`]: kind,
      [`${name}Frequency`]: frequency,
      [`${name}Gain`]: kind === 'bell' ? gain : 0,
      [`${name}Q`]: kind === 'bell' ? 1 : Math.SQRT1_2,
    });
    this.chosen.set(free);
  }

  protected removeBand(index: number): void {
    this.stepValues.set(this.step(), { [`band${index + 1}On`]: false });
  }

  protected wheel(event: WheelEvent, index: number): void {
    event.preventDefault();
    const band = readEqBand(this.values(), index);
    this.chosen.set(index);
    this.stepValues.set(
      this.step(),
      { [`band${index + 1}Q`]: Math.min(eqNarrowest(band.kind), band.q * Math.pow(1.0015, -event.deltaY)) },
      `wheel-${index}-${Math.floor(event.timeStamp / 1_000)}`,
    );
  }

  protected key(event: KeyboardEvent, index: number): void {
    const band = readEqBand(this.values(), index);
    const name = `band${index + 1}`;
    const fine = event.shiftKey ? 0.2 : 1;
    if (event.key === 'ArrowRight') this.stepValues.set(this.step(), { [`${name}Frequency`]: band.frequency * Math.pow(2, fine / 12) });
    else if (event.key === 'ArrowLeft') this.stepValues.set(this.step(), { [`${name}Frequency`]: band.frequency / Math.pow(2, fine / 12) });
    else if (event.key === 'ArrowUp') this.stepValues.set(this.step(), { [`${name}Gain`]: band.gain + 0.5 * fine });
    else if (event.key === 'ArrowDown') this.stepValues.set(this.step(), { [`${name}Gain`]: band.gain - 0.5 * fine });
    else if (event.key === 'Delete') this.removeBand(index);
    else if (event.key.toLowerCase() === 'h') this.listen();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  protected readout(band: { frequency: number; gain: number; q: number; kind: string }): string {
    const frequency = band.frequency >= 1_000 ? `${(band.frequency / 1_000).toFixed(2)} kHz` : `${band.frequency.toFixed(0)} Hz`;
    return gainKinds.has(band.kind) ? `${frequency} ${signed(band.gain, 1)} dB Q ${band.q.toFixed(1)}` : `${band.kind} ${frequency}`;
  }

  private valuesAt(event: MouseEvent): { frequency: number; gain: number } {
    const box = this.plot().nativeElement.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * this.width;
    const y = ((event.clientY - box.top) / box.height) * this.height;
    return {
      frequency: Math.max(20, Math.min(20_000, this.x.invert(x))),
      gain: Math.max(-gainRange, Math.min(gainRange, this.y.invert(y))),
    };
  }

  private spectrumPath(levels: Float32Array | undefined): string {
    if (!levels) return '';
    const points = Array.from(levels, (value, i): [number, number] => [
      this.x(spectrumLow * Math.pow(spectrumHigh / spectrumLow, (i + 0.5) / spectrumPoints)),
      this.level(value),
    ]);
    return area().y0(this.height)(points) ?? '';
  }
}

function clampGain(gain: number): number {
  return Math.max(-gainRange + 1, Math.min(gainRange - 1, gain));
}
