import { inject, Injectable } from '@angular/core';
import type { ChainOwner } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { AskSettings } from '../../ui/settings-dialog';

/** Asks for the names of groups, buses and templates. */
@Injectable()
export class ChannelNames {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly settings = inject(AskSettings);

  async ask(title: string, explain: string, action: string, preset = ''): Promise<string | undefined> {
    const values = await this.settings.ask({ title, explain, action, parameters: {}, name: preset });
    return values && String(values['name']);
  }

  /** Makes a shared bus and sends a layer or a group to it. */
  async addBusFor(owner: ChainOwner): Promise<void> {
    const sound = this.workbench.sound();
    const explain = 'Layers and groups can be sent to it, each as loud as you like; it has a fader and a chain of its own.';
    const name = await this.ask('A new shared bus', explain, 'Make');
    if (!sound || !name || !this.document.edit('addSharedBus', { sound: sound.id, name })) return;
    const bus = this.workbench.sound()?.buses.at(-1);
    if (bus) this.document.edit('setSend', { sound: sound.id, owner, bus: bus.id, on: true });
  }
}
