import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import type { MenuPlace } from '../../ui/menu-anchor';
import { MenuAnchor } from '../../ui/menu-anchor';
import { ChannelNames } from './channel-names';

/** What can be done to a group or a shared bus. */
@Component({
  selector: 'tc-bus-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, MatMenuModule, MenuAnchor],
  template: `
    <tc-menu-anchor [menu]="menu" />
    <mat-menu #menu="matMenu" class="wide-menu">
      <ng-template matMenuContent>
        @if (bus(); as bus) {
          @if (bus.kind === 'group') {
            @for (target of shared(); track target.id) {
              <button mat-menu-item (click)="toggleSend(target.id)">
                <mat-icon [svgIcon]="sendsTo(target.id) ? 'check' : 'none'" />Send to “{{ target.name }}”
              </button>
            }
            <button mat-menu-item (click)="sendToNewBus()">Send to a new shared bus…</button>
            <button mat-menu-item (click)="remove()">Dissolve the group, keep its layers</button>
          } @else {
            <button mat-menu-item (click)="remove()">Remove the bus and what is sent to it</button>
          }
        }
      </ng-template>
    </mat-menu>
  `,
})
export class BusMenu {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly names = inject(ChannelNames);
  private readonly anchor = viewChild.required(MenuAnchor);
  private readonly busId = signal<string | undefined>(undefined);
  protected readonly bus = computed(() => this.workbench.sound()?.buses.find((bus) => bus.id === this.busId()));
  protected readonly shared = computed(() => this.workbench.sound()?.buses.filter((bus) => bus.kind === 'shared') ?? []);

  openFor(bus: string, place: MenuPlace): void {
    this.busId.set(bus);
    this.anchor().openAt(place);
  }

  protected sendsTo(bus: string): boolean {
    return this.bus()?.sends.some((send) => send.bus === bus) === true;
  }

  protected toggleSend(bus: string): void {
    this.document.edit('setSend', { sound: this.soundId, owner: { bus: this.busId() ?? '' }, bus, on: !this.sendsTo(bus) });
  }

  protected async sendToNewBus(): Promise<void> {
    await this.names.addBusFor({ bus: this.busId() ?? '' });
  }

  protected remove(): void {
    this.document.edit('removeBus', { sound: this.soundId, bus: this.busId() ?? '' });
  }

  private get soundId(): string {
    return this.workbench.sound()?.id ?? '';
  }
}
