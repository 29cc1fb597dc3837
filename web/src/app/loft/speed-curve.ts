import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Clip, SpeedPoint } from '@tangled-choir/core';
import { clipsOf, contentPlace, speedAt } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { DocumentStore } from '../state/project/document.store';
import { WorkbenchStore } from '../state/workbench.store';
import type { GraphPlace, PointMove } from '../ui/point-graph';
import { graphY, PointGraph } from '../ui/point-graph';
import { signed } from '../ui/quantity';
import { Waveform } from '../ui/waveform';

const highest = 36;
/** Two points at one place would leave the speed there undecided. */
const leastDistance = 0.001;

const shapes = {
  even: [
    [0, 0],
    [1, 0],
  ],
  'run up': [
    [0, -24],
    [0.7, 0],
  ],
  'run down': [
    [0.3, 0],
    [1, -36],
  ],
} as const;

/** The speed curve of a clip over its content, in the order of playing. */
@Component({
  selector: 'tc-speed-curve',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatTooltipModule, PointGraph, Waveform],
  templateUrl: './speed-curve.html',
  styleUrl: './speed-curve.scss',
})
export class SpeedCurve {
  readonly clip = input.required<Clip>();
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly library = inject(AudioLibrary);

  private readonly audio = computed(() => this.document.project()?.sources.find((source) => source.id === this.clip().source)?.audio ?? '');
  protected readonly overview = computed(() => this.library.overview(this.audio()));
  protected readonly places = computed(() => {
    const clip = this.clip();
    const rate = this.document.project()?.sampleRate ?? 48_000;
    return (share: number): number => contentPlace(clip, share * clip.length) * rate;
  });
  /** How far up and down the graph shows, in semitones. */
  protected readonly reach = computed(() => reachOf(this.clip().speedCurve ?? []));
  protected readonly points = computed(() =>
    (this.clip().speedCurve ?? []).map(({ at, semitones }) => {
      const into = this.intoOf(at);
      return {
        x: into / this.clip().length,
        y: semitones / this.reach(),
        label: `Speed at ${into.toFixed(3)} s of the content`,
        text: `${signed(semitones, 1)} st at ${into.toFixed(3)} s`,
      };
    }),
  );
  protected readonly path = computed(() => {
    const clip = this.clip();
    const inside = this.points().flatMap(({ x }) => (x > 0 && x < 1 ? [x] : []));
    return [0, ...inside.sort((a, b) => a - b), 1]
      .map((x) => `${(x * 100).toFixed(3)} ${graphY((speedAt(clip, x * clip.length) - clip.speed) / this.reach()).toFixed(2)}`)
      .map((corner, i) => `${i === 0 ? 'M' : 'L'}${corner}`)
      .join('');
  });

  protected setShape(name: keyof typeof shapes): void {
    this.set(shapes[name].map(([share, semitones]) => ({ at: this.atOf(share * this.clip().length), semitones })));
  }

  protected set(points: readonly SpeedPoint[], gesture?: string): void {
    this.document.edit('setSpeedCurve', { sound: this.workbench.sound()!.id, clip: this.clip().id, points }, gesture);
  }

  protected add({ x, y }: GraphPlace): void {
    this.set([...this.stored(), { at: this.atOf(x * this.clip().length), semitones: y * this.reach() }]);
  }

  protected remove(index: number): void {
    this.set(this.stored().filter((_, i) => i !== index));
  }

  /** Moves a point between its neighbours. */
  protected move({ index, byX, byY, gesture }: PointMove): void {
    const points = [...this.stored()];
    const point = points[index];
    if (!point) return;
    const length = this.clip().length;
    const wanted = this.atOf(Math.max(0, Math.min(length, this.intoOf(point.at) + byX * length)));
    const after = (points[index - 1]?.at ?? -Infinity) + leastDistance;
    const before = (points[index + 1]?.at ?? Infinity) - leastDistance;
    points[index] = {
      at: after > before ? point.at : Math.max(after, Math.min(before, wanted)),
      semitones: Math.max(-highest, Math.min(highest, point.semitones + byY * reachOf(points))),
    };
    this.set(points, gesture);
  }

  /** The points of the document: two keys in a row come faster than what is shown. */
  private stored(): readonly SpeedPoint[] {
    return clipsOf(this.workbench.sound()!, new Set([this.clip().id]))[0]?.clip.speedCurve ?? [];
  }

  private intoOf(at: number): number {
    const { offset, length, reversed } = this.clip();
    return reversed ? offset + length - at : at - offset;
  }

  private atOf(into: number): number {
    const { offset, length, reversed } = this.clip();
    return reversed ? offset + length - into : offset + into;
  }
}

function reachOf(points: readonly SpeedPoint[]): number {
  const most = Math.max(0, ...points.map(({ semitones }) => Math.abs(semitones)));
  return most > 24 ? 36 : most > 12 ? 24 : 12;
}
