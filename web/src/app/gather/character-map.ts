import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, viewChild } from '@angular/core';
import type { RecordingFacts, Source } from '@tangled-choir/core';
import { quadtree, scaleLog, scaleSqrt } from 'd3';
import { DestroyRef } from '@angular/core';
import { followPointer } from '../ui/follow-pointer';
import { formatDuration, formatLevel } from '../ui/quantity';

/** A source with its facts, as a point of the map. */
export interface MapPoint {
  readonly source: Source;
  readonly facts: RecordingFacts;
  /** Found by the search at the left; the others are shown faintly. */
  readonly found: boolean;
}

/** A box of the map in its own measures. */
export interface CharacterBox {
  readonly brightness: readonly [number, number];
  readonly attack: readonly [number, number];
}

/** True when a source lies inside a box of the map. */
export function isInside({ character }: RecordingFacts, { brightness, attack }: CharacterBox): boolean {
  const bright = clampBright(character.brightness);
  const rise = clampAttack(character.attackTime);
  return bright >= brightness[0] && bright <= brightness[1] && rise >= attack[0] && rise <= attack[1];
}

const darkest = 80;
const brightest = 12_000;
const sharpest = 0.0005;
const slowest = 1;
const clampBright = (value: number): number => Math.max(darkest, Math.min(brightest, value));
const clampAttack = (value: number): number => Math.max(sharpest, Math.min(slowest, value));
const margin = 26;
const brushStart = 5;
const dwell = 140;

/** The character map: dark to bright from left to right, slow to sharp from bottom to top, length as size, role as hue. */
@Component({
  selector: 'tc-character-map',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <canvas
      #canvas
      role="img"
      aria-label="Character map: dark to bright from left to right, slow to sharp from bottom to top. The list shows the same sources."
      (pointermove)="hover($event)"
      (pointerleave)="leave()"
      (pointerdown)="press($event)"
    ></canvas>
    <span class="corner top">sharp</span>
    <span class="corner bottom">slow<br />dark</span>
    <span class="corner right">bright</span>
    @if (brush(); as box) {
      <span class="brush" [style.left.px]="box.x" [style.top.px]="box.y" [style.width.px]="box.width" [style.height.px]="box.height"></span>
    }
    @if (hovered(); as near) {
      <span class="tip" [class.left]="near.x > size().width - 190" [style.left.px]="near.x" [style.top.px]="near.y">
        <strong>{{ near.point.source.name }}</strong>
        <span class="number">{{ tipText(near.point) }}</span>
      </span>
    }
  `,
  styleUrl: './character-map.scss',
})
export class CharacterMap {
  readonly points = input.required<readonly MapPoint[]>();
  readonly selected = input<string | undefined>();
  readonly box = input<CharacterBox | undefined>();
  readonly boxChange = output<CharacterBox | undefined>();
  readonly picked = output<Source>();
  /** The pointer has rested on a source for a moment. */
  readonly rested = output<Source>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly size = signal({ width: 0, height: 0 });
  protected readonly hovered = signal<{ x: number; y: number; point: MapPoint } | undefined>(undefined);
  protected readonly draft = signal<{ x: number; y: number; width: number; height: number } | undefined>(undefined);
  private timer: ReturnType<typeof setTimeout> | undefined;

  private readonly scales = computed(() => {
    const { width, height } = this.size();
    return {
      x: scaleLog([darkest, brightest], [margin, Math.max(margin + 1, width - margin)]),
      y: scaleLog([sharpest, slowest], [margin, Math.max(margin + 1, height - margin)]),
      radius: scaleSqrt([0, 12], [3.5, 16]).clamp(true),
    };
  });
  private readonly placed = computed(() => {
    const { x, y, radius } = this.scales();
    return this.points().map((point) => ({
      point,
      x: x(clampBright(point.facts.character.brightness)),
      y: y(clampAttack(point.facts.character.attackTime)),
      radius: radius(point.facts.measured.seconds),
    }));
  });
  private readonly tree = computed(() =>
    quadtree(
      this.placed(),
      (place) => place.x,
      (place) => place.y,
    ),
  );
  protected readonly brush = computed(() => {
    const draft = this.draft();
    if (draft) return draft;
    const box = this.box();
    if (!box) return undefined;
    const { x, y } = this.scales();
    return {
      x: x(box.brightness[0]),
      y: y(box.attack[0]),
      width: x(box.brightness[1]) - x(box.brightness[0]),
      height: y(box.attack[1]) - y(box.attack[0]),
    };
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    effect((cleanUp) => {
      const canvas = this.canvas().nativeElement;
      if (typeof ResizeObserver === 'undefined') return;
      const observer = new ResizeObserver(([entry]) => {
        if (entry) this.size.set({ width: Math.round(entry.contentRect.width), height: Math.round(entry.contentRect.height) });
      });
      observer.observe(canvas);
      cleanUp(() => observer.disconnect());
    });
    effect(() => this.draw());
    destroyed.onDestroy(() => clearTimeout(this.timer));
  }

  protected tipText({ facts }: MapPoint): string {
    return `${formatDuration(facts.measured.seconds)}  ${formatLevel(facts.measured.integratedLufs, 'LUFS')}`;
  }

  protected hover(event: PointerEvent): void {
    if (event.buttons !== 0) return;
    const near = this.tree().find(event.offsetX, event.offsetY, 18);
    if (near?.point.source.id === this.hovered()?.point.source.id) return;
    clearTimeout(this.timer);
    this.hovered.set(near && { x: near.x, y: near.y, point: near.point });
    if (near) this.timer = setTimeout(() => this.rested.emit(near.point.source), dwell);
  }

  protected leave(): void {
    clearTimeout(this.timer);
    this.hovered.set(undefined);
  }

  /** A click chooses the nearest source; a drag draws a box that filters the list. */
  protected press(event: PointerEvent): void {
    if (event.button !== 0) return;
    const frame = this.canvas().nativeElement.getBoundingClientRect();
    const at = (moved: PointerEvent) => ({
      x: Math.max(0, Math.min(frame.width, moved.clientX - frame.left)),
      y: Math.max(0, Math.min(frame.height, moved.clientY - frame.top)),
    });
    const from = at(event);
    followPointer(
      event,
      (moved) => {
        const now = at(moved);
        if (!this.draft() && Math.hypot(now.x - from.x, now.y - from.y) < brushStart) return;
        this.leave();
        this.draft.set({
          x: Math.min(from.x, now.x),
          y: Math.min(from.y, now.y),
          width: Math.abs(now.x - from.x),
          height: Math.abs(now.y - from.y),
        });
      },
      (givenUp) => {
        const draft = this.draft();
        this.draft.set(undefined);
        if (givenUp) return;
        if (draft) {
          const { x, y } = this.scales();
          this.boxChange.emit({
            brightness: [clampBright(x.invert(draft.x)), clampBright(x.invert(draft.x + draft.width))],
            attack: [clampAttack(y.invert(draft.y)), clampAttack(y.invert(draft.y + draft.height))],
          });
          return;
        }
        const near = this.tree().find(from.x, from.y, 18);
        if (near) this.picked.emit(near.point.source);
        else if (this.box()) this.boxChange.emit(undefined);
      },
    );
  }

  private draw(): void {
    const { width, height } = this.size();
    const placed = this.placed();
    const selected = this.selected();
    const canvas = this.canvas().nativeElement;
    if (width === 0 || height === 0) return;
    const scale = window.devicePixelRatio || 1;
    canvas.width = Math.round(width * scale);
    canvas.height = Math.round(height * scale);
    const context = canvas.getContext('2d');
    if (!context) return;
    const style = getComputedStyle(canvas);
    const hue = (role: string | undefined): string => style.getPropertyValue(role ? `--role-${role.toLowerCase()}` : '--quiet').trim();
    context.scale(scale, scale);
    context.strokeStyle = style.getPropertyValue('--line');
    context.globalAlpha = 0.5;
    const { x, y } = this.scales();
    for (const frequency of [200, 500, 1_000, 2_000, 5_000]) line(context, x(frequency), 0, x(frequency), height);
    for (const time of [0.001, 0.01, 0.1]) line(context, 0, y(time), width, y(time));
    // Large ones first, so that small ones stay in reach; what was not found lies below.
    const order = [...placed].sort((a, b) => Number(a.point.found) - Number(b.point.found) || b.radius - a.radius);
    for (const place of order) {
      context.globalAlpha = place.point.found ? 0.85 : 0.14;
      context.fillStyle = hue(place.point.source.role);
      context.beginPath();
      context.arc(place.x, place.y, place.radius, 0, 2 * Math.PI);
      context.fill();
    }
    const chosen = placed.find((place) => place.point.source.id === selected);
    if (!chosen) return;
    context.globalAlpha = 1;
    context.strokeStyle = style.getPropertyValue('--text');
    context.lineWidth = 2;
    context.beginPath();
    context.arc(chosen.x, chosen.y, chosen.radius + 2, 0, 2 * Math.PI);
    context.stroke();
  }
}

function line(context: CanvasRenderingContext2D, fromX: number, fromY: number, toX: number, toY: number): void {
  context.beginPath();
  context.moveTo(fromX, fromY);
  context.lineTo(toX, toY);
  context.stroke();
}
