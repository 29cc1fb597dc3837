import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, signal, viewChild } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Mover, MoverKind, MoverSettings } from '@tangled-choir/core';
import {
  axisOf,
  count,
  decibels,
  effectCatalogue,
  findProperty,
  lfoShapes,
  moverAddress,
  firstPull,
  ownerAddress,
  reinParameter,
  seconds,
  share,
  shapePoints,
} from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { LecternPanel } from '../../state/lectern-panel.store';
import { Playback } from '../../state/playback.store';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';
import { ChoiceField, offersOf } from '../../ui/choice-field';
import { NameField } from '../../ui/name-field';
import type { ValueChange } from '../../ui/value-field';
import { newGesture, ValueField } from '../../ui/value-field';
import { AutomationMenu } from '../automation/automation-menu';
import type { PullRow } from './pull-rows';
import { pullRows } from './pull-rows';
import { TideCurve } from './tide-curve';

const names: Readonly<Record<MoverKind, string>> = { tide: 'Tide', rein: 'Rein', follower: 'Follower', walk: 'Walk' };

/** Tides, reins, followers and walks of the sound: what each is like, where it is now, and what it pulls. */
@Component({
  selector: 'tc-moves-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AutomationMenu, ChoiceField, MatCheckboxModule, MatTooltipModule, NameField, TideCurve, ValueField],
  templateUrl: './moves-view.html',
  styleUrl: './moves-view.scss',
})
export class MovesView {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly turning = inject(Turning);
  private readonly menu = viewChild.required(AutomationMenu);
  private readonly picker = viewChild('picker', { read: ElementRef<HTMLElement> });
  private readonly panel = inject(LecternPanel);

  protected readonly shapes = lfoShapes;
  protected readonly units = offersOf(['seconds', 'beats'] as const);
  protected readonly phaseParameter = share({ label: 'Phase', default: 0 });
  protected readonly smoothingParameter = share({ label: 'Smoothing', default: 0.5 });
  protected readonly seedParameter = count({ label: 'Seed', min: 0, max: 9_999, default: 1 });

  private readonly movers = computed(() => this.workbench.sound()?.movers ?? []);
  protected readonly chosen = computed(
    (): Mover | undefined => this.movers().find(({ id }) => id === this.panel.mover()) ?? this.movers()[0],
  );
  protected readonly ownerName = computed(() => (this.workbench.bus() ?? this.workbench.layer() ?? this.workbench.sound())?.name ?? '');
  private readonly courses = computed(() => {
    const courses = this.turning.courses();
    return this.movers().flatMap((mover) => {
      const course = courses.get(mover.id);
      return course ? [{ mover, course }] : [];
    });
  });
  protected readonly rows = computed(() => {
    const time = this.playback.playhead();
    return this.courses().map(({ mover, course }) => {
      const value = mover.kind === 'rein' ? this.turning.valueNow(`rein/${mover.id}/value`, mover.value, reinParameter) : course.at(time);
      return { mover, at: mover.kind === 'rein' || mover.kind === 'follower' ? value * 100 : 50 + value * 50 };
    });
  });
  /** What of the chosen mover is a property of the sound: how far a rein is drawn, the length of a round, the rate of a walk. */
  protected readonly own = computed(() => {
    const mover = this.chosen();
    const sound = this.workbench.sound();
    const address = mover && moverAddress(mover);
    const property = sound && address !== undefined ? findProperty(sound, address, effectCatalogue) : undefined;
    if (property?.parameter.kind !== 'number' || typeof property.value !== 'number') return undefined;
    const { parameter, value } = property;
    return { address: property.address, parameter, value: this.turning.valueNow(property.address, value, parameter) };
  });
  private readonly ownPulls = computed(() => (this.workbench.sound()?.pulls ?? []).filter((pull) => pull.mover === this.chosen()?.id));
  protected readonly pulled = computed(() => new Set(this.ownPulls().map(({ address }) => address)));
  protected readonly pulls = computed(() => {
    const sound = this.workbench.sound();
    return sound ? pullRows(sound, this.ownPulls()) : [];
  });

  protected readonly attackParameter = seconds({ label: 'Attack', min: 0.0005, max: 5, default: 0.01 });
  protected readonly releaseParameter = seconds({ label: 'Release', min: 0.005, max: 20, default: 0.2 });
  protected readonly lowParameter = decibels({ label: 'Rest', min: -90, max: 0, default: -48 });
  protected readonly highParameter = decibels({ label: 'Full', min: -90, max: 0, default: -12 });
  /** What a follower can follow. */
  protected readonly followable = computed(() => {
    const sound = this.workbench.sound();
    const groups = sound?.buses.filter((bus) => bus.kind === 'group') ?? [];
    return [
      { value: '', name: 'nothing yet' },
      ...(sound?.layers ?? []).map(({ id, name }) => ({ value: `layer/${id}`, name })),
      ...groups.map(({ id, name }) => ({ value: `bus/${id}`, name: `${name} (group)` })),
    ];
  });

  protected choose(mover: Mover): void {
    this.panel.chooseMover(mover.id);
  }

  protected add(kind: MoverKind): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    const number = sound.movers.filter((mover) => mover.kind === kind).length + 1;
    if (this.document.edit('addMover', { sound: sound.id, kind, name: `${names[kind]} ${number}` }))
      this.panel.chooseMover(this.movers().at(-1)?.id);
  }

  protected remove(mover: Mover): void {
    this.document.edit('removeMover', { sound: this.workbench.sound()!.id, mover: mover.id });
  }

  protected set(settings: MoverSettings, gesture?: string, action?: string): void {
    const mover = this.chosen();
    const sound = this.workbench.sound();
    if (mover && sound) this.document.edit('setMover', { sound: sound.id, mover: mover.id, settings, ...(action && { action }) }, gesture);
  }

  protected setShape(shape: (typeof lfoShapes)[number]): void {
    this.set({ points: shapePoints(shape) }, undefined, 'Draw');
  }

  protected turnOwn({ value, gesture }: ValueChange): void {
    const [mover, own] = [this.chosen(), this.own()];
    if (mover && own) this.turning.turn({ [own.address]: value }, `${names[mover.kind]} “${mover.name}”`, gesture);
  }

  /** Gives it a lane; it opens under the tracks of the whole sound. */
  protected automate(address: string): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    if (!sound.automation.some((lane) => lane.address === address)) this.document.edit('addAutomation', { sound: sound.id, address });
    this.workbench.showAutomation('sound', true);
  }

  protected openPicker(): void {
    const box = this.picker()?.nativeElement.getBoundingClientRect();
    this.menu().openFor(ownerAddress(this.workbench.owner()), { x: box?.left ?? 0, y: box?.top ?? 0 });
  }

  protected pull(addresses: readonly string[]): void {
    const sound = this.workbench.sound();
    const mover = this.chosen();
    if (!sound || !mover) return;
    const gesture = newGesture();
    for (const address of addresses) {
      const property = findProperty(sound, address, effectCatalogue);
      const axis = property && axisOf(property.parameter);
      if (axis && !this.pulled().has(address))
        this.document.edit('setPull', { sound: sound.id, mover: mover.id, address, depth: firstPull(axis) }, gesture);
    }
  }

  protected setDepth({ addresses }: PullRow, { value, gesture }: ValueChange): void {
    this.setPulls(addresses, value, gesture);
  }

  /** The pull whose stretch and bend are shown. */
  protected readonly shaping = signal<string | undefined>(undefined);
  protected readonly shapeParameters = [
    { key: 'from' as const, parameter: share({ label: 'From', default: 0 }) },
    { key: 'to' as const, parameter: share({ label: 'To', default: 1 }) },
    { key: 'bend' as const, parameter: { ...share({ label: 'Bend', min: -1, default: 0 }) } },
  ];

  protected setShapeOf({ addresses }: PullRow, key: 'from' | 'to' | 'bend', { value, gesture }: ValueChange): void {
    const place = { sound: this.workbench.sound()!.id, mover: this.chosen()!.id };
    for (const address of addresses) this.document.edit('shapePull', { ...place, address, shape: { [key]: value } }, gesture);
  }

  protected letGo({ addresses }: PullRow): void {
    this.setPulls(addresses, undefined, newGesture());
  }

  private setPulls(addresses: readonly string[], depth: number | undefined, gesture: string): void {
    const place = { sound: this.workbench.sound()!.id, mover: this.chosen()!.id };
    for (const address of addresses) this.document.edit('setPull', { ...place, address, depth }, gesture);
  }
}
