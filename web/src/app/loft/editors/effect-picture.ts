import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { EffectPicture as Picture, EffectStep, PictureAxis, PictureRole } from '@tangled-choir/core';
import { effectsById, inTempo, pictureOf } from '@tangled-choir/core';
import { line, scaleLinear, scaleLog } from 'd3';
import { WorkbenchStore } from '../../state/workbench.store';
import { StepValues } from './step-values';

const width = 400;
const height = 160;

interface Tick {
  readonly at: number;
  readonly text: string;
}

/** What the open step does, drawn from its values: a curve, a hit, its echoes, one round of its movement. */
@Component({
  selector: 'tc-effect-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (shown(); as picture) {
      <p class="quiet title">{{ picture.title }}</p>
      <div class="plot">
        <svg [attr.viewBox]="'0 0 ' + width + ' ' + height" preserveAspectRatio="none" role="img" [attr.aria-label]="picture.title">
          @for (tick of picture.x; track tick.text) {
            <line class="grid" [attr.x1]="tick.at" [attr.x2]="tick.at" y1="0" [attr.y2]="height" />
          }
          @for (tick of picture.y; track tick.text) {
            <line class="grid" x1="0" [attr.x2]="width" [attr.y1]="tick.at" [attr.y2]="tick.at" />
          }
          @for (curve of picture.curves; track $index) {
            <path [class]="curve.kind" [attr.d]="curve.path" />
          }
          @for (stem of picture.stems; track $index) {
            <line [class]="stem.kind" [attr.x1]="stem.x" [attr.x2]="stem.x" [attr.y1]="height" [attr.y2]="stem.y" />
          }
        </svg>
        @for (tick of picture.x; track tick.text) {
          <span class="tick bottom number" [style.left.%]="(tick.at / width) * 100">{{ tick.text }}</span>
        }
        @for (tick of picture.y; track tick.text) {
          <span class="tick side number" [style.top.%]="(tick.at / height) * 100">{{ tick.text }}</span>
        }
      </div>
    }
  `,
  styleUrls: ['./picture.scss', './effect-picture.scss'],
})
export class EffectPicture {
  readonly step = input.required<EffectStep>();
  private readonly values = inject(StepValues);
  private readonly workbench = inject(WorkbenchStore);
  protected readonly width = width;
  protected readonly height = height;

  private readonly picture = computed(() => {
    const effect = effectsById.get(this.step().effect);
    if (!effect?.picture) return undefined;
    const bpm = this.workbench.sound()?.tempo.bpm ?? 120;
    return pictureOf(effect, inTempo(effect.parameters, this.values.read(this.step()), bpm));
  });
  protected readonly shown = computed(() => {
    const picture = this.picture();
    if (!picture) return undefined;
    const x = scaleOf(picture.x, [0, width]);
    const y = scaleOf(picture.y, [height, 0]);
    const path = line<readonly [number, number]>()
      .x(([at]) => x(at))
      .y(([, value]) => y(value));
    return {
      title: picture.title,
      x: ticksOf(picture.x, x, 4),
      y: ticksOf(picture.y, y, 4),
      curves: picture.curves.map(({ role, points }) => ({ kind: kindOf(role), path: path(points) ?? '' })),
      stems: stemsOf(picture).map(({ role, at, height: top }) => ({ kind: `stem ${kindOf(role)}`, x: x(at), y: y(top) })),
    };
  });
}

/** The main side last, so that it stands in front where both are the same. */
const stemsOf = ({ stems = [] }: Picture): NonNullable<Picture['stems']> => [
  ...stems.filter(({ role }) => role !== 'main'),
  ...stems.filter(({ role }) => role === 'main'),
];
const kindOf = (role: PictureRole): string => role.replace(' ', '-');

function scaleOf({ from, to, scale }: PictureAxis, range: readonly [number, number]) {
  const made = scale === 'log' ? scaleLog() : scaleLinear();
  return made.domain([from, to]).range(range).clamp(true);
}

/** A few round places of an axis, with their units. */
function ticksOf(axis: PictureAxis, at: (value: number) => number, count: number): Tick[] {
  const values =
    axis.scale === 'log'
      ? [0.1, 1, 10, 100, 1_000, 10_000].filter((value) => value >= axis.from && value <= axis.to)
      : scaleLinear().domain([axis.from, axis.to]).ticks(count);
  return values.map((value) => ({ at: at(value), text: textOf(value, axis) }));
}

function textOf(value: number, { unit, to, scale }: PictureAxis): string {
  const sign = value < 0 ? '−' : '';
  const size = Math.abs(value);
  if (unit === 'Hz') return size >= 1_000 ? `${size / 1_000}k` : String(size);
  if (unit === 's' && scale === 'linear' && to < 0.5) return `${Number((size * 1_000).toPrecision(3))} ms`;
  if (unit === 's') return `${Number(size.toPrecision(3))} s`;
  return `${sign}${Number(size.toPrecision(3))}`;
}
