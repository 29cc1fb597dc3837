import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatIconModule } from '@angular/material/icon';
import type { NumberParameter, PatchCurve } from '@tangled-choir/core';
import {
  curveHeight,
  effectCatalogue,
  firstPull,
  modulationParameter,
  offsetUnit,
  partName,
  partsById,
  patchParameters,
  pullReach,
  reinParameter,
} from '@tangled-choir/core';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';
import type { Offer, OfferGroup } from '../../ui/choice-field';
import { ChoiceField } from '../../ui/choice-field';
import { drawnPath, drawnPoints, withMovedPoint } from '../../ui/drawn-points';
import { NameField } from '../../ui/name-field';
import type { ParameterChange } from '../../ui/parameter-fields';
import { ParameterFields } from '../../ui/parameter-fields';
import type { GraphPlace, PointMove } from '../../ui/point-graph';
import { PointGraph } from '../../ui/point-graph';
import type { ValueChange } from '../../ui/value-field';
import { ValueField } from '../../ui/value-field';
import { PropertyRows } from '../editors/property-rows';
import { PatchCommands } from './patch-commands';

const units: readonly Offer<PatchCurve['unit']>[] = [
  { value: 'note', name: 'notes' },
  { value: 'seconds', name: 'seconds' },
  { value: 'beats', name: 'beats' },
];

/** What the parts of a patch share: voices and tuning, who modulates whom, and the curves that every note runs along. */
@Component({
  selector: 'tc-shared-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatCheckboxModule, MatIconModule, NameField, ParameterFields, PointGraph, ValueField],
  templateUrl: './shared-editor.html',
  styleUrl: './shared-editor.scss',
})
export class SharedEditor {
  private readonly workbench = inject(WorkbenchStore);
  private readonly properties = inject(PropertyRows);
  private readonly turning = inject(Turning);
  protected readonly commands = inject(PatchCommands);
  protected readonly modulationParameter = modulationParameter;
  protected readonly reinParameter = reinParameter;
  protected readonly units = units;
  private readonly patch = this.workbench.patch;
  private readonly chosenId = signal<string | undefined>(undefined);
  protected readonly layerAddress = computed(() => `layer/${this.workbench.layer()?.id}`);

  protected readonly rows = computed(() =>
    this.properties.rowsOf({
      address: `${this.layerAddress()}/patch`,
      parameters: patchParameters,
      stored: this.patch()?.parameters ?? {},
    }),
  );
  /** Reins that pull anything of the patch. */
  protected readonly reins = computed(() => {
    const below = [`${this.layerAddress()}/part/`, `${this.layerAddress()}/patch/`];
    const pulls = this.workbench.sound()?.pulls ?? [];
    const name = this.workbench.layer()?.name ?? '';
    return (this.workbench.sound()?.movers ?? []).flatMap((mover) => {
      const pullsHere = pulls.some((pull) => pull.mover === mover.id && below.some((room) => pull.address.startsWith(room)));
      if (mover.kind !== 'rein' || !pullsHere) return [];
      const address = `rein/${mover.id}/value`;
      // Who looks at a layer knows its name.
      const short = mover.name.startsWith(`${name}: `) ? mover.name.slice(name.length + 2) : mover.name;
      const label = short.slice(0, 1).toUpperCase() + short.slice(1);
      return [{ mover, address, label, value: this.turning.valueNow(address, mover.value, reinParameter) }];
    });
  });
  protected readonly parts = computed(() => {
    const patch = this.patch();
    return (patch?.parts ?? []).map((part) => ({ part, name: partName(patch!, part, effectCatalogue) }));
  });
  /** The rows of the matrix: parts whose phase can be moved. */
  protected readonly carriers = computed(() => this.parts().filter(({ part }) => partsById.get(part.kind)?.modulated));
  protected readonly curves = computed(() => this.patch()?.curves ?? []);
  protected readonly curve = computed(() => this.curves().find(({ id }) => id === this.chosenId()) ?? this.curves()[0]);
  protected readonly lengthParameter = computed((): NumberParameter => {
    const unit = this.curve()?.unit;
    return { kind: 'number', label: 'Length', unit: unit === 'seconds' ? 's' : '×', min: 0.001, max: 3_600, default: 1, scale: 'log' };
  });
  protected readonly points = computed(() => drawnPoints(this.curve()?.points ?? [], 'the curve'));
  protected readonly path = computed(() => {
    const curve = this.curve();
    return curve ? drawnPath((place) => curveHeight(curve, place)) : '';
  });
  /** What the open curve moves, and by how much. */
  protected readonly pulls = computed(() =>
    (this.curve()?.pulls ?? []).flatMap((pull) => {
      const found = this.parts().find(({ part }) => part.id === pull.part);
      const parameter = found && partsById.get(found.part.kind)?.parameters[pull.parameter];
      if (parameter?.kind !== 'number') return [];
      return [{ pull, name: `${found!.name}: ${parameter.label}`, depth: depthParameter(parameter) }];
    }),
  );
  /** What it could move besides. */
  protected readonly offers = computed((): readonly OfferGroup[] => {
    const taken = new Set((this.curve()?.pulls ?? []).map(({ part, parameter }) => `${part} ${parameter}`));
    return this.parts().map(({ part, name }) => ({
      name,
      offers: Object.entries(partsById.get(part.kind)?.parameters ?? {}).flatMap(([key, parameter]) =>
        parameter.kind === 'number' && !parameter.builds && !taken.has(`${part.id} ${key}`)
          ? [{ value: `${part.id} ${key}`, name: parameter.label }]
          : [],
      ),
    }));
  });

  protected set({ key, value, gesture }: ParameterChange): void {
    const label = this.rows().find((row) => row.key === key)?.label ?? key;
    this.commands.turn(`patch/${key}`, value, `Patch: ${label.toLowerCase()}`, gesture);
  }

  protected turnRein(address: string, name: string, { value, gesture }: ValueChange): void {
    this.turning.turn({ [address]: value }, `Rein “${name}”`, gesture);
  }

  protected amountOf(carrier: { readonly part: { readonly from: readonly { part: string; amount: number }[] } }, from: string): number {
    return carrier.part.from.find(({ part }) => part === from)?.amount ?? 0;
  }

  protected choose(curve: PatchCurve): void {
    this.chosenId.set(curve.id);
  }

  protected addCurve(): void {
    this.commands.addCurve();
    const added = this.curves().at(-1);
    if (added) this.choose(added);
  }

  protected addPoint(curve: PatchCurve, { x, y }: GraphPlace): void {
    this.commands.setCurve(curve, { points: [...curve.points, { at: x, value: y, bend: 0 }] });
  }

  protected removePoint(curve: PatchCurve, index: number): void {
    if (curve.points.length > 1) this.commands.setCurve(curve, { points: curve.points.filter((_, i) => i !== index) });
  }

  protected movePoint({ id }: PatchCurve, move: PointMove): void {
    // As the document has it: two keys in a row come faster than what is shown.
    const curve = this.patch()?.curves.find((candidate) => candidate.id === id);
    if (curve) this.commands.setCurve(curve, { points: withMovedPoint(curve.points, move) }, move.gesture);
  }

  protected addPull(curve: PatchCurve, value: string): void {
    const [part = '', key = ''] = value.split(' ');
    const kind = this.parts().find((each) => each.part.id === part)?.part.kind;
    const parameter = partsById.get(kind ?? '')?.parameters[key];
    if (parameter?.kind === 'number') this.commands.setCurvePull(curve, part, key, firstPull(parameter));
  }
}

/** How far a curve can usefully move a parameter, in its offset unit. */
function depthParameter(parameter: NumberParameter): NumberParameter {
  const reach = pullReach(parameter);
  return { kind: 'number', label: 'Depth', unit: offsetUnit(parameter), min: -reach, max: reach, default: 0, scale: 'linear' };
}
