import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Clip, ClipCurve, CurvePoint } from '@tangled-choir/core';
import { clipCurves, clipsOf, contentPlace, curveAt, curveReach } from '@tangled-choir/core';
import { AudioLibrary } from '../../engine/audio-library';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import type { GraphPlace, PointMove } from '../../ui/point-graph';
import { graphY, PointGraph } from '../../ui/point-graph';
import { signed } from '../../ui/quantity';
import { Waveform } from '../../ui/waveform';

/** Two points at one place would leave the value there undecided. */
const leastDistance = 0.001;

/** What curves are drawn with: their name, their unit, and how far the graph shows first. */
const scales: Readonly<Record<ClipCurve, { readonly label: string; readonly unit: string; readonly reaches: readonly number[] }>> = {
  speed: { label: 'Speed', unit: 'st', reaches: [12, 24, 36] },
  stretch: { label: 'Stretch', unit: 'oct', reaches: [1, 2, 4] },
  pitch: { label: 'Pitch', unit: 'st', reaches: [12, 24, 36] },
  formant: { label: 'Formants', unit: 'st', reaches: [12, 24] },
};

type Shape = readonly (readonly [share: number, value: number])[];
const even: Shape = [
  [0, 0],
  [1, 0],
];

/** Ready ways along the content, for each curve two. */
const shapes: Readonly<Record<ClipCurve, readonly { readonly name: string; readonly hint: string; readonly points: Shape }[]>> = {
  speed: [
    {
      name: 'Run up',
      hint: 'From slow up to its own speed',
      points: [
        [0, -24],
        [0.7, 0],
      ],
    },
    {
      name: 'Run down',
      hint: 'From its own speed down, as a machine that stops',
      points: [
        [0.3, 0],
        [1, -36],
      ],
    },
  ],
  stretch: [
    {
      name: 'Linger',
      hint: 'Ever slower towards the end',
      points: [
        [0, 0],
        [1, 2],
      ],
    },
    {
      name: 'Hurry',
      hint: 'Ever faster towards the end',
      points: [
        [0, 1],
        [1, -1],
      ],
    },
  ],
  pitch: [
    {
      name: 'Rise',
      hint: 'Up by an octave',
      points: [
        [0, 0],
        [1, 12],
      ],
    },
    {
      name: 'Drop',
      hint: 'From an octave above into its own pitch',
      points: [
        [0, 12],
        [0.9, 0],
      ],
    },
  ],
  formant: [
    {
      name: 'Open',
      hint: 'From dark to bright, at one pitch',
      points: [
        [0, -12],
        [1, 12],
      ],
    },
    {
      name: 'Close',
      hint: 'From bright to dark, at one pitch',
      points: [
        [0, 12],
        [1, -12],
      ],
    },
  ],
};

/** The curves of a clip over its content, in the order of playing, one at a time. */
@Component({
  selector: 'tc-clip-curve',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatTooltipModule, PointGraph, Waveform],
  templateUrl: './clip-curve.html',
  styleUrl: './clip-curve.scss',
})
export class ClipCurves {
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
  protected readonly kinds = clipCurves.map((curve) => ({ curve, label: scales[curve].label }));
  private readonly asked = signal<ClipCurve | undefined>(undefined);
  /** The curve on the screen: the one that was asked for, else one that the clip has. */
  protected readonly curve = computed(() => this.asked() ?? clipCurves.find((curve) => this.clip().curves?.[curve]) ?? 'speed');
  protected readonly scale = computed(() => scales[this.curve()]);
  protected readonly shapes = computed(() => shapes[this.curve()]);
  private readonly drawn = computed(() => this.clip().curves?.[this.curve()]);
  protected readonly isDrawn = computed(() => this.drawn() !== undefined);
  /** How far up and down the graph shows. */
  protected readonly reach = computed(() => reachOf(this.drawn() ?? [], this.curve()));
  protected readonly points = computed(() =>
    (this.drawn() ?? []).map(({ at, value }) => {
      const into = this.intoOf(at);
      return {
        x: into / this.clip().length,
        y: value / this.reach(),
        label: `${this.scale().label} at ${into.toFixed(3)} s of the content`,
        text: `${signed(value, this.scale().unit === 'oct' ? 2 : 1)} ${this.scale().unit} at ${into.toFixed(3)} s`,
      };
    }),
  );
  protected readonly path = computed(() => {
    const clip = this.clip();
    const inside = this.points().flatMap(({ x }) => (x > 0 && x < 1 ? [x] : []));
    return [0, ...inside.sort((a, b) => a - b), 1]
      .map((x) => `${(x * 100).toFixed(3)} ${graphY(curveAt(clip, this.curve(), x * clip.length) / this.reach()).toFixed(2)}`)
      .map((corner, i) => `${i === 0 ? 'M' : 'L'}${corner}`)
      .join('');
  });

  protected show(curve: ClipCurve): void {
    this.asked.set(curve);
  }

  protected has(curve: ClipCurve): boolean {
    return this.clip().curves?.[curve] !== undefined;
  }

  protected setShape(points: Shape = even): void {
    this.set(points.map(([share, value]) => ({ at: this.atOf(share * this.clip().length), value })));
  }

  protected set(points: readonly CurvePoint[], gesture?: string): void {
    // Cleared, the curve stays on the screen.
    this.asked.set(this.curve());
    const sound = this.workbench.sound()!.id;
    this.document.edit('setClipCurve', { sound, clip: this.clip().id, curve: this.curve(), points }, gesture);
  }

  protected add({ x, y }: GraphPlace): void {
    this.set([...this.stored(), { at: this.atOf(x * this.clip().length), value: y * this.reach() }]);
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
      value: point.value + byY * reachOf(points, this.curve()),
    };
    this.set(points, gesture);
  }

  /** The points of the document: two keys in a row come faster than what is shown. */
  private stored(): readonly CurvePoint[] {
    return clipsOf(this.workbench.sound()!, new Set([this.clip().id]))[0]?.clip.curves?.[this.curve()] ?? [];
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

function reachOf(points: readonly CurvePoint[], curve: ClipCurve): number {
  const most = Math.max(0, ...points.map(({ value }) => Math.abs(value)));
  return scales[curve].reaches.find((reach) => most <= reach) ?? curveReach[curve];
}
