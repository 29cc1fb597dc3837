import { ChangeDetectionStrategy, Component, computed, inject, viewChild } from '@angular/core';
import { MatDividerModule } from '@angular/material/divider';
import { MatMenuModule } from '@angular/material/menu';
import { WorkbenchStore } from '../../state/workbench.store';
import type { MenuPlace } from '../../ui/menu-anchor';
import { MenuAnchor } from '../../ui/menu-anchor';
import { StretchCommands } from '../stretch/stretch-commands';
import { TuningCommands } from '../stretch/tuning-commands';
import { ArrangeCommands } from './arrange-commands';

/** What can be done to the chosen clips, as a menu at the pointer. */
@Component({
  selector: 'tc-arrange-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatDividerModule, MatMenuModule, MenuAnchor],
  templateUrl: './arrange-menu.html',
  styles: `
    kbd {
      float: right;
      margin-left: 20px;
    }
  `,
})
export class ArrangeMenu {
  protected readonly commands = inject(ArrangeCommands);
  protected readonly workbench = inject(WorkbenchStore);
  private readonly anchor = viewChild.required(MenuAnchor);
  protected readonly several = computed(() => this.workbench.selectedClips().length > 1);
  protected readonly grouped = computed(() => this.workbench.selectedClips().some(({ clip }) => clip.group !== undefined));
  protected readonly locked = computed(() => this.workbench.selectedClips().every(({ clip }) => clip.locked));
  protected readonly stretching = inject(StretchCommands);
  protected readonly tuning = inject(TuningCommands);
  protected readonly pinned = computed(() => this.workbench.selectedClips().some(({ clip }) => clip.pins));
  protected readonly looped = computed(() => this.workbench.selectedClip()?.clip.loop !== undefined);

  openAt(place: MenuPlace): void {
    this.anchor().openAt(place);
  }
}
