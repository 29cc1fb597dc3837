import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { Tide } from '@tangled-choir/core';
import { moverCourse } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Playback } from '../../state/playback.store';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';
import { drawnPath, drawnPoints, withMovedPoint } from '../../ui/drawn-points';
import type { GraphPlace, PointMove } from '../../ui/point-graph';
import { PointGraph } from '../../ui/point-graph';

type Point = Tide['points'][number];

/** One round of a tide, with the place where it is now. */
@Component({
  selector: 'tc-tide-curve',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PointGraph],
  template: `<tc-point-graph
    [name]="'Curve of ' + tide().name"
    [points]="points()"
    [path]="path()"
    [now]="now()"
    [keyStep]="{ x: 0.05, y: 0.05 }"
    (added)="add($event)"
    (moved)="move($event)"
    (removed)="remove($event)"
  />`,
})
export class TideCurve {
  readonly tide = input.required<Tide>();
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly turning = inject(Turning);

  protected readonly points = computed(() => drawnPoints(this.tide().points, 'the round'));
  /** One round as it is heard, smoothing included. */
  protected readonly path = computed(() => {
    const course = moverCourse({ ...this.tide(), frozen: false, phase: 0, length: 1, unit: 'seconds' }, 60);
    return drawnPath((place) => course.at(place));
  });
  protected readonly now = computed(() => {
    const rounds = this.turning.courses().get(this.tide().id)?.rounds?.(this.playback.playhead()) ?? 0;
    return (rounds - Math.floor(rounds)) * 100;
  });

  protected add({ x, y }: GraphPlace): void {
    this.set([...this.stored(), { at: x, value: y, bend: 0 }]);
  }

  protected remove(index: number): void {
    if (this.stored().length > 1) this.set(this.stored().filter((_, i) => i !== index));
  }

  protected move(move: PointMove): void {
    this.set(withMovedPoint(this.stored(), move), move.gesture);
  }

  /** The points of the document: two keys in a row come faster than what is shown. */
  private stored(): readonly Point[] {
    const mover = this.workbench.sound()?.movers.find(({ id }) => id === this.tide().id);
    return mover?.kind === 'tide' ? mover.points : [];
  }

  private set(points: readonly Point[], gesture?: string): void {
    const sound = this.workbench.sound();
    const settings = { points: [...points] };
    if (sound) this.document.edit('setMover', { sound: sound.id, mover: this.tide().id, settings, action: 'Draw' }, gesture);
  }
}
