import { ChangeDetectionStrategy, Component, inject, viewChild } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { DocumentStore } from '../state/project/document.store';
import { WorkbenchStore } from '../state/workbench.store';
import { NameField } from '../ui/name-field';

/** Which sound is worked on: choose, rename, make, remove. */
@Component({
  selector: 'tc-sound-picker',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, MatMenuModule, NameField],
  template: `
    @if (workbench.sound(); as sound) {
      <tc-name #soundName class="name" label="Sound" [name]="sound.name" (renamed)="rename($event)" />
    } @else {
      <span class="quiet">No sound yet</span>
    }
    <button class="open" [matMenuTriggerFor]="menu" aria-label="Choose a sound"><mat-icon svgIcon="expand" /></button>
    <mat-menu #menu="matMenu">
      @for (sound of document.project()?.sounds; track sound.id) {
        <button mat-menu-item [attr.aria-current]="sound.id === workbench.sound()?.id" (click)="workbench.selectSound(sound.id)">
          @if (sound.id === workbench.sound()?.id) {
            <mat-icon svgIcon="check" />
          }
          {{ sound.name }}
        </button>
      }
      <button mat-menu-item (click)="add()"><mat-icon svgIcon="plus" />New sound</button>
      @if (workbench.sound()) {
        <button mat-menu-item (click)="startRenaming()"><mat-icon svgIcon="rename" />Rename</button>
        <button mat-menu-item (click)="duplicate()"><mat-icon svgIcon="duplicate" />Duplicate “{{ workbench.sound()?.name }}”</button>
        <button mat-menu-item (click)="remove()"><mat-icon svgIcon="delete" />Remove “{{ workbench.sound()?.name }}”</button>
      }
    </mat-menu>
  `,
  styles: `
    :host {
      display: inline-flex;
      gap: 4px;
      align-items: center;
      min-width: 0;
      font-size: 14px;
      font-weight: 600;
    }
    .name {
      max-width: 200px;
    }
    .open {
      display: inline-flex;
      padding: 2px;
      border: 0;
      border-radius: 4px;
      background: none;
      cursor: pointer;
    }
    .open:hover {
      background: var(--surface-3);
    }
    .open mat-icon {
      width: 20px;
      height: 20px;
    }
  `,
})
export class SoundPicker {
  protected readonly document = inject(DocumentStore);
  protected readonly workbench = inject(WorkbenchStore);
  private readonly soundName = viewChild<NameField>('soundName');

  protected add(): void {
    this.document.edit('addSound', { name: `Sound ${(this.document.project()?.sounds.length ?? 0) + 1}` });
    const added = this.document.project()?.sounds.at(-1);
    if (added) this.workbench.selectSound(added.id);
  }

  protected duplicate(): void {
    const sound = this.workbench.sound();
    if (!sound || !this.document.edit('duplicateSound', { sound: sound.id })) return;
    const sounds = this.document.project()?.sounds ?? [];
    const copy = sounds[sounds.findIndex(({ id }) => id === sound.id) + 1];
    if (copy) this.workbench.selectSound(copy.id);
  }

  protected rename(name: string): void {
    const sound = this.workbench.sound();
    if (sound) this.document.edit('renameSound', { sound: sound.id, name });
  }

  protected startRenaming(): void {
    this.soundName()?.start();
  }

  protected remove(): void {
    const sound = this.workbench.sound();
    if (sound) this.document.edit('removeSound', { sound: sound.id });
  }
}
