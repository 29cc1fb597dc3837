import { inject, Injectable } from '@angular/core';
import type { ParameterValue, PatchCurve, PatchPart } from '@tangled-choir/core';
import { partsById } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { LecternPanel } from '../../state/lectern-panel.store';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';

/** Where the patch of the selected made layer is. */
interface PatchPlace {
  readonly sound: string;
  readonly layer: string;
}

/** What the lectern does to the patch of the selected layer. */
@Injectable()
export class PatchCommands {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly panel = inject(LecternPanel);
  private readonly turning = inject(Turning);

  open(part: string): void {
    this.panel.show('chain');
    this.workbench.selectPart(part);
  }

  addPart(kind: string): void {
    this.at((place) => this.document.edit('addPart', { ...place, kind, values: partsById.get(kind)?.first ?? {} }));
    const added = this.workbench.patch()?.parts.at(-1);
    if (added) this.open(added.id);
  }

  removePart({ id: part }: PatchPart): void {
    this.at((place) => this.document.edit('removePart', { ...place, part }));
  }

  movePart({ id: part }: PatchPart, index: number): void {
    this.at((place) => this.document.edit('movePart', { ...place, part, index }));
  }

  switchPart({ id: part, enabled }: PatchPart): void {
    this.at((place) => this.document.edit('setPart', { ...place, part, changes: { enabled: !enabled } }));
  }

  namePart({ id: part }: PatchPart, name: string): void {
    this.at((place) => this.document.edit('setPart', { ...place, part, changes: { name } }));
  }

  setModulation(part: string, from: string, amount: number, gesture: string): void {
    const known = this.workbench
      .patch()
      ?.parts.find(({ id }) => id === part)
      ?.from.some((each) => each.part === from);
    // What is there already may move along a lane; what is new or goes is an edit of the patch.
    if (known && amount > 0) this.turn(`part/${part}/from/${from}`, amount, 'Modulation', gesture);
    else this.at((place) => this.document.edit('setModulation', { ...place, part, from, amount }, gesture));
  }

  addCurve(): void {
    this.at((place) => this.document.edit('addCurve', place));
  }

  setCurve(
    { id: curve }: PatchCurve,
    changes: Partial<Pick<PatchCurve, 'name' | 'length' | 'unit' | 'rounds' | 'points'>>,
    gesture?: string,
  ): void {
    this.at((place) => this.document.edit('setCurve', { ...place, curve, changes }, gesture));
  }

  removeCurve({ id: curve }: PatchCurve): void {
    this.at((place) => this.document.edit('removeCurve', { ...place, curve }));
  }

  setCurvePull({ id: curve }: PatchCurve, part: string, parameter: string, depth: number, gesture?: string): void {
    this.at((place) => this.document.edit('setCurvePull', { ...place, curve, part, parameter, depth }, gesture));
  }

  /** Turns a property of the patch by the end of its address: `part/<part>/level`. */
  turn(end: string, value: ParameterValue, label: string, gesture?: string): void {
    this.at(({ layer }) => this.turning.turn({ [`layer/${layer}/${end}`]: value }, label, gesture));
  }

  /** Sets several values of a part in one step; of a layer that is gone meanwhile, nothing. */
  turnAll(layer: string | undefined, part: string, values: Readonly<Record<string, ParameterValue>>, label: string): void {
    const sound = this.workbench.sound();
    if (!sound?.layers.some(({ id, patch }) => id === layer && patch?.parts.some((each) => each.id === part))) return;
    this.turning.turn(
      Object.fromEntries(Object.entries(values).map(([key, value]) => [`layer/${layer}/part/${part}/${key}`, value])),
      label,
    );
  }

  private at(edit: (place: PatchPlace) => void): void {
    const sound = this.workbench.sound();
    const layer = this.workbench.layer();
    if (sound && layer?.patch) edit({ sound: sound.id, layer: layer.id });
  }
}
