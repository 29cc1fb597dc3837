import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output, signal } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import type { Clip, Fade, Layer, Source, Stretch } from '@tangled-choir/core';
import { clipCurves, clipDuration, contentAtTime, contentPlace, decibelsToGain, fadeGain, syncTime } from '@tangled-choir/core';
import { AudioLibrary } from '../../engine/audio-library';
import { drawnPart, samePart, stretchOfPart } from '../editors/drawn-part';
import { signed } from '../../ui/quantity';
import { pinnedSpans } from './pins';
import { describeStrain, isStrained, strainStrip } from '../stretch/strain-words';
import { PitchTracks } from '../../state/pitch-tracks.store';
import { StretchJudging } from '../../state/stretch-judging';
import { WorkbenchStore } from '../../state/workbench.store';
import { roleColour } from '../../ui/roles';
import { Waveform } from '../../ui/waveform';
import { ClipNotes } from '../notes/clip-notes';
import { ClipPitch } from './clip-pitch';

export type ClipDragKind = 'move' | 'start' | 'end' | 'fade-in' | 'fade-out' | 'pin';

/** The beginning of a drag on a clip; the timeline follows the pointer from there. */
export interface ClipDrag {
  readonly kind: ClipDragKind;
  readonly event: PointerEvent;
  /** Which pin it is, by its place among them. */
  readonly pin?: number;
}

/** Fades of fewer pixels cannot be seen; drawing them costs as much as others. */
const narrowestFade = 1.5;

/** One clip on its lane: waveform, fades, handles at its ends and at the ends of its fades, and badges for what was done to it. */
@Component({
  selector: 'tc-clip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ClipNotes, ClipPitch, MatIconModule, Waveform],
  templateUrl: './clip-box.html',
  styleUrl: './clip-box.scss',
  host: {
    role: 'button',
    tabindex: '0',
    '[attr.data-clip]': 'clip().id',
    '[attr.aria-label]': 'label()',
    '[attr.aria-pressed]': 'selected()',
    '[class.selected]': 'selected()',
    '[class.locked]': 'clip().locked',
    '[class.grouped]': 'clip().group !== undefined',
    '[style.left.px]': 'clip().start * pixelsPerSecond()',
    '[style.width.px]': 'width()',
    '[style.--hue]': 'colour()',
    '(pointerdown)': 'begin("move", $event)',
    '(focus)': 'picked.emit()',
    '(pointermove)': 'point($event)',
    '(pointerleave)': 'pointer.set(undefined)',
  },
})
export class ClipBox {
  readonly clip = input.required<Clip>();
  readonly layer = input.required<Layer>();
  readonly source = input.required<Source | undefined>();
  readonly selected = input(false);
  readonly pixelsPerSecond = input.required<number>();
  readonly sampleRate = input.required<number>();
  /** The stretch of the time axis that can be seen, or nearly. */
  readonly view = input.required<Stretch>();
  readonly dragged = output<ClipDrag>();
  readonly picked = output();
  private readonly library = inject(AudioLibrary);
  private readonly judging = inject(StretchJudging);
  protected readonly pitches = inject(PitchTracks);
  private readonly workbench = inject(WorkbenchStore);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  /** With what movers make of its pitch and its level. */
  private readonly heard = computed(() => this.workbench.asHeard(this.clip()));

  protected readonly duration = computed(() => clipDuration(this.clip()));
  protected readonly width = computed(() => Math.max(3, this.duration() * this.pixelsPerSecond()));
  /** The part that is drawn. */
  protected readonly drawn = computed(() => drawnPart(this.clip(), this.pixelsPerSecond(), this.view()), { equal: samePart });
  /** What is looked at closely is drawn from its samples. */
  private readonly detail = computed(() => {
    const source = this.source();
    const stretch = stretchOfPart(this.clip(), this.drawn());
    return source && this.library.detail(source, stretch, this.sampleRate() / this.pixelsPerSecond());
  });
  protected readonly overview = computed(() => this.detail()?.overview ?? this.library.overview(this.source()?.audio ?? ''));
  protected readonly missing = computed(() => !this.clip().notes && this.library.missing().get(this.source()?.audio ?? '') !== undefined);
  protected readonly places = computed(() => {
    const clip = this.clip();
    const rate = this.sampleRate();
    const seconds = this.duration();
    const first = this.detail()?.first ?? 0;
    const { from, to } = this.drawn();
    return (share: number): number => contentPlace(clip, contentAtTime(clip, (from + share * (to - from)) * seconds)) * rate - first;
  });
  protected readonly name = computed(() => (this.clip().notes ? this.layer().name : this.source()?.name));
  protected readonly colour = computed(() => roleColour(this.layer().role));
  protected readonly height = computed(() => decibelsToGain(this.heard().gain));
  protected readonly fadeInShare = computed(() => (this.clip().fadeIn.length / this.duration()) * 100);
  protected readonly fadeOutShare = computed(() => (this.clip().fadeOut.length / this.duration()) * 100);
  protected readonly fadePath = computed(() => {
    const { fadeIn, fadeOut } = this.clip();
    const longest = Math.max(fadeIn.length, fadeOut.length) * this.pixelsPerSecond();
    return longest < narrowestFade ? '' : fadePath(fadeIn, fadeOut, this.duration());
  });
  /** Place of the sync point from the left edge, where it lies inside the clip. */
  protected readonly syncPlace = computed(() => {
    const clip = this.clip();
    const into = syncTime(clip) - clip.start;
    return clip.sync && into >= 0 && into <= this.duration() ? into * this.pixelsPerSecond() : undefined;
  });
  /** How far the content between pins is stretched. */
  protected readonly spans = computed(() => pinnedSpans(this.clip(), this.duration()));
  private readonly judged = computed(() => this.judging.strainOf(this.clip()));
  /** Where along the clip strain is heard, in shares of its width. */
  protected readonly strained = computed(() => {
    const strain = this.judged();
    return isStrained(strain) ? strainStrip(strain, this.duration()) : [];
  });
  protected readonly strain = computed(() => {
    const strain = this.judged();
    return isStrained(strain) ? describeStrain(strain) : '';
  });
  protected readonly badges = computed(() => {
    const { speed, stretch, pitch, formant, keepFormants, method, curves, pins, wear, gain, reversed, loop } = this.heard();
    const badges: string[] = [];
    if (reversed) badges.push('reversed');
    if (loop) badges.push('loop');
    if (speed !== 0) badges.push(`speed ${signed(speed, 1)} st`);
    if (stretch !== 1) badges.push(`${stretch < 10 ? stretch.toFixed(2) : stretch.toFixed(0)}×${method === 'auto' ? '' : ` ${method}`}`);
    if (pitch !== 0) badges.push(`pitch ${signed(pitch, 1)} st${keepFormants ? ', formants kept' : ''}`);
    if (formant !== 0) badges.push(`formants ${signed(formant, 1)} st`);
    for (const curve of clipCurves) if (curves?.[curve]) badges.push(`${curve} curve`);
    if (wear > 0) badges.push(`wear ${Math.round(wear * 100)} %`);
    if (pins) badges.push(`${pins.length} ${pins.length === 1 ? 'pin' : 'pins'}`);
    if (gain !== 0) badges.push(`${signed(gain, 1)} dB`);
    return badges;
  });
  protected readonly label = computed(
    () =>
      `Clip ${this.name() ?? 'of a missing source'} at ${this.clip().start.toFixed(3)} s, ${this.duration().toFixed(3)} s long${
        this.clip().locked ? ', locked' : ''
      }`,
  );

  /** Where the pointer is over it while pitch is shown, in pixels from its left edge. */
  protected readonly pointer = signal<number | undefined>(undefined);

  protected point({ clientX }: PointerEvent): void {
    if (this.pitches.shown()) this.pointer.set(clientX - this.host.nativeElement.getBoundingClientRect().left);
  }

  protected begin(kind: ClipDragKind, event: PointerEvent): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    this.dragged.emit({ kind, event });
    // Only now: the focus alone would choose this clip and no other.
    this.host.nativeElement.focus({ preventScroll: true });
  }
}

/** What the fades take away, as an SVG path in a box of 100 by 100: the area above the curve on both sides. */
export function fadePath(fadeIn: Fade, fadeOut: Fade, duration: number): string {
  const points = 14;
  const side = (fade: Fade, from: number, direction: 1 | -1): string => {
    const width = (fade.length / duration) * 100 * direction;
    if (Math.abs(width) < 0.2) return '';
    const curve = Array.from(
      { length: points + 1 },
      (_, i) => `L${(from + (width * i) / points).toFixed(2)} ${(100 - 100 * fadeGain(fade.shape, i / points)).toFixed(1)}`,
    );
    return `M${from} 0${curve.join('')}L${from + width} 0Z`;
  };
  return side(fadeIn, 0, 1) + side(fadeOut, 100, -1);
}
