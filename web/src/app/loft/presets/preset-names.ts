import { inject, Injectable } from '@angular/core';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { AskSettings } from '../../ui/settings-dialog';

/** Asks for a name and saves the selected chain, or one of its steps, as a preset. */
@Injectable()
export class PresetNames {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly settings = inject(AskSettings);

  /** Words behind a # in the name become tags: “Worn radio #voice #dry”. */
  async save(step: string | undefined, proposed: string): Promise<void> {
    const sound = this.workbench.sound();
    const explain = 'Kept in the project and found again under Chains. Words behind a # become tags: “Worn radio #voice #dry”.';
    const values = await this.settings.ask({ title: 'Save a preset', explain, action: 'Save', parameters: {}, name: proposed });
    if (!sound || !values) return;
    const words = String(values['name']).split(/\s+/);
    const tags = [...new Set(words.filter((word) => word.startsWith('#') && word.length > 1).map((word) => word.slice(1, 61)))];
    const name = words.filter((word) => !word.startsWith('#')).join(' ') || proposed;
    const branch = this.workbench.branch();
    const place = { sound: sound.id, owner: this.workbench.owner(), ...(branch !== undefined && { branch }) };
    this.document.edit('savePreset', { ...place, ...(step !== undefined && { steps: [step] }), name, tags });
  }
}
