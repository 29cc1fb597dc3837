import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, viewChild } from '@angular/core';
import type { Branch } from '@tangled-choir/core';
import { hertz } from '@tangled-choir/core';
import { area, scaleLinear, scaleLog } from 'd3';
import { LiveEngine } from '../../engine/live/live-engine';
import { spectrumHigh, spectrumLow, spectrumPoints } from '../../engine/protocol';
import { followPointer } from '../../ui/follow-pointer';
import { formatQuantity } from '../../ui/quantity';
import { newGesture } from '../../ui/value-field';

/** A split that was moved. */
export interface SplitMove {
  readonly index: number;
  readonly frequency: number;
  readonly gesture?: string;
}

const splitParameter = hertz({ label: 'Split', min: 20, max: 20_000, default: 1_000 });
export const formatSplit = (frequency: number): string => formatQuantity(frequency, splitParameter);

const width = 400;
const height = 100;
/** Splits stay this far apart. */
const leastRatio = 1.06;

/** Bands over the spectrum that goes into them, with handles between them. */
@Component({
  selector: 'tc-split-graph',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg #plot [attr.viewBox]="'0 0 ${width} ${height}'" preserveAspectRatio="none" aria-hidden="true">
      @for (band of bands(); track band.index) {
        <rect
          [class.odd]="band.index % 2"
          [class.silent]="band.silent"
          [attr.x]="band.from"
          [attr.width]="band.to - band.from"
          y="0"
          height="${height}"
        />
      }
      <path class="spectrum" [attr.d]="spectrum()" />
    </svg>
    @for (handle of handles(); track handle.index) {
      <button
        class="handle"
        role="slider"
        [style.left.%]="handle.place"
        [attr.aria-label]="'Split ' + (handle.index + 1)"
        [attr.aria-valuenow]="handle.frequency"
        [attr.aria-valuetext]="handle.text"
        [title]="handle.text + '. Drag it, or use the arrow keys'"
        (pointerdown)="drag($event, handle.index)"
        (keydown)="key($event, handle.index)"
      >
        <span class="number">{{ handle.text }}</span>
      </button>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: block;
      margin: 8px 12px 4px;
      overflow: hidden;
      border: 1px solid var(--line);
      border-radius: 4px;
    }
    svg {
      position: absolute;
      inset: 0;
      width: 100%;
      height: 100%;
    }
    rect {
      fill: var(--surface-2);
    }
    .odd {
      fill: var(--surface-3);
    }
    .silent {
      fill: var(--background);
    }
    .spectrum {
      fill: color-mix(in srgb, var(--role-body) 45%, transparent);
    }
    .handle {
      position: absolute;
      top: 0;
      bottom: 0;
      width: 13px;
      margin-left: -7px;
      padding: 0;
      border: 0;
      background: linear-gradient(90deg, transparent 6px, var(--text) 6px, var(--text) 7px, transparent 7px);
      cursor: ew-resize;
      touch-action: none;
    }
    .handle:focus-visible,
    .handle:hover {
      background: linear-gradient(90deg, transparent 5px, var(--live) 5px, var(--live) 8px, transparent 8px);
    }
    .handle span {
      position: absolute;
      top: 4px;
      left: 12px;
      font-size: 11px;
      white-space: nowrap;
      pointer-events: none;
    }
  `,
})
export class SplitGraph {
  readonly splits = input.required<readonly number[]>();
  readonly branches = input.required<readonly Branch[]>();
  readonly moved = output<SplitMove>();
  private readonly engine = inject(LiveEngine);
  private readonly plot = viewChild.required<ElementRef<SVGSVGElement>>('plot');
  private readonly x = scaleLog([20, 20_000], [0, width]).clamp(true);
  private readonly level = scaleLinear([-12, -90], [0, height]).clamp(true);

  protected readonly bands = computed(() => {
    const edges = [20, ...this.splits(), 20_000].map((frequency) => this.x(frequency));
    const branches = this.branches();
    const alone = branches.some(({ soloed }) => soloed);
    return branches.map(({ muted, soloed }, index) => ({
      index,
      from: edges[index]!,
      to: edges[index + 1]!,
      silent: muted || (alone && !soloed),
    }));
  });
  protected readonly handles = computed(() =>
    this.splits().map((frequency, index) => ({
      index,
      frequency,
      place: (this.x(frequency) / width) * 100,
      text: formatSplit(frequency),
    })),
  );
  protected readonly spectrum = computed(() => {
    const levels = this.engine.meters()?.before;
    if (!levels) return '';
    const points = Array.from(levels, (value, i): [number, number] => [
      this.x(spectrumLow * (spectrumHigh / spectrumLow) ** ((i + 0.5) / spectrumPoints)),
      this.level(value),
    ]);
    return area().y0(height)(points) ?? '';
  });

  protected drag(event: PointerEvent, index: number): void {
    if (event.button !== 0) return;
    if (event.currentTarget instanceof HTMLElement) event.currentTarget.focus();
    const gesture = newGesture();
    const box = this.plot().nativeElement.getBoundingClientRect();
    followPointer(event, (moved) => this.move(index, this.x.invert(((moved.clientX - box.left) / box.width) * width), gesture));
  }

  protected key(event: KeyboardEvent, index: number): void {
    const direction = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (direction === 0) return;
    event.preventDefault();
    event.stopPropagation();
    this.move(index, this.splits()[index]! * 2 ** ((direction * (event.shiftKey ? 0.2 : 1)) / 12));
  }

  private move(index: number, frequency: number, gesture?: string): void {
    const splits = this.splits();
    const lowest = (splits[index - 1] ?? 20) * (index > 0 ? leastRatio : 1);
    const highest = (splits[index + 1] ?? 20_000) / (index < splits.length - 1 ? leastRatio : 1);
    const kept = Math.max(lowest, Math.min(highest, frequency));
    this.moved.emit({ index, frequency: kept, ...(gesture !== undefined && { gesture }) });
  }
}
