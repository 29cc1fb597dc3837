import type { ElementRef } from '@angular/core';
import {
  afterNextRender,
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  inject,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Layer, Pin, Role, Source } from '@tangled-choir/core';
import { audibleLayers, crossfadesOf, guideEnd, pictureEnd, roles, soundEnd } from '@tangled-choir/core';
import { LiveEngine } from '../../engine/live/live-engine';
import { DocumentStore } from '../../state/project/document.store';
import { LaneHeights } from '../../state/lane-heights.store';
import type { Placeable } from '../../state/placeable';
import { placeableOf } from '../../state/placeable';
import { Playback } from '../../state/playback.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { followPointer } from '../../ui/follow-pointer';
import { RoleGlyph } from '../../ui/role-glyph';
import { ArrangeMenu } from '../arrange/arrange-menu';
import { AutomationMenu } from '../automation/automation-menu';
import { AutomationStrip } from '../automation/automation-strip';
import { BusMenu } from '../channels/bus-menu';
import { ChannelLabel } from '../channels/channel-label';
import type { ClipDrag } from './clip-box';
import { ClipBox } from './clip-box';
import { ClipPins } from './clip-pins';
import { ClipDragging } from './clip-drag';
import { GuideRow } from '../guide/guide-row';
import { NoteField } from '../notes/note-field';
import { LaneEdge } from './lane-edge';
import { LayerMenu } from '../channels/layer-menu';
import { PictureStrip } from '../picture/picture-strip';
import { snapTargets, snapTime } from './snap';
import { TimeDisplay } from './time-display';
import { TimeRuler } from './time-ruler';
import { leastZoom, mostZoom, TimelineScale } from './timeline-scale';
import { timelineRows } from './timeline-rows';
import { TimelineView } from './timeline-view';

/** Data types of what can be dragged within the Loft. */
export const draggedSourceType = 'application/x-choir-source';
const draggedLayerType = 'application/x-choir-layer';
const snapReach = 7;
const spaceBehindEnd = 3;
const mostBehindEnd = 30;
const lassoStart = 4;

/** Layers as lanes over time, with the ruler, the marks, the loop and the playhead. */
@Component({
  selector: 'tc-timeline',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ArrangeMenu,
    AutomationMenu,
    AutomationStrip,
    BusMenu,
    ChannelLabel,
    ClipBox,
    ClipPins,
    GuideRow,
    LaneEdge,
    LayerMenu,
    MatIconModule,
    MatMenuModule,
    MatTooltipModule,
    NoteField,
    PictureStrip,
    RoleGlyph,
    TimeRuler,
  ],
  providers: [ClipDragging],
  templateUrl: './timeline.html',
  styleUrl: './timeline.scss',
})
export class Timeline {
  /** A source was dropped: onto a layer, beside all of them, or with Alt onto a clip whose recording it takes the place of. */
  readonly sourceDropped = output<{ placed: Placeable; start: number; layer: string | undefined; replaces?: string }>();
  /** A source was dropped to be the guide. */
  readonly guideDropped = output<{ source: string; start: number }>();
  protected readonly document = inject(DocumentStore);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly playback = inject(Playback);
  protected readonly engine = inject(LiveEngine);
  protected readonly scale = inject(TimelineScale);
  private readonly heights = inject(LaneHeights);
  private readonly dragging = inject(ClipDragging);
  private readonly display = inject(TimeDisplay);
  private readonly content = viewChild.required<ElementRef<HTMLElement>>('content');
  private readonly lanes = viewChild.required<ElementRef<HTMLElement>>('lanes');
  private readonly automationMenu = viewChild.required(AutomationMenu);
  private readonly clipMenu = viewChild.required(ArrangeMenu);
  private readonly scroller = viewChild.required<ElementRef<HTMLElement>>('scroller');

  protected readonly view = new TimelineView();
  /** The stretch of time that can be seen, or nearly. */
  protected readonly seen = computed(() => this.view.stretch(this.scale.pixelsPerSecond()));
  protected readonly roles = roles;
  protected readonly dropTarget = signal<string | undefined>(undefined);
  protected readonly lasso = signal<{ left: number; top: number; width: number; height: number } | undefined>(undefined);
  protected readonly sound = this.workbench.sound;
  protected readonly rows = computed(() => {
    const sound = this.sound();
    if (!sound) return [];
    const { automated, folded, noted } = this.workbench;
    return timelineRows(sound, new Set(automated()), new Set(folded()), this.heights.heightOf, noted());
  });
  private readonly heard = computed(() => {
    const sound = this.sound();
    return sound ? audibleLayers(sound) : new Set<string>();
  });
  protected readonly sampleRate = computed(() => this.document.project()?.sampleRate ?? 48_000);
  protected readonly sources = computed(
    () => new Map<string, Source>((this.document.project()?.sources ?? []).map((source) => [source.id, source])),
  );
  /** The axis reaches a while past the sound; a long picture or guide does not stretch it endlessly. */
  protected readonly seconds = computed(() => {
    const sound = this.sound();
    const project = this.document.project();
    if (!sound || !project) return 4;
    const end = soundEnd(sound);
    const beside = Math.max(pictureEnd(sound), guideEnd(sound, project));
    return Math.max(4, Math.max(end, Math.min(beside, end + mostBehindEnd)) + spaceBehindEnd);
  });
  protected readonly width = computed(() => this.seconds() * this.scale.pixelsPerSecond());
  protected readonly playhead = computed(() => this.playback.playhead() * this.scale.pixelsPerSecond());

  constructor() {
    const observer =
      typeof ResizeObserver === 'undefined' ? undefined : new ResizeObserver(() => this.view.follow(this.scroller().nativeElement));
    afterNextRender(() => observer?.observe(this.scroller().nativeElement));
    inject(DestroyRef).onDestroy(() => observer?.disconnect());
    afterRenderEffect(() => {
      const opened = this.workbench.openedLane();
      if (!opened) return;
      untracked(() => {
        this.showLane(opened.address);
        this.workbench.laneShown();
      });
    });
  }

  /** Shows the whole sound and all of its marks. */
  fit(): void {
    const sound = this.sound();
    const end = Math.max(0, ...(sound ? [soundEnd(sound), ...sound.marks.map((mark) => mark.time)] : []));
    this.scale.fit((end || 3) + 0.4, this.scroller().nativeElement.clientWidth);
    this.scroller().nativeElement.scrollLeft = 0;
  }

  /** Scrolls a lane into view. */
  reveal(layer: string): void {
    const lane = this.content().nativeElement.querySelector(`[data-layer="${layer}"]`);
    if (lane && 'scrollIntoView' in lane) lane.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }

  /** Scrolls an automation lane into view, by hand: scrollIntoView would move the whole page as well. */
  private showLane(address: string): void {
    const scroller = this.scroller().nativeElement;
    const box = scroller.querySelector(`[data-lane="${address}"]`)?.getBoundingClientRect();
    const bottom = scroller.getBoundingClientRect().bottom;
    if (box && box.bottom > bottom) scroller.scrollTop += box.bottom - bottom;
  }

  zoomAround(factor: number, clientX?: number): void {
    const element = this.scroller().nativeElement;
    const box = element.getBoundingClientRect();
    const anchor = clientX === undefined ? Math.min(element.clientWidth / 2, this.playhead() - element.scrollLeft) : clientX - box.left;
    const time = (element.scrollLeft + anchor) / this.scale.pixelsPerSecond();
    const next = Math.max(leastZoom, Math.min(mostZoom, this.scale.pixelsPerSecond() * factor));
    this.scale.pixelsPerSecond.set(next);
    requestAnimationFrame(() => (element.scrollLeft = time * next - anchor));
  }

  protected wheel(event: WheelEvent): void {
    if (!event.ctrlKey) return;
    event.preventDefault();
    this.zoomAround(Math.pow(1.002, -event.deltaY), event.clientX);
  }

  protected readonly timeAt = (clientX: number): number => {
    return Math.max(0, this.axisAt(clientX));
  };

  /** The same without an end at 0: a guide may begin before it. */
  protected readonly axisAt = (clientX: number): number => {
    const element = this.scroller().nativeElement;
    return (clientX - element.getBoundingClientRect().left + element.scrollLeft) / this.scale.pixelsPerSecond();
  };

  /** The nearest of what is snapped to, if it is near. */
  protected readonly snapped = (time: number): number => {
    const sound = this.sound();
    if (!sound) return time;
    const { display } = this;
    const playhead = this.playback.startPosition();
    const targets = snapTargets({ sound, playhead, kinds: display.snap(), division: display.division(), except: new Set() });
    return snapTime(time, targets, snapReach / this.scale.pixelsPerSecond());
  };

  protected repin(clip: string, { pins, gesture }: { readonly pins: readonly Pin[]; readonly gesture?: string }): void {
    const sound = this.sound();
    if (sound) this.document.edit('setPins', { sound: sound.id, clip, pins }, gesture);
  }

  protected dragClip(clipId: string, drag: ClipDrag): void {
    this.dragging.begin(clipId, drag, {
      timeAt: (clientX) => this.timeAt(clientX),
      laneAt: (event) => {
        const layer = this.layerAt(event);
        const lane = this.sound()?.layers.findIndex((candidate) => candidate.id === layer) ?? -1;
        return lane < 0 ? undefined : lane;
      },
    });
  }

  /** A drag over the empty part of the lanes chooses every clip that it touches; a click there chooses none. */
  protected drawLasso(event: PointerEvent): void {
    if (event.button !== 0 || event.target instanceof HTMLElement === false) return;
    if (event.target.closest('tc-clip, tc-note-field, button, input, tc-value, tc-name, [role=slider]')) return;
    const content = this.content().nativeElement;
    const keep = event.shiftKey || event.ctrlKey ? this.workbench.clipIds() : [];
    const chosen = this.workbench.clipIds();
    let drawn = false;
    followPointer(
      event,
      (moved) => {
        if (!drawn && Math.hypot(moved.clientX - event.clientX, moved.clientY - event.clientY) < lassoStart) return;
        drawn = true;
        const box = content.getBoundingClientRect();
        const left = Math.min(event.clientX, moved.clientX) - box.left;
        const top = Math.min(event.clientY, moved.clientY) - box.top;
        const width = Math.abs(event.clientX - moved.clientX);
        const height = Math.abs(event.clientY - moved.clientY);
        this.lasso.set({ left, top, width, height });
        const touched = [...content.querySelectorAll<HTMLElement>('tc-clip')].filter((clip) => {
          const place = clip.getBoundingClientRect();
          const x = place.left - box.left;
          const y = place.top - box.top;
          return x < left + width && x + place.width > left && y < top + height && y + place.height > top;
        });
        this.workbench.selectClips([...keep, ...touched.map((clip) => clip.dataset['clip'] ?? '')]);
      },
      (givenUp) => {
        this.lasso.set(undefined);
        if (givenUp) this.workbench.selectClips(chosen);
        else if (!drawn && keep.length === 0) this.workbench.selectClips([]);
      },
    );
  }

  /** A clip that gets the focus is chosen, unless it is already. */
  protected pick(clipId: string): void {
    if (!this.workbench.isChosen().has(clipId)) this.workbench.selectClip(clipId);
  }

  /** The notes of a made layer open below its lane, and close again. */
  protected toggleNotes(layer: Layer): void {
    if (!layer.patch) return;
    this.workbench.selectLayer(layer.id);
    this.workbench.showNotes(this.workbench.noted() === layer.id ? undefined : layer.id);
  }

  protected openClipMenu(event: MouseEvent, clipId: string): void {
    event.preventDefault();
    if (!this.workbench.isChosen().has(clipId)) this.workbench.selectClip(clipId);
    this.clipMenu().openAt({ x: event.clientX, y: event.clientY });
  }

  protected crossfades(layer: Layer): { readonly from: number; readonly to: number }[] {
    const { from, to } = this.view.stretch(this.scale.pixelsPerSecond());
    return crossfadesOf(layer).filter((cross) => cross.from < to && cross.to > from);
  }

  protected isHeard(layer: Layer): boolean {
    return this.heard().has(layer.id);
  }

  protected automateWhole(event: MouseEvent): void {
    this.automationMenu().openFor('sound', { x: event.clientX, y: event.clientY });
  }

  protected setRole(layer: Layer, role: Role): void {
    this.document.edit('setLayerRole', { sound: this.sound()!.id, layer: layer.id, role });
  }

  protected reorder(layerId: string, index: number): void {
    this.document.edit('reorderLayer', { sound: this.sound()!.id, layer: layerId, index });
  }

  protected startLayerDrag(event: DragEvent, layer: Layer): void {
    event.dataTransfer?.setData(draggedLayerType, layer.id);
  }

  protected dragOver(event: DragEvent, layer: string | undefined): void {
    const types = event.dataTransfer?.types ?? [];
    if (!types.includes(draggedSourceType) && !types.includes(draggedLayerType)) return;
    event.preventDefault();
    event.stopPropagation();
    this.dropTarget.set(layer ?? 'new');
  }

  protected drop(event: DragEvent, layer: string | undefined, index: number): void {
    event.preventDefault();
    event.stopPropagation();
    this.dropTarget.set(undefined);
    const placed = placeableOf(this.document.project()?.sources ?? [], event.dataTransfer?.getData(draggedSourceType) ?? '');
    const moved = event.dataTransfer?.getData(draggedLayerType);
    const onto = event.altKey && event.target instanceof Element ? event.target.closest('tc-clip')?.getAttribute('data-clip') : undefined;
    const replaces = onto ? { replaces: onto } : {};
    if (placed && layer === 'guide') this.guideDropped.emit({ source: placed.source, start: this.snapped(this.timeAt(event.clientX)) });
    else if (placed) this.sourceDropped.emit({ placed, start: this.snapped(this.timeAt(event.clientX)), layer, ...replaces });
    else if (moved) this.reorder(moved, index);
  }

  /** The layer under the pointer, by the heights of the rows: asking the page what lies there takes long where it is full of clips. */
  private layerAt({ clientX, clientY }: PointerEvent): string | undefined {
    const view = this.scroller().nativeElement.getBoundingClientRect();
    if (clientX < view.left || clientX > view.right || clientY < view.top || clientY > view.bottom) return undefined;
    const y = clientY - this.lanes().nativeElement.getBoundingClientRect().top;
    const row = this.rows().find(({ kind, top, height }) => kind === 'layer' && y >= top && y < top + height);
    return row?.key;
  }
}
