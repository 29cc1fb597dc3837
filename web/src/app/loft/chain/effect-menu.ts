import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { effectFamilies, effects } from '@tangled-choir/core';

/** A button that offers all effects, family by family. */
@Component({
  selector: 'tc-effect-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatMenuModule],
  template: `
    <button mat-button [class.small]="small()" [disabled]="disabled()" [matMenuTriggerFor]="menu" [attr.aria-label]="label()">
      <mat-icon svgIcon="plus" />
      @if (!small()) {
        Effect
      }
    </button>
    <mat-menu #menu="matMenu">
      @for (family of families; track family.name) {
        <button mat-menu-item [matMenuTriggerFor]="familyMenu">{{ family.name }}</button>
        <mat-menu #familyMenu="matMenu" class="wide-menu">
          @for (effect of family.effects; track effect.id) {
            <button mat-menu-item class="offer" (click)="chosen.emit(effect.id)">
              <strong>{{ effect.label }}</strong>&ngsp;<small class="quiet">{{ effect.purpose }}</small>
            </button>
          }
        </mat-menu>
      }
    </mat-menu>
  `,
  styles: `
    button {
      flex: none;
      padding: 0 8px;
      white-space: nowrap;
    }
    .small {
      min-width: 28px;
      height: 26px;
      padding: 0 4px;
    }
    .small mat-icon {
      margin: 0;
    }
    .offer small {
      margin-left: 6px;
    }
  `,
})
export class EffectMenu {
  readonly label = input('Add an effect');
  readonly disabled = input(false);
  /** Shows its icon alone. */
  readonly small = input(false);
  readonly chosen = output<string>();
  protected readonly families = effectFamilies.map((name) => ({ name, effects: effects.filter(({ family }) => family === name) }));
}
