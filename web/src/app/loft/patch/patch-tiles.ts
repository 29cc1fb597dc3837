import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { PatchPart } from '@tangled-choir/core';
import { effectCatalogue, partKinds, partName } from '@tangled-choir/core';
import { WorkbenchStore } from '../../state/workbench.store';
import { PatchCommands } from './patch-commands';

/** The parts of a made layer's patch as tiles, in front of its chain. */
@Component({
  selector: 'tc-patch-tiles',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatMenuModule, MatTooltipModule],
  templateUrl: './patch-tiles.html',
  styleUrl: './patch-tiles.scss',
})
export class PatchTiles {
  protected readonly commands = inject(PatchCommands);
  private readonly workbench = inject(WorkbenchStore);
  protected readonly kinds = partKinds;
  protected readonly patch = this.workbench.patch;
  protected readonly open = this.workbench.part;
  protected readonly tiles = computed(() => {
    const patch = this.patch();
    return (patch?.parts ?? []).map((part) => ({ part, name: partName(patch!, part, effectCatalogue) }));
  });

  protected isOpen(part: PatchPart): boolean {
    const open = this.open();
    return open !== undefined && open !== 'shared' && open.id === part.id;
  }

  protected key(event: KeyboardEvent, part: PatchPart, index: number): void {
    const key = event.key.toLowerCase();
    if (event.ctrlKey && event.key === 'ArrowLeft') this.commands.movePart(part, index - 1);
    else if (event.ctrlKey && event.key === 'ArrowRight') this.commands.movePart(part, index + 1);
    else if (event.key === 'Delete') this.commands.removePart(part);
    else if (key === 'b' && !event.ctrlKey) this.commands.switchPart(part);
    else if (event.key === 'Enter' || event.key === ' ') this.commands.open(part.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
}
