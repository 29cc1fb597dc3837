import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { PictureMoment } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { PictureStore } from '../../state/picture.store';
import { Playback } from '../../state/playback.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { MenuPanel } from '../../ui/menu-panel';
import { followPointer } from '../../ui/follow-pointer';
import { TimelineScale } from '../timeline/timeline-scale';

const height = 46;
const mostThumbnails = 60;
const kindNames = { cut: 'Cut', flash: 'Flash', movement: 'Movement' } as const;

/** Frames of the picture along the time axis, its motion curve behind them, and the moments found in it, to be taken over as marks. */
@Component({
  selector: 'tc-picture-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatMenuModule, MatTooltipModule, MenuPanel],
  template: `
    <canvas #canvas [width]="box().width" [height]="height" [style.left.px]="box().left" aria-hidden="true"></canvas>
    @for (moment of shown(); track moment.time) {
      <button
        class="moment"
        [class]="moment.kind"
        [style.left.px]="moment.x"
        [style.opacity]="0.45 + 0.55 * moment.strength"
        [attr.aria-label]="'Take over: ' + kindNames[moment.kind] + ' at ' + moment.at.toFixed(3) + ' s'"
        [matTooltip]="kindNames[moment.kind] + ', strength ' + (moment.strength * 100).toFixed(0) + ' %: click makes it a mark'"
        (pointerdown)="$event.stopPropagation()"
        (click)="accept([moment])"
      ></button>
    }
    @if (store.moments().length > 0) {
      <button mat-button class="found" [matMenuTriggerFor]="menu" (pointerdown)="$event.stopPropagation()">
        {{ shown().length }} moments
      </button>
    }
    <mat-menu #menu="matMenu">
      <div class="panel" tcMenuPanel>
        <label
          >Strength from
          <input #level type="range" min="0" max="0.95" step="0.05" [value]="least()" (input)="least.set(+level.value)" />
          <span class="number">{{ (least() * 100).toFixed(0) }} %</span></label
        >
      </div>
      <button mat-menu-item [disabled]="shown().length === 0" (click)="accept(shown())">Make marks of all {{ shown().length }}</button>
    </mat-menu>
  `,
  styleUrl: './picture-strip.scss',
  host: { '(pointerdown)': 'scrub($event)' },
})
export class PictureStrip {
  readonly seconds = input.required<number>();
  readonly timeAt = input.required<(clientX: number) => number>();
  protected readonly store = inject(PictureStore);
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly scale = inject(TimelineScale);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly height = height;
  protected readonly kindNames = kindNames;
  protected readonly least = signal(0.15);
  private readonly picture = computed(() => this.workbench.sound()?.picture);
  private readonly thumbnails = new Map<string, CanvasImageSource>();

  /** Where on the axis the picture lies, in pixels, as far as the axis reaches. */
  protected readonly box = computed(() => {
    const picture = this.picture();
    if (!picture) return { left: 0, width: 0 };
    const zoom = this.scale.pixelsPerSecond();
    const from = Math.max(0, picture.offset);
    const to = Math.min(this.seconds(), picture.offset + picture.seconds);
    return { left: from * zoom, width: Math.max(0, Math.min(16_000, Math.round((to - from) * zoom))) };
  });
  protected readonly shown = computed(() => {
    const picture = this.picture();
    if (!picture) return [];
    return this.store
      .moments()
      .filter(({ strength }) => strength >= this.least())
      .map((moment) => ({ ...moment, at: moment.time + picture.offset, x: (moment.time + picture.offset) * this.scale.pixelsPerSecond() }))
      .filter(({ at }) => at >= 0 && at <= this.seconds());
  });

  constructor() {
    effect((cleanUp) => {
      const reader = this.store.reader();
      const picture = this.picture();
      const motion = this.store.motion();
      const { width } = this.box();
      const zoom = this.scale.pixelsPerSecond();
      const context = this.canvas().nativeElement.getContext('2d');
      if (!reader || !picture || !context || width === 0) return;
      let current = true;
      cleanUp(() => (current = false));
      const start = Math.max(0, -picture.offset);
      const each = (height * picture.width) / picture.height;
      const count = Math.min(mostThumbnails, Math.ceil(width / each));
      const draw = async (): Promise<void> => {
        // The canvas was emptied by its new size only after this task.
        await new Promise((resolve) => setTimeout(resolve));
        if (!current) return;
        const places = Array.from({ length: count }, (_, n) => {
          const x = (n * width) / count;
          const time = start + (x + each / 2) / zoom;
          return { x, time: Math.min(time, picture.seconds - 0.01), key: `${picture.video}|${time.toFixed(2)}` };
        });
        const paint = (image: CanvasImageSource, x: number): void => {
          context.globalAlpha = 0.75;
          context.drawImage(image, x, 0, Math.max(1, Math.min(each, width / count) - 1), height);
        };
        for (const { key, x } of places) if (this.thumbnails.has(key)) paint(this.thumbnails.get(key)!, x);
        const missing = places.filter(({ key }) => !this.thumbnails.has(key));
        try {
          let next = 0;
          for await (const image of reader.thumbnailsAt(missing.map(({ time }) => time))) {
            if (!current) return;
            const { key, x } = missing[next++]!;
            if (!image) continue;
            this.thumbnails.set(key, image);
            paint(image, x);
          }
        } catch {
          // Of a damaged picture, what can be decoded is shown; the monitor tells what is wrong.
        }
        if (!motion || !current) return;
        context.globalAlpha = 0.9;
        context.strokeStyle = getComputedStyle(this.canvas().nativeElement).getPropertyValue('--live');
        context.beginPath();
        motion.times.forEach((time, n) =>
          context.lineTo((time - start) * zoom, height - 2 - Math.min(1, motion.motion[n]! * 12) * (height - 6)),
        );
        context.stroke();
      };
      void draw();
    });
  }

  /** Pressing and dragging moves the playhead along, so that the monitor shows every frame on the way. */
  protected scrub(event: PointerEvent): void {
    if (event.button !== 0) return;
    this.playback.seek(this.timeAt()(event.clientX));
    followPointer(event, (moved) => this.playback.seek(this.timeAt()(moved.clientX)));
  }

  protected accept(moments: readonly (PictureMoment & { readonly at: number })[]): void {
    const sound = this.workbench.sound();
    if (!sound || moments.length === 0) return;
    const numbers = { cut: 0, flash: 0, movement: 0 };
    this.document.edit('addMarks', {
      sound: sound.id,
      marks: moments.map(({ kind, at }) => ({ name: `${kindNames[kind]} ${++numbers[kind]}`, time: at, colour: 'sky' as const })),
    });
  }
}
