import { ChangeDetectionStrategy, Component, computed, inject, Injectable, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { MatDialogConfig } from '@angular/material/dialog';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { ParameterSet, ParameterValue } from '@tangled-choir/core';
import { isNeeded, resolveValues } from '@tangled-choir/core';
import { firstValueFrom } from 'rxjs';
import { openDialog } from './open-dialog';
import type { ParameterChange, ParameterRow } from './parameter-fields';
import { ParameterFields } from './parameter-fields';

export type SettingValues = Record<string, ParameterValue>;

/** What a dialog asks before it acts. */
export interface SettingsRequest {
  readonly title: string;
  /** One sentence: what will happen. */
  readonly explain: string;
  /** Word on the button. */
  readonly action: string;
  readonly parameters: ParameterSet;
  /** Also asks for a name, with this one to begin with; it comes back as the value `name`. */
  readonly name?: string;
  readonly values?: SettingValues;
  /** Says what the values at hand will lead to, or why they cannot be used. */
  readonly preview?: (values: SettingValues) => { text: string; possible: boolean };
}

/** Asks for the settings of an action, made from parameter definitions alone. */
@Component({
  selector: 'tc-settings-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, ParameterFields],
  template: `
    <h2 mat-dialog-title>{{ request.title }}</h2>
    <form (submit)="$event.preventDefault(); accept()">
      <mat-dialog-content>
        <p class="quiet">{{ request.explain }}</p>
        @if (request.name !== undefined) {
          <input
            #field
            cdkFocusInitial
            aria-label="Name"
            placeholder="Name"
            maxlength="300"
            [value]="name()"
            (input)="name.set(field.value)"
            (focus)="field.select()"
          />
        }
        <tc-parameter-fields [rows]="rows()" (changed)="change($event)" />
        @if (preview(); as told) {
          <p class="preview" [class.impossible]="!told.possible" role="status">{{ told.text }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button mat-button type="button" mat-dialog-close>Cancel</button>
        <!-- Not really disabled: a form whose button is disabled swallows an Enter that comes right after typing. -->
        <button mat-flat-button type="submit" [disabled]="!possible()" disabledInteractive>{{ request.action }}</button>
      </mat-dialog-actions>
    </form>
  `,
  styles: `
    mat-dialog-content.mat-mdc-dialog-content {
      padding: 0 20px 8px;
    }
    h2.mat-mdc-dialog-title {
      padding: 0 20px;
      font-size: 17px;
    }
    p {
      margin: 0 0 10px;
    }
    input {
      width: 100%;
      height: 32px;
      padding: 0 8px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--surface-2);
    }
    .preview {
      margin: 12px 0 0;
      min-height: 20px;
    }
    .impossible {
      color: var(--warning);
    }
  `,
})
export class SettingsDialog {
  protected readonly request = inject<SettingsRequest>(MAT_DIALOG_DATA);
  private readonly reference = inject<MatDialogRef<SettingsDialog, SettingValues>>(MatDialogRef);
  private readonly values = signal<SettingValues>(resolveValues(this.request.parameters, this.request.values ?? {}));
  protected readonly rows = computed((): ParameterRow[] =>
    Object.entries(this.request.parameters)
      .filter(([, parameter]) => isNeeded(parameter, this.request.parameters, this.values()))
      .map(([key, parameter]) => ({
        key,
        label: parameter.label,
        parameter,
        value: this.values()[key] ?? parameter.default,
      })),
  );
  protected readonly preview = computed(() => this.request.preview?.(this.values()));

  protected readonly name = signal(this.request.name ?? '');
  protected readonly possible = computed(
    () => this.preview()?.possible !== false && (this.request.name === undefined || this.name().trim() !== ''),
  );

  protected change({ key, value }: ParameterChange): void {
    this.values.update((values) => ({ ...values, [key]: value }));
  }

  protected accept(): void {
    if (!this.possible()) return;
    this.reference.close(this.request.name === undefined ? this.values() : { ...this.values(), name: this.name().trim() });
  }
}

/** Opens settings dialogs; every dialog remembers what was chosen last time, as long as the page is open. */
@Injectable({ providedIn: 'root' })
export class AskSettings {
  private readonly dialog = inject(MatDialog);
  private readonly remembered = new Map<string, SettingValues>();

  /** The chosen values, or undefined when nothing is to be done. */
  async ask(request: SettingsRequest): Promise<SettingValues | undefined> {
    const values = { ...this.remembered.get(request.title), ...request.values };
    const config: MatDialogConfig<SettingsRequest> = {
      data: { ...request, values },
      width: '440px',
      autoFocus: request.name === undefined ? 'dialog' : 'first-tabbable',
    };
    const chosen = await firstValueFrom(
      openDialog<SettingsDialog, SettingsRequest, SettingValues>(this.dialog, SettingsDialog, config).afterClosed(),
    );
    if (chosen) this.remembered.set(request.title, chosen);
    return chosen;
  }
}
