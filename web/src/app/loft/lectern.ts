import type { CdkDragDrop } from '@angular/cdk/drag-drop';
import { DragDropModule } from '@angular/cdk/drag-drop';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  viewChild,
  ViewContainerRef,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { EffectStep } from '@tangled-choir/core';
import { branchName, chainLatency, effectCatalogue, effectsById, ownerAddress, projectSampleRate } from '@tangled-choir/core';
import { LiveEngine } from '../engine/live/live-engine';
import { DocumentStore } from '../state/project/document.store';
import { Freezing } from '../state/freezing.store';
import { Judging } from '../state/judging.store';
import { LecternPanel } from '../state/lectern-panel.store';
import { WorkbenchStore } from '../state/workbench.store';
import { openDialog } from '../ui/open-dialog';
import { formatLevel } from '../ui/quantity';
import { RoleGlyph } from '../ui/role-glyph';
import { newGesture } from '../ui/value-field';
import { AutomationMenu } from './automation/automation-menu';
import { ChangeBars } from './editors/change-bars';
import { CompressorEditor } from './editors/compressor-editor';
import { DrawnEditor } from './editors/drawn-editor';
import { DynamicEditor } from './editors/dynamic-editor';
import { EqEditor } from './editors/eq-editor';
import { ChainStates } from './chain/chain-states';
import type { WantedEffect } from './chain/effect-menu';
import { EffectMenu } from './chain/effect-menu';
import { HostEditor } from './chain/host-editor';
import { PresetBrowser } from './presets/preset-browser';
import { StepCopies } from './chain/step-copies';
import { StepPresets } from './presets/step-presets';
import { GraphicEditor } from './editors/graphic-editor';
import { MetersView } from './meters/meters-view';
import { MovesView } from './moves/moves-view';
import { SeatingView } from './seating-view';
import { StepEditor } from './editors/step-editor';
import { PartEditor } from './patch/part-editor';
import { PatchTiles } from './patch/patch-tiles';
import { SharedEditor } from './patch/shared-editor';

/** Above this share of real time a chain is told to be heavy. */
const heavyLoad = 0.3;

/** The chain of the selected layer, group or bus, or of the whole sound, as a path of tiles, and the editor of the open step. */
@Component({
  selector: 'tc-lectern',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    AutomationMenu,
    CompressorEditor,
    DragDropModule,
    DrawnEditor,
    DynamicEditor,
    EffectMenu,
    EqEditor,
    HostEditor,
    GraphicEditor,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    MatTooltipModule,
    ChainStates,
    ChangeBars,
    RoleGlyph,
    MetersView,
    MovesView,
    PartEditor,
    PatchTiles,
    SeatingView,
    SharedEditor,
    StepEditor,
    StepPresets,
  ],
  templateUrl: './lectern.html',
  styleUrl: './lectern.scss',
})
export class Lectern {
  /** What can be shown in the place of the open step. */
  protected readonly panels = [
    { name: 'moves', label: 'Moves', tells: 'Tides, reins and walks, and what they pull' },
    { name: 'seating', label: 'Seating', tells: 'Which band every layer occupies, and who hides whom' },
    { name: 'meters', label: 'Meters', tells: 'Spectrum, loudness, stereo field, and what all dynamics take away' },
  ] as const;
  private readonly document = inject(DocumentStore);
  private readonly engine = inject(LiveEngine);
  private readonly dialog = inject(MatDialog);
  /** Dialogs see what belongs to the open project. */
  private readonly container = inject(ViewContainerRef);
  private readonly freezing = inject(Freezing);
  protected readonly copies = inject(StepCopies);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly judging = inject(Judging);
  protected readonly panel = inject(LecternPanel);
  private readonly automation = viewChild.required(AutomationMenu);
  private readonly automateButton = viewChild('automateButton', { read: ElementRef<HTMLElement> });
  protected readonly sound = this.workbench.sound;
  protected readonly chain = this.workbench.chain;
  protected readonly step = this.workbench.step;
  /** The way into hosts: each host with the branch that is open, and where it lies itself. */
  protected readonly crumbs = computed(() =>
    this.workbench.path().map(({ host, branch }, depth, path) => ({
      host: this.labelOf(host),
      step: host.id,
      outer: path[depth - 1]?.branch.id,
      branch: branch.id,
      name: branchName(host, branch, effectCatalogue),
    })),
  );
  protected readonly reductions = computed(() => (this.engine.playing() === 'sound' ? this.engine.meters()?.gainReductions : undefined));

  protected readonly changes = computed(() => (this.engine.playing() === 'sound' ? this.engine.meters()?.changes : undefined));

  /** What the chain costs: its share of real time while it plays, and how far it lags, which is compensated. */
  protected readonly cost = computed(() => {
    const owner = this.workbench.owner();
    const frozen = owner !== 'sound' && 'layer' in owner && this.freezing.loadOf(owner.layer) !== undefined;
    if (frozen) return { text: 'frozen', heavy: false };
    const rate = this.document.project()?.sampleRate ?? projectSampleRate;
    const lag = chainLatency(this.workbench.outerChain(), { sampleRate: rate }) / rate;
    const load = this.engine.playing() === 'sound' ? this.engine.meters()?.loads.get(ownerAddress(owner)) : undefined;
    const parts = [
      ...(load === undefined ? [] : [`${(load * 100).toFixed(load < 0.1 ? 1 : 0)} %`]),
      ...(lag > 0 ? [`${(lag * 1_000).toFixed(1)} ms`] : []),
    ];
    return { text: parts.join(' · '), heavy: (load ?? 0) > heavyLoad };
  });

  constructor() {
    // A long chain scrolls; its open tile must be seen.
    const host = inject<ElementRef<HTMLElement>>(ElementRef);
    afterRenderEffect(() => {
      this.step();
      const tiles = host.nativeElement.querySelector<HTMLElement>('.tiles');
      const tile = tiles?.querySelector<HTMLElement>('.tile.open');
      if (!tiles || !tile) return;
      // By hand, because scrollIntoView would move the whole page as well.
      const left = tile.offsetLeft - tiles.offsetLeft;
      const right = left + tile.offsetWidth;
      if (left < tiles.scrollLeft) tiles.scrollLeft = left;
      else if (right > tiles.scrollLeft + tiles.clientWidth) tiles.scrollLeft = right - tiles.clientWidth;
    });
  }

  /** Offers what can be automated of the selected layer, group or bus, or of the whole sound. */
  openAutomation(): void {
    const box = this.automateButton()?.nativeElement.getBoundingClientRect();
    this.automation().openFor(ownerAddress(this.workbench.owner()), { x: box?.left ?? 0, y: box?.bottom ?? 0 });
  }

  /** The editor of a step takes the place of the seating chart. */
  protected openStep(step: EffectStep): void {
    this.panel.show('chain');
    this.workbench.selectStep(step.id);
  }

  /** Parts of a patch come first: a step is open when it was chosen, or when there are none. */
  protected isOpen(step: EffectStep): boolean {
    return this.workbench.part() === undefined && step.id === this.step()?.id;
  }

  protected openPresets(): void {
    openDialog(this.dialog, PresetBrowser, { width: '640px', autoFocus: 'first-tabbable', viewContainerRef: this.container });
  }

  protected labelOf(step: EffectStep): string {
    return effectsById.get(step.effect)?.label ?? step.effect;
  }

  protected reduction(step: EffectStep): string | undefined {
    const value = this.reductions()?.get(step.id);
    return value === undefined ? undefined : formatLevel(value > -0.05 ? 0 : value, 'dB');
  }

  protected add({ effect, preset }: WantedEffect): void {
    const sound = this.sound();
    if (!sound) return;
    const branch = this.workbench.branch();
    // An effect with a preset is one step to undo.
    const gesture = newGesture();
    const added = this.document.edit(
      'addEffect',
      {
        sound: sound.id,
        owner: this.workbench.owner(),
        effect,
        ...(branch !== undefined && { branch }),
      },
      gesture,
    );
    const step = this.chain().at(-1);
    if (!added || !step) return;
    this.panel.show('chain');
    this.workbench.selectStep(step.id);
    if (!preset) return;
    const { name, values } = preset;
    this.document.edit('setPreset', { sound: sound.id, owner: this.workbench.owner(), step: step.id, name, values }, gesture);
  }

  protected toggle(step: EffectStep): void {
    this.document.edit('switchEffect', { sound: this.sound()!.id, owner: this.workbench.owner(), step: step.id, enabled: !step.enabled });
  }

  protected remove(step: EffectStep): void {
    this.document.edit('removeEffect', { sound: this.sound()!.id, owner: this.workbench.owner(), step: step.id });
  }

  protected move(step: EffectStep, index: number): void {
    this.document.edit('moveEffect', { sound: this.sound()!.id, owner: this.workbench.owner(), step: step.id, index });
  }

  protected dropTile(event: CdkDragDrop<unknown>): void {
    const step = this.chain()[event.previousIndex];
    if (step && event.previousIndex !== event.currentIndex) this.move(step, event.currentIndex);
  }

  protected keyOnTile(event: KeyboardEvent, step: EffectStep, index: number): void {
    const key = event.key.toLowerCase();
    const command = event.ctrlKey || event.metaKey;
    if (command && key === 'c') this.copies.copy([step]);
    else if (command && key === 'v') this.copies.paste(index + 1);
    else if (command && key === 'd') this.copies.duplicate(step);
    else if (event.ctrlKey && event.key === 'ArrowLeft') this.move(step, index - 1);
    else if (event.ctrlKey && event.key === 'ArrowRight') this.move(step, index + 1);
    else if (event.key === 'Delete') this.remove(step);
    else if (key === 'b' && !event.ctrlKey) this.toggle(step);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
}
