import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, effect, input, viewChild } from '@angular/core';
import type { Spectrogram } from '@tangled-choir/core';
import { ramp } from './ramp';

const floor = -96;
const ceiling = -18;

/** Writes a spectrogram as pixels, low frequencies at the bottom. */
export function paintSpectrogram({ columns, rows, levels }: Spectrogram, pixels: Uint8ClampedArray): void {
  for (let column = 0; column < columns; column++) {
    for (let row = 0; row < rows; row++) {
      const share = (levels[column * rows + row]! - floor) / (ceiling - floor);
      const place = Math.round(Math.max(0, Math.min(1, share)) * 255) * 3;
      const at = ((rows - 1 - row) * columns + column) * 4;
      pixels[at] = ramp[place]!;
      pixels[at + 1] = ramp[place + 1]!;
      pixels[at + 2] = ramp[place + 2]!;
      pixels[at + 3] = 255;
    }
  }
}

/** A small spectrogram that fills its box. */
@Component({
  selector: 'tc-spectrogram',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<canvas #canvas role="img" [attr.aria-label]="label()"></canvas>`,
  styles: `
    :host {
      display: block;
    }
    canvas {
      display: block;
      width: 100%;
      height: 100%;
    }
  `,
})
export class SpectrogramView {
  readonly spectrogram = input<Spectrogram | undefined>();
  readonly label = input('Spectrogram');
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');

  constructor() {
    effect(() => {
      const spectrogram = this.spectrogram();
      const canvas = this.canvas().nativeElement;
      if (!spectrogram) return;
      canvas.width = spectrogram.columns;
      canvas.height = spectrogram.rows;
      const context = canvas.getContext('2d');
      if (!context) return;
      const image = context.createImageData(spectrogram.columns, spectrogram.rows);
      paintSpectrogram(spectrogram, image.data);
      context.putImageData(image, 0, 0);
    });
  }
}
