import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, viewChild } from '@angular/core';
import type { EffectStep } from '@tangled-choir/core';
import { effectsById, graphicBands, graphicCurve } from '@tangled-choir/core';
import { followPointer } from '../../ui/follow-pointer';
import { signed } from '../../ui/quantity';
import { newGesture } from '../../ui/value-field';
import { ParameterList } from './parameter-list';
import { StepValues } from './step-values';

const reach = 18;
const pointsPerBand = 8;

/** The graphic EQ as sliders side by side: drag one, or draw across many at once. */
@Component({
  selector: 'tc-graphic-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ParameterList],
  template: `
    <div #plot class="plot" (pointerdown)="draw($event)">
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
        @for (line of lines; track line.level) {
          <line x1="0" x2="100" [attr.y1]="line.y" [attr.y2]="line.y" [class.zero]="line.level === 0" />
        }
        <path [attr.d]="path()" />
      </svg>
      @for (band of bands(); track band.key) {
        <button
          class="handle"
          [class.automated]="band.automated"
          role="slider"
          [attr.aria-label]="band.label + ' Hz'"
          [attr.aria-valuemin]="-reach"
          [attr.aria-valuemax]="reach"
          [attr.aria-valuenow]="band.gain"
          [attr.aria-valuetext]="band.text"
          [title]="band.label + ' Hz: ' + band.text + (band.automated ? ', automated' : '')"
          [style.left.%]="band.x"
          [style.top.%]="band.y"
          (keydown)="key($event, band.index)"
          (dblclick)="setBand(band.index, 0)"
        ></button>
        @if (band.index % 3 === 2) {
          <span class="number tick" [style.left.%]="band.x">{{ band.label }}</span>
        }
      }
      @for (line of lines; track line.level) {
        <span class="number level" [style.top.%]="line.y">{{ line.text }}</span>
      }
    </div>
    <tc-parameter-list [step]="step()" [only]="['strength', 'mix']" />
  `,
  styleUrl: '../../ui/plot-labels.scss',
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 260px;
      min-height: 0;
    }
    .plot {
      position: relative;
      margin: 8px 16px 22px 46px;
      cursor: crosshair;
      touch-action: none;
    }
    svg {
      position: absolute;
      width: 100%;
      height: 100%;
    }
    line {
      stroke: var(--line);
      stroke-opacity: 0.5;
      vector-effect: non-scaling-stroke;
    }
    .zero {
      stroke-opacity: 1;
    }
    path {
      fill: none;
      stroke: var(--text);
      stroke-width: 1.5;
      vector-effect: non-scaling-stroke;
    }
    .handle {
      position: absolute;
      width: 12px;
      height: 12px;
      margin: -6px 0 0 -6px;
      padding: 0;
      border: 2px solid var(--text);
      border-radius: 50%;
      background: var(--background);
      cursor: ns-resize;
    }
    .handle.automated {
      border-color: var(--live);
    }
    .handle:hover,
    .handle:focus-visible {
      border-color: var(--live);
      background: var(--live);
    }
    tc-parameter-list {
      border-left: 1px solid var(--line);
    }
  `,
})
export class GraphicEditor {
  readonly step = input.required<EffectStep>();
  private readonly values = inject(StepValues);
  private readonly plot = viewChild.required<ElementRef<HTMLElement>>('plot');
  protected readonly reach = reach;
  protected readonly lines = [12, 6, 0, -6, -12].map((level) => ({ level, y: placeY(level), text: level === 0 ? '0' : signed(level, 0) }));

  private readonly now = computed(() => this.values.read(this.step()));
  protected readonly bands = computed(() => {
    const parameters = effectsById.get(this.step().effect)?.parameters ?? {};
    return graphicBands.map((_, index) => {
      const key = `band${index + 1}`;
      const gain = Number(this.now()[key] ?? 0);
      const automated = this.values.isAutomated(this.step(), key);
      const text = `${signed(gain, 1)} dB`;
      return { key, index, gain, x: placeX(index), y: placeY(gain), label: parameters[key]?.label ?? '', text, automated };
    });
  });
  /** The curve that the sliders make together, strength included. */
  protected readonly path = computed(() => {
    const curve = graphicCurve(this.now());
    return Array.from({ length: (graphicBands.length - 1) * pointsPerBand + 1 }, (_, i) => {
      const band = i / pointsPerBand;
      const level = curve(1_000 * 2 ** ((band - 17) / 3));
      return `${i === 0 ? 'M' : 'L'}${placeX(band).toFixed(2)} ${placeY(level).toFixed(2)}`;
    }).join('');
  });

  /** A drag sets the slider under the pointer, and every one that it passes. */
  protected draw(event: PointerEvent): void {
    if (event.button !== 0) return;
    const gesture = newGesture();
    let before = this.at(event);
    this.set({ [before.band]: before.gain }, gesture);
    followPointer(event, (moved) => {
      const now = this.at(moved);
      const passed: Record<number, number> = { [now.band]: now.gain };
      const steps = Math.abs(now.band - before.band);
      for (let i = 1; i < steps; i++) {
        const share = i / steps;
        passed[Math.round(before.band + (now.band - before.band) * share)] = before.gain + (now.gain - before.gain) * share;
      }
      before = now;
      this.set(passed, gesture);
    });
  }

  protected key(event: KeyboardEvent, index: number): void {
    const step = event.shiftKey ? 0.1 : 1;
    const by = { ArrowUp: step, ArrowDown: -step }[event.key];
    if (by === undefined) return;
    this.setBand(index, Number(this.now()[`band${index + 1}`] ?? 0) + by);
    event.preventDefault();
    event.stopPropagation();
  }

  protected setBand(index: number, gain: number): void {
    this.set({ [index]: gain }, newGesture());
  }

  private set(gains: Readonly<Record<number, number>>, gesture: string): void {
    const values: Record<string, number> = {};
    for (const [band, gain] of Object.entries(gains)) values[`band${Number(band) + 1}`] = Math.max(-reach, Math.min(reach, gain));
    this.values.set(this.step(), values, gesture);
  }

  private at(event: PointerEvent): { band: number; gain: number } {
    const box = this.plot().nativeElement.getBoundingClientRect();
    const place = ((event.clientX - box.left) / box.width) * graphicBands.length - 0.5;
    const gain = (0.5 - (event.clientY - box.top) / box.height) * 2 * reach;
    // A tenth of a decibel is as fine as a drag can mean it.
    return { band: Math.max(0, Math.min(graphicBands.length - 1, Math.round(place))), gain: Math.round(gain * 10) / 10 };
  }
}

function placeX(band: number): number {
  return ((band + 0.5) / graphicBands.length) * 100;
}

function placeY(gain: number): number {
  return 50 - (gain / reach) * 50;
}
