import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { MatDividerModule } from '@angular/material/divider';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import type { Mover, Parameter, ParameterValue } from '@tangled-choir/core';
import {
  axisOf,
  effectCatalogue,
  findProperty,
  firstPull,
  mayPull,
  firstSway,
  isAutomatable,
  isPullable,
  ownerOfAddress,
} from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { HandsStore } from '../state/hands.store';
import { LecternPanel } from '../state/lectern-panel.store';
import { WorkbenchStore } from '../state/workbench.store';
import type { Dial } from '../ui/dial-menus';
import { DialMenus } from '../ui/dial-menus';
import { MenuAnchor } from '../ui/menu-anchor';
import { formatQuantity } from '../ui/quantity';

const newMovers = [
  { kind: 'tide', name: 'Tide' },
  { kind: 'rein', name: 'Rein' },
  { kind: 'walk', name: 'Walk' },
] as const;

/** The menu of any dial: let it move, be pulled or vary, put it back, take its value elsewhere. */
@Component({
  selector: 'tc-dial-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatDividerModule, MatIconModule, MatMenuModule, MenuAnchor],
  templateUrl: './dial-menu.html',
})
export class DialMenu {
  private readonly menus = inject(DialMenus);
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly panel = inject(LecternPanel);
  protected readonly hands = inject(HandsStore);
  private readonly anchor = viewChild.required(MenuAnchor);
  protected readonly dial = computed(() => this.menus.asked()?.dial);
  /** The value that was copied last, and how it was written. */
  private readonly copied = signal<{ readonly value: ParameterValue; readonly parameter: Parameter } | undefined>(undefined);

  /** The property of the sound that the dial turns. */
  private readonly property = computed(() => {
    const sound = this.workbench.sound();
    const address = this.dial()?.address;
    return sound && address !== undefined ? findProperty(sound, address, effectCatalogue) : undefined;
  });
  protected readonly automatable = computed(() => {
    const property = this.property();
    return property !== undefined && isAutomatable(property);
  });
  protected readonly pullable = computed(() => {
    const property = this.property();
    return property !== undefined && isPullable(property);
  });
  protected readonly lane = computed(() => this.workbench.sound()?.automation.find(({ address }) => address === this.property()?.address));
  /** Who may pull at it: of movers themselves, not all. */
  private readonly may = ({ kind }: Pick<Mover, 'kind'>): boolean => mayPull(kind, this.property()?.address ?? '');
  protected readonly movers = computed(() =>
    (this.workbench.sound()?.movers ?? []).filter(this.may).map((mover) => ({
      mover,
      pulls: this.workbench.sound()!.pulls.some((pull) => pull.mover === mover.id && pull.address === this.property()?.address),
    })),
  );
  protected readonly newMovers = computed(() => newMovers.filter(this.may));
  protected readonly sway = computed(() =>
    this.workbench.sound()?.family.sways.find(({ address }) => address === this.property()?.address),
  );
  private readonly first = computed(() => {
    const property = this.property();
    return property && firstSway(property);
  });
  protected readonly swayable = computed(() => this.first() !== undefined);
  protected readonly resetText = computed(() => {
    const dial = this.dial();
    return dial ? textOf(dial.parameter.default, dial.parameter) : '';
  });
  protected readonly valueText = computed(() => {
    const dial = this.dial();
    return dial ? textOf(dial.value, dial.parameter) : '';
  });
  /** What would be pasted, where it fits: numbers among the same unit, others among the same choices. */
  protected readonly pasteText = computed(() => {
    const dial = this.dial();
    const copied = this.copied();
    return dial && copied && fits(copied.parameter, dial.parameter) ? textOf(copied.value, dial.parameter) : '';
  });

  constructor() {
    this.menus.shown.set(true);
    inject(DestroyRef).onDestroy(() => {
      this.menus.shown.set(false);
      // What was asked for here is not asked for in the next project.
      this.menus.asked.set(undefined);
    });
    effect(() => {
      const asked = this.menus.asked();
      if (asked) untracked(() => this.anchor().openAt(asked.place));
    });
  }

  protected automate(): void {
    const sound = this.workbench.sound();
    const address = this.property()?.address;
    if (!sound || address === undefined) return;
    if (!this.lane() && !this.document.edit('addAutomation', { sound: sound.id, address })) return;
    this.workbench.openLane(ownerOfAddress(address), address);
  }

  protected readonly wheeled = computed(() => this.hands.wheel() !== undefined && this.hands.wheel() === this.property()?.address);

  /** Puts the dial on the wheel of who plays by hand, or takes it off. */
  protected toggleWheel(): void {
    this.hands.setWheel(this.wheeled() ? undefined : this.property()?.address);
  }

  protected togglePull(mover: Mover, pulls: boolean): void {
    const axis = this.axis();
    if (!axis) return;
    this.pull(mover.id, pulls ? undefined : firstPull(axis));
    if (!pulls) this.panel.showMover(mover.id);
  }

  /** A new mover that pulls at the dial, as one undo step. */
  protected pullByNew({ kind, name }: (typeof newMovers)[number]): void {
    const sound = this.workbench.sound();
    const axis = this.axis();
    if (!sound || !axis) return;
    const number = sound.movers.filter((mover) => mover.kind === kind).length + 1;
    const gesture = `${kind} ${number} for ${this.property()!.address}`;
    if (!this.document.edit('addMover', { sound: sound.id, kind, name: `${name} ${number}` }, gesture)) return;
    const added = this.workbench.sound()?.movers.at(-1);
    if (!added) return;
    this.pull(added.id, firstPull(axis), gesture);
    this.panel.showMover(added.id);
  }

  protected toggleSway(): void {
    const sound = this.workbench.sound();
    const property = this.property();
    const [sway, first] = [this.sway(), this.first()];
    if (!sound || !property || !first) return;
    if (sway) this.document.edit('removeSway', { sound: sound.id, sway: sway.id });
    else {
      const label = `Let ${property.owner}, ${property.parameter.label.toLowerCase()} vary`;
      this.document.edit('setSway', { sound: sound.id, sway: first, label });
    }
  }

  protected reset(dial: Dial): void {
    dial.set(dial.parameter.default);
  }

  protected copy({ value, parameter }: Dial): void {
    this.copied.set({ value, parameter });
  }

  protected paste(dial: Dial): void {
    const copied = this.copied();
    if (copied) dial.set(copied.value);
  }

  private axis() {
    const property = this.property();
    return property && axisOf(property.parameter);
  }

  private pull(mover: string, depth: number | undefined, gesture?: string): void {
    const address = this.property()!.address;
    this.document.edit('setPull', { sound: this.workbench.sound()!.id, mover, address, depth }, gesture);
  }
}

function textOf(value: ParameterValue, parameter: Parameter): string {
  if (parameter.kind === 'number') return formatQuantity(Number(value), parameter);
  return parameter.kind === 'switch' ? (value === true ? 'on' : 'off') : String(value);
}

function fits(from: Parameter, to: Parameter): boolean {
  if (from.kind === 'number' && to.kind === 'number') return from.unit === to.unit;
  if (from.kind === 'choice' && to.kind === 'choice') return from.options.join() === to.options.join();
  return from.kind === 'switch' && to.kind === 'switch';
}
