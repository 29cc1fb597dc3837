import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { fieldDirections } from '@tangled-choir/core';
import { line } from 'd3';

const radius = 88;
const width = 220;
const height = 104;

/** Where energy lies between left and right, as a fan: up is the middle, the rims of the lit part are the sides, beyond them it cancels in mono. */
@Component({
  selector: 'tc-stereo-fan',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 ${width} ${height}" role="img" aria-label="Stereo field: left, middle, right">
      <path class="outside" [attr.d]="outside" />
      <path class="inside" [attr.d]="inside" />
      <path class="energy" [attr.d]="shape()" />
      <path class="axis" [attr.d]="axis" />
      @for (label of labels; track $index) {
        <text [attr.x]="label.x" [attr.y]="label.y">{{ label.text }}</text>
      }
    </svg>
  `,
  styles: `
    :host {
      display: block;
      min-height: 0;
    }
    svg {
      width: 100%;
      height: 100%;
    }
    .outside {
      fill: color-mix(in srgb, var(--warning) 9%, var(--background));
    }
    .inside {
      fill: var(--background);
      stroke: var(--line);
    }
    .energy {
      fill: color-mix(in srgb, var(--live) 45%, transparent);
      stroke: var(--live);
    }
    .axis {
      stroke: var(--line);
      stroke-dasharray: 2 3;
    }
    text {
      fill: var(--quiet);
      font-size: 10px;
      text-anchor: middle;
    }
  `,
})
export class StereoFan {
  readonly field = input.required<Float32Array | undefined>();
  protected readonly outside = sector(-90, 90);
  protected readonly inside = sector(-45, 45);
  protected readonly axis = `M${at(0, 0).join()}L${at(0, radius).join()}`;
  protected readonly labels = [
    { text: 'L', ...placed(-45) },
    { text: 'R', ...placed(45) },
    { text: 'out', ...placed(-78) },
    { text: 'out', ...placed(78) },
  ];
  protected readonly shape = computed(() => {
    const field = this.field();
    if (!field) return '';
    const points = Array.from(field, (energy, direction) => {
      const degrees = (direction / (fieldDirections - 1) - 0.5) * 180;
      // By level: 24 dB fill the radius.
      return at(degrees, Math.max(0, 1 + Math.log10(Math.max(1e-9, energy)) / 2.4) * radius);
    });
    return `${line()(points) ?? ''}L${at(0, 0).join()}Z`;
  });
}

/** A place by its direction, 0 up, and its distance from the foot of the fan. */
function at(degrees: number, distance: number): [number, number] {
  const angle = (degrees * Math.PI) / 180;
  return [width / 2 + distance * Math.sin(angle), height - distance * Math.cos(angle)];
}

/** Where a label stands, outside the fan. */
function placed(degrees: number): { readonly x: number; readonly y: number } {
  const [x, y] = at(degrees, radius + 9);
  return { x, y: y + 3 };
}

function sector(from: number, to: number): string {
  const [x, y] = at(from, radius);
  const [toX, toY] = at(to, radius);
  return `M${at(0, 0).join()}L${x},${y}A${radius},${radius} 0 0 1 ${toX},${toY}Z`;
}
