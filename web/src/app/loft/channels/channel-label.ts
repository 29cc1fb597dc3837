import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Bus, Layer } from '@tangled-choir/core';
import { gainParameter, ownerAddress } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Freezing } from '../../state/freezing.store';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';
import type { MenuPlace } from '../../ui/menu-anchor';
import { NameField } from '../../ui/name-field';
import type { ValueChange } from '../../ui/value-field';
import { ValueField } from '../../ui/value-field';

/** Name, mute, solo, gain and automation of a layer, a group or a shared bus. What stands before the name comes from outside. */
@Component({
  selector: 'tc-channel-label',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, MatTooltipModule, NameField, ValueField],
  template: `
    <ng-content />
    <tc-name [name]="channel().name" [label]="kind() + ' name'" (renamed)="rename($event)" />
    <button
      class="switch"
      [class.on]="channel().muted"
      [attr.aria-pressed]="channel().muted"
      [attr.aria-label]="'Mute ' + channel().name"
      (click)="mute()"
    >
      M
    </button>
    @if (canSolo()) {
      <button
        class="switch solo"
        [class.on]="channel().soloed"
        [class.aside]="channel().soloed && !soloing()"
        [attr.aria-pressed]="channel().soloed"
        [attr.aria-label]="'Solo ' + channel().name"
        (click)="solo()"
      >
        S
      </button>
    }
    <tc-value
      class="gain"
      [class.automated]="lane() !== undefined"
      [label]="'Gain of ' + channel().name"
      [address]="address() + '/gain'"
      [parameter]="gainParameter"
      [value]="gain()"
      [matTooltip]="lane() ? 'Automated: turning it moves the whole lane' : ''"
      (valueChange)="setGain($event)"
    />
    @if (frozenText(); as told) {
      <button
        class="switch plain frozen"
        [attr.aria-label]="channel().name + ' is frozen. Keep it live'"
        [matTooltip]="told"
        (click)="keepLive()"
      >
        <mat-icon svgIcon="frozen" />
      </button>
    }
    <ng-content select="[after]" />
    <button
      class="switch plain"
      [class.lit]="laneCount() > 0"
      [attr.aria-label]="'Automation of ' + channel().name"
      [matTooltip]="laneCount() > 0 ? laneCount() + ' automated' : 'Automate'"
      (click)="automate.emit(placeOf($event))"
    >
      <mat-icon svgIcon="automation" />
    </button>
    <button class="switch plain" [attr.aria-label]="'More for ' + channel().name" (click)="more.emit(placeOf($event))">
      <mat-icon svgIcon="more" />
    </button>
  `,
  styleUrl: './channel-label.scss',
})
export class ChannelLabel {
  readonly channel = input.required<Layer | Bus>();
  readonly owner = input.required<{ readonly layer: string } | { readonly bus: string }>();
  /** What it is, as people call it: “Layer”, “Group”, “Bus”. */
  readonly kind = input.required<string>();
  readonly automate = output<MenuPlace>();
  readonly more = output<MenuPlace>();
  private readonly document = inject(DocumentStore);
  private readonly turning = inject(Turning);
  private readonly freezing = inject(Freezing);
  private readonly workbench = inject(WorkbenchStore);
  protected readonly gainParameter = { ...gainParameter, min: -60, max: 12 };
  protected readonly address = computed(() => ownerAddress(this.owner()));
  protected readonly lane = computed(() => this.turning.laneOf(`${this.address()}/gain`));
  protected readonly gain = computed(() => this.turning.valueNow(`${this.address()}/gain`, this.channel().gain, gainParameter));
  protected readonly soloing = computed(() => this.workbench.sound()?.soloing !== false);
  protected readonly canSolo = computed(() => this.kind() !== 'Bus');
  protected readonly laneCount = computed(
    () => this.workbench.sound()?.automation.filter((lane) => lane.address.startsWith(`${this.address()}/`)).length ?? 0,
  );

  /** Why it is frozen, if it is. */
  protected readonly frozenText = computed(() => {
    const owner = this.owner();
    const load = 'layer' in owner ? this.freezing.loadOf(owner.layer) : undefined;
    return load === undefined
      ? undefined
      : `Frozen: live it takes ${Math.round(load * 100)} % of real time. Any change of it thaws it; a click plays it live again.`;
  });

  protected keepLive(): void {
    const owner = this.owner();
    if ('layer' in owner) this.freezing.keepLive(owner.layer);
  }

  protected placeOf(event: Event): MenuPlace {
    const box = event.currentTarget instanceof HTMLElement ? event.currentTarget.getBoundingClientRect() : undefined;
    return { x: box?.left ?? 0, y: box?.bottom ?? 0 };
  }

  protected rename(name: string): void {
    const owner = this.owner();
    if ('layer' in owner) this.document.edit('renameLayer', { sound: this.soundId, layer: owner.layer, name });
    else this.document.edit('renameBus', { sound: this.soundId, bus: owner.bus, name });
  }

  protected mute(): void {
    const owner = this.owner();
    const muted = !this.channel().muted;
    if ('layer' in owner) this.document.edit('muteLayer', { sound: this.soundId, layer: owner.layer, muted });
    else this.document.edit('muteBus', { sound: this.soundId, bus: owner.bus, muted });
  }

  protected solo(): void {
    // A solo that was set aside is begun anew.
    const soloed = !this.channel().soloed || !this.soloing();
    this.document.edit('solo', { sound: this.soundId, owner: this.owner(), soloed });
  }

  protected setGain({ value, gesture }: ValueChange): void {
    this.turning.turn({ [`${this.address()}/gain`]: value }, `Gain of “${this.channel().name}”`, gesture);
  }

  private get soundId(): string {
    return this.workbench.sound()!.id;
  }
}
