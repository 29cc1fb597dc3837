import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, viewChild } from '@angular/core';
import { MatDividerModule } from '@angular/material/divider';
import { MatMenuModule, MatMenuTrigger } from '@angular/material/menu';
import { WorkbenchStore } from '../../state/workbench.store';
import { ArrangeCommands } from './arrange-commands';

/** What can be done to the chosen clips, as a menu at the pointer. */
@Component({
  selector: 'tc-arrange-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatDividerModule, MatMenuModule],
  templateUrl: './arrange-menu.html',
  styles: `
    .anchor {
      position: fixed;
      width: 1px;
      height: 1px;
      padding: 0;
      border: 0;
      opacity: 0;
    }
    kbd {
      float: right;
      margin-left: 20px;
    }
  `,
})
export class ArrangeMenu {
  protected readonly commands = inject(ArrangeCommands);
  protected readonly workbench = inject(WorkbenchStore);
  private readonly trigger = viewChild.required(MatMenuTrigger);
  private readonly anchor = viewChild.required<ElementRef<HTMLElement>>('anchor');
  protected readonly several = computed(() => this.workbench.selectedClips().length > 1);
  protected readonly grouped = computed(() => this.workbench.selectedClips().some(({ clip }) => clip.group !== undefined));
  protected readonly locked = computed(() => this.workbench.selectedClips().every(({ clip }) => clip.locked));
  protected readonly looped = computed(() => this.workbench.selectedClip()?.clip.loop !== undefined);

  openAt(x: number, y: number): void {
    const { style } = this.anchor().nativeElement;
    style.left = `${x}px`;
    style.top = `${y}px`;
    this.trigger().openMenu();
  }
}
