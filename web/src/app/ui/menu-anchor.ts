import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, input, viewChild } from '@angular/core';
import type { MatMenuPanel } from '@angular/material/menu';
import { MatMenuModule, MatMenuTrigger } from '@angular/material/menu';

/** Where a menu opens, in pixels of the window. */
export interface MenuPlace {
  readonly x: number;
  readonly y: number;
}

/** Opens one menu for many things, wherever one of them asks for it. */
@Component({
  selector: 'tc-menu-anchor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatMenuModule],
  template: `<button #anchor tabindex="-1" aria-hidden="true" [matMenuTriggerFor]="menu()"></button>`,
  styles: `
    button {
      position: fixed;
      width: 1px;
      height: 1px;
      padding: 0;
      border: 0;
      opacity: 0;
    }
  `,
})
export class MenuAnchor {
  readonly menu = input.required<MatMenuPanel>();
  private readonly trigger = viewChild.required(MatMenuTrigger);
  private readonly anchor = viewChild.required<ElementRef<HTMLElement>>('anchor');

  openAt({ x, y }: MenuPlace): void {
    const { style } = this.anchor().nativeElement;
    style.left = `${x}px`;
    style.top = `${y}px`;
    this.trigger().openMenu();
  }
}
