import { ChangeDetectionStrategy, Component, ElementRef, inject, output } from '@angular/core';
import { A11yModule } from '@angular/cdk/a11y';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { shortcutGroups } from './shortcuts';

/** The list of shortcuts, over the view. */
@Component({
  selector: 'tc-shortcut-help',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [A11yModule, MatButtonModule, MatIconModule],
  template: `
    <section role="dialog" aria-modal="true" aria-label="Keys" cdkTrapFocus cdkTrapFocusAutoCapture>
      <header>
        <h2>Keys</h2>
        <button mat-icon-button aria-label="Close" (click)="closed.emit()"><mat-icon svgIcon="close" /></button>
      </header>
      <div class="groups">
        @for (group of groups; track group.title) {
          <div class="group">
            <h3>{{ group.title }}</h3>
            @for (entry of group.keys; track entry[0]) {
              <div class="entry">
                <kbd>{{ entry[0] }}</kbd><span>{{ entry[1] }}</span>
              </div>
            }
          </div>
        }
      </div>
    </section>
  `,
  styleUrl: './shortcut-help.scss',
  host: { '(click)': 'closeOutside($event)', '(keydown.escape)': 'closed.emit()' },
})
export class ShortcutHelp {
  readonly closed = output();
  protected readonly groups = shortcutGroups;
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);

  protected closeOutside(event: Event): void {
    if (event.target === this.host.nativeElement) this.closed.emit();
  }
}
