import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output, signal } from '@angular/core';
import type { Defect, Overview, Region, Spectrogram, Stretch } from '@tangled-choir/core';
import { isSomewhere } from '@tangled-choir/core';
import { followPointer } from '../ui/follow-pointer';
import { FrequencyAxis } from '../ui/frequency-axis';
import { SpectrogramView } from '../ui/spectrogram';
import { Waveform } from '../ui/waveform';

const dragStart = 4;

/** Waveform and spectrogram of a source with its regions, cues, defects and the playhead; a drag draws a new region. */
@Component({
  selector: 'tc-source-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FrequencyAxis, SpectrogramView, Waveform],
  template: `
    <tc-waveform [overview]="overview()" [colour]="colour()" />
    <tc-spectrogram [spectrogram]="spectrogram()" [label]="'Spectrogram of ' + name()" />
    @for (region of regions(); track region.id) {
      <span
        class="region"
        [class.chosen]="region.id === chosenRegion()"
        [style.left.%]="share(region.from)"
        [style.width.%]="share(region.to - region.from)"
        [title]="region.name"
      ></span>
    }
    @if (draft(); as stretch) {
      <span class="region drawn" [style.left.%]="share(stretch.from)" [style.width.%]="share(stretch.to - stretch.from)"></span>
    }
    @for (defect of shownDefects(); track $index) {
      <span class="defect" [style.left.%]="share(defect.from)" [style.width.%]="share(defect.to - defect.from)"></span>
    }
    @for (cue of cues(); track $index) {
      <span class="cue" [style.left.%]="share(cue.time)" [title]="cue.name"></span>
    }
    @if (playhead() !== undefined) {
      <span class="playhead" [style.left.%]="share(playhead()!)"></span>
    }
    <tc-frequency-axis />
  `,
  styleUrls: ['./source-marks.scss', './source-picture.scss'],
  host: { '(pointerdown)': 'press($event)' },
})
export class SourcePicture {
  readonly name = input.required<string>();
  readonly seconds = input.required<number>();
  readonly overview = input<Overview | undefined>();
  readonly spectrogram = input<Spectrogram | undefined>();
  readonly colour = input.required<string>();
  readonly regions = input<readonly Region[]>([]);
  readonly cues = input<readonly { readonly name: string; readonly time: number }[]>([]);
  readonly defects = input<readonly Defect[]>([]);
  readonly chosenRegion = input<string | undefined>();
  /** Where in the source, in seconds, what is heard stands. */
  readonly playhead = input<number | undefined>();
  readonly drawn = output<Stretch>();
  /** A place was clicked, in seconds. */
  readonly pointed = output<number>();
  protected readonly draft = signal<Stretch | undefined>(undefined);
  /** Hum is everywhere; marking all of the picture would say nothing. */
  protected readonly shownDefects = computed(() => this.defects().filter(({ kind }) => isSomewhere(kind)));
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);

  protected share(seconds: number): number {
    return (seconds / Math.max(0.001, this.seconds())) * 100;
  }

  protected press(event: PointerEvent): void {
    if (event.button !== 0) return;
    const frame = this.host.nativeElement.getBoundingClientRect();
    const at = (clientX: number): number => Math.max(0, Math.min(1, (clientX - frame.left) / Math.max(1, frame.width))) * this.seconds();
    const from = at(event.clientX);
    followPointer(
      event,
      (moved) => {
        if (!this.draft() && Math.abs(moved.clientX - event.clientX) < dragStart) return;
        const now = at(moved.clientX);
        this.draft.set({ from: Math.min(from, now), to: Math.max(from, now) });
      },
      (givenUp) => {
        const draft = this.draft();
        this.draft.set(undefined);
        if (givenUp) return;
        if (draft) this.drawn.emit(draft);
        else this.pointed.emit(from);
      },
    );
  }
}
