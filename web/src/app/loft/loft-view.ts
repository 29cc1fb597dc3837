import { afterNextRender, ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import { ownerAddress, rememberedSolos } from '@tangled-choir/core';
import { isTyping } from '../ui/typing';
import { DocumentStore } from '../state/project/document.store';
import { HandsStore } from '../state/hands.store';
import { LaneHeights, laneSizes } from '../state/lane-heights.store';
import type { KeptTake } from '../sounds/record-panel';
import { RecordPanel } from '../sounds/record-panel';
import { PlaceInLoft } from '../state/place-in-loft';
import type { Placeable } from '../state/placeable';
import { Judging } from '../state/judging.store';
import { lecternHeights, LecternPanel } from '../state/lectern-panel.store';
import { PitchTracks } from '../state/pitch-tracks.store';
import { Playback } from '../state/playback.store';
import { Printing } from '../state/printing';
import { WorkbenchStore } from '../state/workbench.store';
import { OpenMake } from '../sounds/open-make';
import { SoundPicker } from '../sounds/sound-picker';
import { ArrangeCommands } from './arrange/arrange-commands';
import { arrangeKeys, chord, clipKeys } from './arrange/arrange-keys';
import { StretchCommands, stretchKeys } from './stretch/stretch-commands';
import { TuningCommands } from './stretch/tuning-commands';
import { HandsPanel } from './hands/hands-panel';
import { Lectern } from './lectern';
import { LecternEdge } from './lectern-edge';
import { PictureMonitor } from './picture/picture-monitor';
import { SelectionInspector } from './selection-inspector';
import { SourceShelf } from './source-shelf';
import { nudgeLength, TimeDisplay } from './timeline/time-display';
import { TimeTools } from './timeline/time-tools';
import { Timeline } from './timeline/timeline';
import { TimelineScale } from './timeline/timeline-scale';
import { loftProviders } from './loft-providers';

const emptyLectern = 122;

/** One sound being built: layers over time, sources at hand, and the lectern with the selected chain. */
@Component({
  selector: 'tc-loft-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    HandsPanel,
    Lectern,
    LecternEdge,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    MatTooltipModule,
    PictureMonitor,
    RecordPanel,
    SelectionInspector,
    SoundPicker,
    SourceShelf,
    Timeline,
    TimeTools,
  ],
  providers: [TimelineScale, ...loftProviders],
  templateUrl: './loft-view.html',
  styleUrl: './loft-view.scss',
  host: { '(document:keydown)': 'key($event)', '[style.--lectern.px]': 'lecternHeight()' },
})
export class LoftView {
  private readonly document = inject(DocumentStore);
  private readonly placing = inject(PlaceInLoft);
  protected readonly playback = inject(Playback);
  private readonly display = inject(TimeDisplay);
  protected readonly arrange = inject(ArrangeCommands);
  private readonly stretching = inject(StretchCommands);
  private readonly tuning = inject(TuningCommands);
  private readonly pitches = inject(PitchTracks);
  private readonly making = inject(OpenMake);
  protected readonly printing = inject(Printing);
  protected readonly workbench = inject(WorkbenchStore);
  private readonly judging = inject(Judging);
  protected readonly panel = inject(LecternPanel);
  /** Nothing to show in the lectern, whatever is selected: a choice must not move what lies under the pointer. */
  protected readonly noChains = computed(() => {
    const sound = this.workbench.sound();
    const owners = sound ? [sound, ...sound.layers, ...sound.buses] : [];
    const made = sound?.layers.some(({ patch }) => patch);
    return this.panel.shown() === 'chain' && !made && owners.every(({ chain }) => chain.length === 0);
  });
  /** While there is no chain at all, its room goes to the lanes and to the inspector. */
  protected readonly lecternHeight = computed(() => {
    if (this.noChains()) return emptyLectern;
    return this.panel.folded() ? lecternHeights.folded : this.panel.height();
  });
  /** The layers of the chosen clips. */
  protected readonly chosenLayers = computed(() => [...new Set(this.workbench.selectedClips().map(({ layer }) => layer))]);
  protected readonly selectedGroup = computed(() => {
    const bus = this.workbench.bus();
    return bus?.kind === 'group' ? bus : undefined;
  });
  protected readonly anySolo = computed(() => {
    const sound = this.workbench.sound();
    return sound !== undefined && rememberedSolos(sound).length > 0;
  });
  protected readonly recording = signal(false);
  protected readonly hands = inject(HandsStore);
  protected readonly heights = inject(LaneHeights);
  protected readonly laneSizes = laneSizes;
  private readonly timeline = viewChild.required(Timeline);
  private readonly monitor = viewChild.required(PictureMonitor);
  private readonly lectern = viewChild.required(Lectern);

  constructor() {
    afterNextRender(() => this.timeline().fit());
  }

  protected toggleSoloing(): void {
    const sound = this.workbench.sound();
    if (sound) this.document.edit('setSoloing', { sound: sound.id, soloing: !sound.soloing });
  }

  protected fit(): void {
    this.timeline().fit();
  }

  protected zoom(factor: number): void {
    this.timeline().zoomAround(factor);
  }

  protected placeLayer(placed: Placeable): void {
    this.placing.asLayer(placed);
  }

  protected placeClip(placed: Placeable): void {
    const sound = this.workbench.sound();
    const layer = this.workbench.layer();
    if (!sound || !layer) this.placing.asLayer(placed);
    else this.drop({ placed, start: this.playback.startPosition(), layer: layer.id });
  }

  /** Lays a take where it was recorded; what came before time 0 is left out. */
  protected layTake({ source, startedAt, gesture }: KeptTake): void {
    const sound = this.placing.ensureSound();
    const found = this.document.project()?.sources.find(({ id }) => id === source);
    if (!sound || !found) return;
    const before = Math.max(0, -startedAt);
    const seconds = found.frames / (this.document.project()?.sampleRate ?? 48_000);
    const part = before > 0 && before < seconds ? { part: { from: before, to: seconds } } : {};
    if (!this.document.edit('addLayer', { sound, source, start: Math.max(0, startedAt), ...part }, gesture)) return;
    const layer = this.workbench.sound()?.layers.at(-1);
    if (layer) this.workbench.selectClip(layer.clips[0]?.id ?? '');
  }

  /** Lets a source be heard as the guide of the sound. */
  protected layGuide(source: string, start: number): void {
    const sound = this.placing.ensureSound();
    if (sound) this.document.edit('setGuide', { sound, source, start });
  }

  protected drop({
    placed,
    start,
    layer,
    replaces,
  }: {
    placed: Placeable;
    start: number;
    layer: string | undefined;
    replaces?: string;
  }): void {
    if (replaces !== undefined) {
      this.arrange.replaceRecording([replaces], placed.source);
      return;
    }
    const sound = this.placing.ensureSound();
    if (!sound) return;
    const { source, part } = placed;
    if (layer) this.document.edit('addClip', { sound, layer, source, start, ...(part && { part }) });
    else this.document.edit('addLayer', { sound, start, ...placed });
    const target = this.workbench.sound()?.layers.find((candidate) => candidate.id === layer) ?? this.workbench.sound()?.layers.at(-1);
    const added = target?.clips.at(-1);
    if (added) this.workbench.selectClip(added.id);
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event) || event.defaultPrevented || event.metaKey) return;
    const onSlider = event.target instanceof HTMLElement && event.target.closest('[role="slider"]') !== null;
    if (onSlider) return;
    if (this.keyOnView(event) || this.keyOnClips(event) || this.keyOnBus(event) || this.keyOnLayer(event)) event.preventDefault();
  }

  private keyOnView(event: KeyboardEvent): boolean {
    if (event.ctrlKey || event.altKey) return false;
    if (event.key === '+' || event.key === '=') this.zoom(1.4);
    else if (event.key === '-') this.zoom(1 / 1.4);
    else if (event.key === '0') this.fit();
    else if (event.key.toLowerCase() === 'n') this.markPlayhead();
    else if (event.key.toLowerCase() === 'x' && this.anySolo()) this.toggleSoloing();
    else if (event.key.toLowerCase() === 'a' && !event.shiftKey) this.toggleAutomation();
    else if (event.key.toLowerCase() === 'h' && this.workbench.step()) this.judging.hearChange(this.workbench.step()!.id);
    else if (event.key.toLowerCase() === 'z' && !this.noChains()) this.panel.toggleFolded();
    else if (event.key === 'I') this.pitches.shown.update((shown) => !shown);
    else if (event.key === 'i' && this.workbench.selectedClip()) void this.tuning.tune();
    else if (event.key === 'M') this.making.open();
    else if (event.key === 'K') this.toggleHands();
    else if (event.key === '<') this.monitor().step(-1);
    else if (event.key === '>') this.monitor().step(1);
    else if (event.key === 'Escape') this.workbench.selectClips([]);
    else return false;
    return true;
  }

  protected toggleHands(): void {
    if (this.hands.on()) this.hands.close();
    else this.hands.open();
  }

  private markPlayhead(): void {
    const sound = this.workbench.sound();
    const time = this.playback.playhead();
    if (sound) this.document.edit('addMarks', { sound: sound.id, marks: [{ name: `Mark ${sound.marks.length + 1}`, time }] });
  }

  /** Shows or hides the automation of what is selected; offers what can be automated while nothing is. */
  private toggleAutomation(): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    const owner = ownerAddress(this.workbench.owner());
    if (!sound.automation.some((lane) => lane.address.startsWith(`${owner}/`))) this.lectern().openAutomation();
    else this.workbench.showAutomation(owner, !this.workbench.automated().includes(owner));
  }

  private keyOnClips(event: KeyboardEvent): boolean {
    const sound = this.workbench.sound();
    const project = this.document.project();
    if (!sound || !project) return false;
    const keys = chord(event);
    const stretch = this.workbench.selectedClips().length > 0 ? stretchKeys[keys] : undefined;
    if (stretch) {
      stretch(this.stretching);
      return true;
    }
    const action = (this.workbench.selectedClips().length > 0 ? clipKeys[keys] : undefined) ?? arrangeKeys[keys];
    if (!action) return false;
    action(this.arrange, nudgeLength(this.display.nudge(), { clock: sound.clock, sampleRate: project.sampleRate }));
    return true;
  }

  private keyOnBus(event: KeyboardEvent): boolean {
    const sound = this.workbench.sound();
    const bus = this.workbench.bus();
    if (!sound || !bus || event.ctrlKey || event.altKey) return false;
    const base = { sound: sound.id, bus: bus.id };
    const key = event.key.toLowerCase();
    if (key === 'm') this.document.edit('muteBus', { ...base, muted: !bus.muted });
    else if (key === 's' && bus.kind === 'group')
      this.document.edit('solo', { sound: sound.id, owner: { bus: bus.id }, soloed: !bus.soloed || !sound.soloing });
    else if (event.key === 'Delete') this.document.edit('removeBus', base);
    else return false;
    return true;
  }

  private keyOnLayer(event: KeyboardEvent): boolean {
    const sound = this.workbench.sound();
    const layer = this.workbench.layer();
    if (!sound || !layer) return false;
    const base = { sound: sound.id, layer: layer.id };
    const key = event.key.toLowerCase();
    const index = sound.layers.indexOf(layer);
    const rise = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0;
    if (rise && event.ctrlKey) this.document.edit('reorderLayer', { ...base, index: index + rise });
    else if (rise && !event.altKey) {
      const next = sound.layers[Math.max(0, Math.min(sound.layers.length - 1, index + rise))]!;
      this.workbench.selectLayer(next.id);
      this.timeline().reveal(next.id);
    } else if (key === 'm' && !event.ctrlKey) this.document.edit('muteLayer', { ...base, muted: !layer.muted });
    else if (key === 's' && !event.ctrlKey) {
      const soloed = !layer.soloed || !sound.soloing;
      this.document.edit('solo', { sound: sound.id, owner: { layer: layer.id }, soloed });
    } else if (event.key === 'Delete') this.document.edit('removeLayer', base);
    else return false;
    return true;
  }
}
