import { inject, Injectable } from '@angular/core';
import { DocumentStore } from '../../state/project/document.store';
import { Notices } from '../../state/notices';
import { WorkbenchStore } from '../../state/workbench.store';

/** Copies layers with all that belongs to them, and pastes them into the sound that is open. */
@Injectable()
export class LayerCopies {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly notices = inject(Notices);

  copy(layers: readonly string[]): void {
    const from = this.workbench.sound();
    if (!from || layers.length === 0) return;
    this.workbench.setClipboard({ kind: 'layers', layers: { from, layers } });
    const name = from.layers.find(({ id }) => id === layers[0])?.name ?? '';
    const what = layers.length === 1 ? `“${name}” is copied` : `${layers.length} layers are copied`;
    this.notices.info(`${what} with all that belongs to it; Ctrl V pastes, also into another sound.`);
  }

  /** Pastes what was copied behind a layer, or behind the one that is selected. */
  paste(behind = this.workbench.layer()?.id): void {
    const sound = this.workbench.sound();
    const clipboard = this.workbench.clipboard();
    if (!sound || clipboard?.kind !== 'layers') return;
    const before = new Set(sound.layers.map(({ id }) => id));
    const copied = clipboard.layers;
    if (!this.document.edit('pasteLayers', { sound: sound.id, copied, ...(behind !== undefined && { behind }) })) return;
    const pasted = this.workbench.sound()?.layers.find(({ id }) => !before.has(id));
    if (pasted) this.workbench.selectLayer(pasted.id);
  }
}
