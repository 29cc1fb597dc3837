import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal, viewChild } from '@angular/core';
import { MatDividerModule } from '@angular/material/divider';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import type { Mover, Property } from '@tangled-choir/core';
import {
  axisOf,
  effectCatalogue,
  findProperty,
  isAutomatable,
  isPulledOfClip,
  listAddresses,
  mayPull,
  ownerOfAddress,
} from '@tangled-choir/core';
import { group } from 'd3';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import type { MenuPlace } from '../../ui/menu-anchor';
import { MenuAnchor } from '../../ui/menu-anchor';

interface Offer {
  /** One property, or the same of all clips. */
  readonly addresses: readonly string[];
  readonly label: string;
  readonly automated: boolean;
}

/** The automatable properties of a layer, a bus or the whole sound: choosing one gives it a lane and opens it. */
@Component({
  selector: 'tc-automation-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatDividerModule, MatIconModule, MatMenuModule, MenuAnchor],
  template: `
    <tc-menu-anchor [menu]="menu" />
    <mat-menu #menu="matMenu" class="wide-menu">
      <ng-template matMenuContent>
        @if (lanes() > 0 && !picking()) {
          <button mat-menu-item (click)="toggle()">{{ open() ? 'Hide' : 'Show' }} {{ lanes() === 1 ? 'the lane' : 'the lanes' }}</button>
          <mat-divider />
        }
        @for (offer of own(); track offer.addresses[0]) {
          <button mat-menu-item (click)="choose(offer)">
            <mat-icon [svgIcon]="offer.automated ? 'check' : 'none'" />{{ offer.label }}
          </button>
        }
        @for (step of steps(); track step.id) {
          <button mat-menu-item [matMenuTriggerFor]="stepMenu">
            <mat-icon [svgIcon]="step.automated ? 'check' : 'none'" />{{ step.label }}
          </button>
          <mat-menu #stepMenu="matMenu" class="wide-menu">
            <ng-template matMenuContent>
              @for (offer of step.offers; track offer.addresses[0]) {
                <button mat-menu-item (click)="choose(offer)">
                  <mat-icon [svgIcon]="offer.automated ? 'check' : 'none'" />{{ offer.label }}
                </button>
              }
            </ng-template>
          </mat-menu>
        }
      </ng-template>
    </mat-menu>
  `,
})
export class AutomationMenu {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly anchor = viewChild.required(MenuAnchor);
  private readonly owner = signal('sound');

  private readonly properties = computed((): Property[] => {
    const sound = this.workbench.sound();
    if (!sound) return [];
    const properties = listAddresses(sound, effectCatalogue)
      .filter((address) => ownerOfAddress(address) === this.owner() && this.offered(address))
      .flatMap((address) => findProperty(sound, address, effectCatalogue) ?? [])
      .filter(isAutomatable);
    // Stages stand behind what moves smoothly, which is wanted more often.
    return [...properties.filter((property) => !isStaged(property)), ...properties.filter(isStaged)];
  });
  /** What has a check mark: without it, what has a lane. */
  readonly marked = input<ReadonlySet<string> | undefined>();
  /** Who is to pull what is picked: not every kind may pull at everything. */
  readonly puller = input<Mover['kind'] | undefined>();
  /** Where to send what was chosen; without a listener it gets a lane. */
  readonly picking = input(false);
  readonly picked = output<readonly string[]>();
  private readonly automated = computed(() => this.marked() ?? new Set(this.workbench.sound()?.automation.map((lane) => lane.address)));
  protected readonly own = computed(() => this.properties().filter(inChain(false)).map(this.offer));
  protected readonly steps = computed(() => {
    const byStep = group(this.properties().filter(inChain(true)), stepOf);
    const steps = [...byStep].map(([id, properties]) => ({ id, label: properties[0]!.within ?? '', offers: properties.map(this.offer) }));
    const clips = { id: 'clips', label: this.clipsLabel(), offers: this.ofClips() };
    return [...(clips.offers.length > 0 ? [clips] : []), ...steps].map((step) => ({
      ...step,
      automated: step.offers.some(({ automated }) => automated),
    }));
  });
  /** Those clips of the layer that are chosen, or all of it. */
  private readonly clips = computed(() => {
    const all = this.workbench.sound()?.layers.find(({ id }) => this.owner() === `layer/${id}`)?.clips ?? [];
    const chosen = all.filter(({ id }) => this.workbench.clipIds().includes(id));
    return chosen.length > 0 ? { of: chosen, chosen: chosen.length < all.length } : { of: all, chosen: false };
  });
  private readonly clipsLabel = computed(() => {
    const { of, chosen } = this.clips();
    if (of.length === 1) return chosen ? 'The chosen clip' : 'Its clip';
    return chosen ? `The ${of.length} chosen clips` : `Its ${of.length} clips`;
  });
  /** What movers pull of clips, each of all of them. */
  private readonly ofClips = computed((): Offer[] => {
    const sound = this.workbench.sound();
    if (!sound || this.puller() === undefined) return [];
    const ids = new Set(this.clips().of.map(({ id }) => id));
    const pulled = listAddresses(sound, effectCatalogue).filter(
      (address) => isPulledOfClip(address) && ids.has(address.split('/').at(-2)!) && this.offered(address),
    );
    return [...group(pulled, (address) => address.split('/').at(-1)).values()].map((addresses) => ({
      addresses,
      label: findProperty(sound, addresses[0]!, effectCatalogue)?.parameter.label ?? '',
      automated: addresses.every((address) => this.automated().has(address)),
    }));
  });
  protected readonly lanes = computed(
    () => (this.workbench.sound()?.automation ?? []).filter((lane) => ownerOfAddress(lane.address) === this.owner()).length,
  );
  protected readonly open = computed(() => this.workbench.automated().includes(this.owner()));

  openFor(owner: string, place: MenuPlace): void {
    this.owner.set(owner);
    this.anchor().openAt(place);
  }

  protected toggle(): void {
    this.workbench.showAutomation(this.owner(), !this.open());
  }

  protected choose({ addresses, automated }: Offer): void {
    const sound = this.workbench.sound();
    const [address] = addresses;
    if (!sound || address === undefined) return;
    if (this.picking()) {
      this.picked.emit(addresses);
      return;
    }
    if (!automated && !this.document.edit('addAutomation', { sound: sound.id, address })) return;
    this.workbench.openLane(this.owner(), address);
  }

  private offered(address: string): boolean {
    const puller = this.puller();
    return puller === undefined || mayPull(puller, address);
  }

  private readonly offer = (property: Property): Offer => ({
    addresses: [property.address],
    // Within a step of a chain, the menu says already which.
    label: property.within !== undefined && !inChain(true)(property) ? property.within : property.parameter.label,
    automated: this.automated().has(property.address),
  });
}

const isStaged = ({ parameter }: Property): boolean => axisOf(parameter)?.names !== undefined;

/** Whether a property belongs to a step of a chain, or to a branch of one. */
const inChain =
  (wanted: boolean) =>
  ({ address }: Property): boolean =>
    /\/(chain|branch)\//.test(address) === wanted;

const stepOf = ({ address }: Property): string => address.split('/').at(-2) ?? '';
