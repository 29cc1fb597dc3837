import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { NumberParameter, ParameterValue, PartKind } from '@tangled-choir/core';
import { pictureOfEnvelope } from '@tangled-choir/core';
import type { ParameterChange } from '../../ui/parameter-fields';
import type { PointMove } from '../../ui/point-graph';
import { graphY, PointGraph } from '../../ui/point-graph';
import { formatQuantity } from '../../ui/quantity';

/** The envelope of a part, with handles for its attack, its decay with the level that it holds, and its release. */
@Component({
  selector: 'tc-envelope-graph',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PointGraph],
  template: `<tc-point-graph
    name="Envelope"
    [points]="points()"
    [path]="path()"
    [keyStep]="{ x: 0.02, y: 0.05 }"
    (moved)="move($event)"
  />`,
})
export class EnvelopeGraph {
  readonly kind = input.required<PartKind>();
  readonly values = input.required<Readonly<Record<string, ParameterValue>>>();
  readonly changed = output<ParameterChange>();
  protected readonly picture = computed(() => pictureOfEnvelope(this.kind(), this.values()));

  protected readonly path = computed(() => {
    const { levels } = this.picture();
    return levels
      .map((level, i) => `${i === 0 ? 'M' : 'L'}${((100 * i) / (levels.length - 1)).toFixed(2)} ${graphY(2 * level - 1).toFixed(2)}`)
      .join('');
  });

  protected readonly points = computed(() => {
    const { seconds, attackEnd, decayEnd } = this.picture();
    const sustain = Number(this.values()['sustain']);
    const told = (key: string): string => formatQuantity(Number(this.values()[key]), this.parameter(key));
    return [
      { x: attackEnd / seconds, y: 1, label: 'Attack', text: `Attack ${told('attack')}` },
      { x: decayEnd / seconds, y: 2 * sustain - 1, label: 'Decay and sustain', text: `Decay ${told('decay')}, sustain ${told('sustain')}` },
      { x: 1, y: -1, label: 'Release', text: `Release ${told('release')}` },
    ];
  });

  /** A handle moves its time by as much as it goes along the picture; the one between also moves the level. */
  protected move({ index, byX, byY, gesture }: PointMove): void {
    const key = ['attack', 'decay', 'release'][index]!;
    const parameter = this.parameter(key);
    if (byX !== 0) {
      const time = Number(this.values()[key]) + byX * this.picture().seconds;
      this.changed.emit({ key, value: Math.max(parameter.min, Math.min(parameter.max, time)), gesture });
    }
    if (index === 1 && byY !== 0)
      this.changed.emit({ key: 'sustain', value: Math.max(0, Math.min(1, Number(this.values()['sustain']) + byY / 2)), gesture });
  }

  private parameter(key: string): NumberParameter {
    const parameter = this.kind().parameters[key];
    if (parameter?.kind !== 'number') throw new Error(`“${key}” is no number of ${this.kind().label}.`);
    return parameter;
  }
}
