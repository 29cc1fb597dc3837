import type { ElementRef, OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, effect, inject, input, untracked, viewChild } from '@angular/core';
import { ConductTakes } from '../state/conduct-takes.store';
import type { CourseSpan } from '../state/simulator-course';
import { SimulatorCourse } from '../state/simulator-course';
import { Simulator } from '../state/simulator.store';
import { roleColour } from '../ui/roles';
import type { BehaviourRow } from './conduct-bench';

export const rowHeight = 36;
/** Where now is, as a share of the width. */
const nowAt = 0.34;
const secondsBefore = 6;

/** Beside each behaviour, what it played until now, and what it will play next: at the left of the line what was, at its right what comes. */
@Component({
  selector: 'tc-course-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<canvas #canvas role="img" aria-label="What each behaviour played, and what it will play next"></canvas>`,
  styles: `
    :host {
      display: block;
      pointer-events: none;
    }
    canvas {
      display: block;
      width: 100%;
      height: 100%;
    }
  `,
})
export class CoursePicture implements OnDestroy {
  readonly rows = input.required<readonly BehaviourRow[]>();
  private readonly simulator = inject(Simulator);
  private readonly takes = inject(ConductTakes);
  private readonly course = inject(SimulatorCourse);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private drawing = 0;
  private readonly resized = new ResizeObserver(() => this.ask());

  constructor() {
    effect(() => {
      // Whatever of these changes is seen.
      this.rows();
      this.simulator.frame();
      this.simulator.revision();
      this.simulator.phase();
      this.takes.data();
      const canvas = this.canvas().nativeElement;
      untracked(() => {
        this.resized.observe(canvas);
        this.ask();
      });
    });
  }

  ngOnDestroy(): void {
    cancelAnimationFrame(this.drawing);
    this.resized.disconnect();
  }

  private ask(): void {
    cancelAnimationFrame(this.drawing);
    this.drawing = requestAnimationFrame(() => this.draw());
  }

  private draw(): void {
    const canvas = this.canvas().nativeElement;
    const { clientWidth: width, clientHeight: height } = canvas;
    const context = canvas.getContext('2d');
    if (!context || width === 0) return;
    const ratio = devicePixelRatio;
    canvas.width = width * ratio;
    canvas.height = height * ratio;
    context.scale(ratio, ratio);
    const style = getComputedStyle(canvas);
    const colourOf = (name: string): string => style.getPropertyValue(name.replace(/^var\((.*)\)$/, '$1')).trim();
    const rows = this.rows();
    const scale = (width * nowAt) / secondsBefore;
    const now = width * nowAt;
    const { spans, frame, sampleRate } = this.course.around(secondsBefore, (width - now) / scale);
    const at = (frames: number): number => now + ((frames - frame) / sampleRate) * scale;
    const places = new Map<string, number[]>();
    rows.forEach(({ behaviour }, row) => {
      for (const id of this.course.lineOf(behaviour.id)) places.set(id, [...(places.get(id) ?? []), row]);
    });
    context.fillStyle = colourOf('--line');
    context.globalAlpha = 0.5;
    for (let second = Math.max(0, Math.ceil(frame / sampleRate - secondsBefore)); at(second * sampleRate) < width; second++)
      context.fillRect(Math.round(at(second * sampleRate)), 0, 1, height);
    context.globalAlpha = 1;
    const colours = rows.map(({ role }) => colourOf(roleColour(role)));
    for (const span of spans)
      for (const row of places.get(span.behaviour) ?? []) {
        context.fillStyle = colours[row]!;
        this.drawSpan(context, span, { at, top: row * rowHeight, width, own: rows[row]!.behaviour.id === span.behaviour });
      }
    context.globalAlpha = 1;
    context.fillStyle = colourOf('--text');
    context.fillRect(Math.round(now) - 1, 0, 2, height);
  }

  private drawSpan(
    context: CanvasRenderingContext2D,
    { span: { from, to, gains, loops }, when }: CourseSpan,
    {
      at,
      top,
      width,
      own,
    }: { readonly at: (frames: number) => number; readonly top: number; readonly width: number; readonly own: boolean },
  ): void {
    const low = top + rowHeight - 5;
    const highest = rowHeight - 10;
    const heightOf = (gain: number): number => Math.max(0, Math.min(1, 1 + (20 * Math.log10(Math.max(gain, 1e-4))) / 36)) * highest;
    const shown = when === 'past' ? 1 : when === 'coming' ? 0.75 : 0.32;
    const [left, right] = [at(from), to === undefined ? width : Math.min(width, at(to))];
    if (right < 0 || left > width) return;
    // How long it sounds, faintly; that it began, clearly.
    context.globalAlpha = shown * (loops ? 0.4 : 0.16) * (own ? 1 : 0.7);
    context.beginPath();
    context.moveTo(left, low);
    gains.forEach(({ frame, gain }, i) => {
      if (i > 0) context.lineTo(Math.max(left, at(frame)), low - heightOf(gains[i - 1]!.gain));
      context.lineTo(Math.max(left, at(frame)), low - heightOf(gain));
    });
    context.lineTo(right, low - heightOf(gains.at(-1)!.gain));
    context.lineTo(right, low);
    context.fill();
    if (loops) return;
    context.globalAlpha = shown;
    const height = Math.max(3, heightOf(gains[0]!.gain));
    context.fillRect(left, low - height, 3, height);
  }
}
