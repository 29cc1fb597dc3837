import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { ParameterSet, PatchPart } from '@tangled-choir/core';
import { effectCatalogue, partName, partsById } from '@tangled-choir/core';
import { WorkbenchStore } from '../../state/workbench.store';
import { NameField } from '../../ui/name-field';
import type { ParameterChange } from '../../ui/parameter-fields';
import { ParameterFields } from '../../ui/parameter-fields';
import { PropertyRows } from '../editors/property-rows';
import { EnvelopeGraph } from './envelope-graph';
import { PartPictureView } from './part-picture';
import { PatchCommands } from './patch-commands';

/** What all parts have, in groups; what is a part's own comes in front. */
const groups: readonly { readonly title: string; readonly keys: readonly string[] }[] = [
  { title: 'Pitch and level', keys: ['follows', 'frequency', 'ratio', 'tuning', 'level', 'pan', 'strengthLevel', 'strengthTimes'] },
  {
    title: 'Envelope',
    keys: ['delay', 'attack', 'hold', 'decay', 'sustain', 'release', 'attackBend', 'decayBend', 'releaseBend', 'keyTimes'],
  },
  { title: 'Filter', keys: ['filter', 'cutoff', 'resonance', 'drive', 'keyCutoff', 'envelopeCutoff', 'strengthCutoff'] },
];
const common = new Set(groups.flatMap(({ keys }) => keys));

/** One part of a patch: its picture, its envelope with handles, and its dials in groups. */
@Component({
  selector: 'tc-part-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [EnvelopeGraph, NameField, ParameterFields, PartPictureView],
  templateUrl: './part-editor.html',
  styleUrl: './part-editor.scss',
})
export class PartEditor {
  readonly part = input.required<PatchPart>();
  private readonly workbench = inject(WorkbenchStore);
  private readonly properties = inject(PropertyRows);
  protected readonly commands = inject(PatchCommands);
  protected readonly kind = computed(() => partsById.get(this.part().kind));
  protected readonly name = computed(() => {
    const patch = this.workbench.patch();
    return patch ? partName(patch, this.part(), effectCatalogue) : '';
  });
  private readonly of = computed(() => {
    const parameters: ParameterSet = this.kind()?.parameters ?? {};
    return { address: `layer/${this.workbench.layer()?.id}/part/${this.part().id}`, parameters, stored: this.part().parameters };
  });
  protected readonly groups = computed(() => {
    const of = this.of();
    const own = Object.keys(of.parameters).filter((key) => !common.has(key));
    return [{ title: this.kind()?.label ?? '', keys: own }, ...groups].map(({ title, keys }) => ({
      title,
      rows: this.properties.rowsOf(of, keys),
    }));
  });
  /** The values of the part as they are at the playhead. */
  protected readonly values = computed(() => this.properties.read(this.of()));

  protected set({ key, value, gesture }: ParameterChange): void {
    const label = this.kind()?.parameters[key]?.label ?? key;
    this.commands.turn(`part/${this.part().id}/${key}`, value, `${this.name()}: ${label.toLowerCase()}`, gesture);
  }
}
