import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import type { MadeTake, NewRein, Role } from '@tangled-choir/core';
import { DocumentStore } from './project/document.store';
import type { Placeable } from './placeable';
import { Playback } from './playback.store';
import { WorkbenchStore } from './workbench.store';

/** Puts a source into the sound that is worked on, making a first sound when there is none. */
@Injectable()
export class PlaceInLoft {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly router = inject(Router);

  /** Adds the source, or a named part of it, as a new layer at the start position and goes to the Loft; of one gesture, several are one undo step. */
  asLayer(placed: Placeable, gesture?: string): void {
    // It is seen in the Loft, so that is where undo leads back to.
    this.document.standIn('loft');
    const sound = this.ensureSound();
    if (!sound || !this.document.edit('addLayer', { sound, start: this.playback.startPosition(), ...placed }, gesture)) return;
    const layer = this.document
      .project()
      ?.sounds.find((candidate) => candidate.id === sound)
      ?.layers.at(-1);
    if (layer) this.workbench.selectClip(layer.clips[0]?.id ?? '');
    void this.router.navigate(['/project', this.document.project()?.id, 'loft']);
  }

  /** Adds a made layer at the start position and goes to the Loft. */
  asMadeLayer({ name, role, patch, notes, length, reins }: MadeTake & { name: string; role: Role; reins?: readonly NewRein[] }): void {
    this.document.standIn('loft');
    const sound = this.ensureSound();
    const start = this.playback.startPosition();
    if (!sound || !this.document.edit('addMadeLayer', { sound, start, name, role, patch, notes, length, ...(reins && { reins }) })) return;
    const clip = this.workbench.sound()?.layers.at(-1)?.clips[0];
    if (clip) this.workbench.selectClip(clip.id);
    void this.router.navigate(['/project', this.document.project()?.id, 'loft']);
  }

  /** Id of the sound being worked on. */
  ensureSound(): string | undefined {
    if (!this.workbench.sound()) {
      this.document.edit('addSound', { name: 'Sound 1' });
      const added = this.document.project()?.sounds.at(-1);
      if (added) this.workbench.selectSound(added.id);
    }
    return this.workbench.sound()?.id;
  }
}
