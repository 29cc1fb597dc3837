import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, viewChild } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import type { EffectStep } from '@tangled-choir/core';
import { fadeGain, readReference } from '@tangled-choir/core';
import { line } from 'd3';
import { AudioLibrary } from '../../engine/audio-library';
import { DocumentStore } from '../../state/project/document.store';
import { followPointer } from '../../ui/follow-pointer';
import { formatDuration, signed } from '../../ui/quantity';
import { newGesture } from '../../ui/value-field';
import { Waveform } from '../../ui/waveform';
import { StepValues } from './step-values';

/** Length in seconds of the noise that stands in while no recording is chosen. */
const standIn = 0.8;
const steps = 24;

interface Handle {
  readonly key: 'from' | 'to' | 'fadeIn' | 'fadeOut';
  readonly label: string;
  /** Where it is along the recording, from 0 to 1. */
  readonly at: number;
  readonly share: number;
}

/**
 * The response of a convolution as its recording: the part that is used between two handles, its fades by two more, which way it plays and how it
 * is tilted.
 */
@Component({
  selector: 'tc-response-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, Waveform],
  templateUrl: './response-picture.html',
  styleUrls: ['./picture.scss', './response-picture.scss'],
})
export class ResponsePicture {
  readonly step = input.required<EffectStep>();
  private readonly stepValues = inject(StepValues);
  private readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  private readonly plot = viewChild.required<ElementRef<HTMLElement>>('plot');

  private readonly values = computed(() => {
    const read = this.stepValues.read(this.step());
    const number = (key: string): number => Number(read[key]);
    return {
      from: number('from'),
      to: number('to'),
      fadeIn: number('fadeIn'),
      fadeOut: number('fadeOut'),
      stretch: number('stretch'),
      tilt: number('tilt'),
      reversed: read['reversed'] === true,
      response: String(read['response']),
    };
  });
  protected readonly source = computed(() => {
    const reference = readReference(this.values().response);
    return this.document.project()?.sources.find(({ id }) => id === reference?.id);
  });
  protected readonly overview = computed(() => this.library.overview(this.source()?.audio ?? ''));
  protected readonly range = computed(() => {
    const { from, to } = this.values();
    return { low: Math.min(from, to), high: Math.max(from, to) };
  });
  protected readonly reversed = computed(() => this.values().reversed);
  /** What is used, how long it becomes and how it is turned, in words. */
  protected readonly told = computed(() => {
    const { stretch, tilt, reversed } = this.values();
    const { low, high } = this.range();
    const rate = this.document.project()?.sampleRate ?? 48_000;
    const whole = (this.source()?.frames ?? standIn * rate) / rate;
    const parts = [formatDuration((high - low) * whole * stretch)];
    if (reversed) parts.push('backwards');
    if (tilt !== 0) parts.push(`${signed(tilt, 1)} dB per octave`);
    return `${this.source()?.name ?? 'Fading noise'}: ${parts.join(', ')}`;
  });
  /** The fades on the left and on the right of the part, as shares of it. */
  private readonly sides = computed(() => {
    const { fadeIn, fadeOut, reversed } = this.values();
    return reversed ? { left: fadeOut, right: fadeIn } : { left: fadeIn, right: fadeOut };
  });
  /** How loud the response gets along the part: up, across and down, in a box of 100 by 100, above and below its middle. */
  protected readonly envelope = computed(() => {
    const { low, high } = this.range();
    const { left, right } = this.sides();
    const width = high - low;
    const height = (share: number): number =>
      (left > 0 ? fadeGain('s-curve', Math.min(1, share / left)) : 1) *
      (right > 0 ? fadeGain('s-curve', Math.min(1, (1 - share) / right)) : 1);
    const points = Array.from({ length: 4 * steps + 1 }, (_, i): [number, number] => {
      const share = i / (4 * steps);
      return [(low + share * width) * 100, 50 * height(share)];
    });
    const above = line()(points.map(([x, y]) => [x, 50 - y])) ?? '';
    const below = line()(points.map(([x, y]) => [x, 50 + y])) ?? '';
    return above + below;
  });
  /** Lies higher on the right when the highs are louder. */
  protected readonly slope = computed(() => `M0 ${6 + this.values().tilt}L24 ${6 - this.values().tilt}`);
  protected readonly tilted = computed(() => this.values().tilt !== 0);

  protected readonly handles = computed((): Handle[] => {
    const { from, to, fadeIn, fadeOut, reversed } = this.values();
    const { low, high } = this.range();
    const width = high - low;
    const inside = (fade: number, onLeft: boolean): number => (onLeft ? low + fade * width : high - fade * width);
    return [
      { key: 'from', label: 'From', at: from, share: from },
      { key: 'to', label: 'To', at: to, share: to },
      { key: 'fadeIn', label: 'Fade in', at: inside(fadeIn, !reversed), share: fadeIn },
      { key: 'fadeOut', label: 'Fade out', at: inside(fadeOut, reversed), share: fadeOut },
    ];
  });

  protected drag(event: PointerEvent, key: Handle['key']): void {
    if (event.button !== 0) return;
    const gesture = newGesture();
    const box = this.plot().nativeElement.getBoundingClientRect();
    followPointer(event, (moved) => this.moveTo(key, (moved.clientX - box.left) / box.width, gesture));
  }

  protected key(event: KeyboardEvent, { key, share }: Handle): void {
    const direction =
      event.key === 'ArrowLeft' || event.key === 'ArrowDown' ? -1 : event.key === 'ArrowRight' || event.key === 'ArrowUp' ? 1 : 0;
    if (direction === 0) return;
    event.preventDefault();
    event.stopPropagation();
    this.set(key, share + direction * (event.shiftKey ? 0.001 : 0.01));
  }

  /** Puts a handle to a place along the recording. */
  private moveTo(key: Handle['key'], at: number, gesture: string): void {
    const { low, high } = this.range();
    if (key === 'from' || key === 'to') {
      this.set(key, at, gesture);
      return;
    }
    const onLeft = (key === 'fadeIn') !== this.values().reversed;
    const width = Math.max(1e-6, high - low);
    this.set(key, onLeft ? (at - low) / width : (high - at) / width, gesture);
  }

  private set(key: Handle['key'], value: number, gesture?: string): void {
    this.stepValues.set(this.step(), { [key]: Math.max(0, Math.min(1, value)) }, gesture);
  }
}
