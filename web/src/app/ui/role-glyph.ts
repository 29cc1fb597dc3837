import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Role } from '@tangled-choir/core';
import { roleColour, rolePaths } from './roles';

/** The glyph of a role in its hue. */
@Component({
  selector: 'tc-role-glyph',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg viewBox="0 0 16 16" width="16" height="16" role="img" [attr.aria-label]="role() ?? 'no role'">
    <path [attr.d]="path()" fill="none" stroke-width="1.6" stroke-linejoin="round" stroke-linecap="round" [style.stroke]="colour()" />
  </svg>`,
  styles: `
    :host {
      display: inline-flex;
    }
  `,
})
export class RoleGlyph {
  readonly role = input.required<Role | undefined>();
  protected readonly path = computed(() => (this.role() ? rolePaths[this.role()!] : 'M8 6.5a1.5 1.5 0 1 0 0 3 1.5 1.5 0 0 0 0-3z'));
  protected readonly colour = computed(() => roleColour(this.role()));
}
