import { Directive } from '@angular/core';

/** Fields within a menu: what is pressed and typed there is theirs, except for Escape, which leaves the menu unless it ends typing. */
@Directive({
  selector: '[tcMenuPanel]',
  host: { '(click)': '$event.stopPropagation()', '(keydown)': 'keep($event)' },
})
export class MenuPanel {
  protected keep(event: KeyboardEvent): void {
    if (event.key !== 'Escape' || event.target instanceof HTMLInputElement) event.stopPropagation();
  }
}
