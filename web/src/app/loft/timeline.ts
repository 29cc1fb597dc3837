import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, output, signal, viewChild } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Layer, Role, Source } from '@tangled-choir/core';
import { clipDuration, gainParameter, roles, soundEnd } from '@tangled-choir/core';
import { scaleLinear } from 'd3';
import { LiveEngine } from '../engine/live-engine';
import { DocumentStore } from '../state/document.store';
import { Playback } from '../state/playback';
import { WorkbenchStore } from '../state/workbench.store';
import { followPointer } from '../ui/follow-pointer';
import { NameField } from '../ui/name-field';
import { RoleGlyph } from '../ui/role-glyph';
import type { ValueChange } from '../ui/value-field';
import { newGesture, ValueField } from '../ui/value-field';
import type { ClipDrag } from './clip-box';
import { ClipBox } from './clip-box';
import { snapStart, snapTargets, snapTime } from './snap';
import { leastZoom, mostZoom, TimelineScale } from './timeline-scale';

/** Data types of what can be dragged within the Loft. */
export const draggedSourceType = 'application/x-choir-source';
const draggedLayerType = 'application/x-choir-layer';
const snapReach = 7;
const spaceBehindEnd = 3;

/** Layers as lanes over time, with the ruler, the marks, the loop and the playhead. */
@Component({
  selector: 'tc-timeline',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ClipBox, MatIconModule, MatMenuModule, MatTooltipModule, NameField, RoleGlyph, ValueField],
  templateUrl: './timeline.html',
  styleUrl: './timeline.scss',
})
export class Timeline {
  readonly sourceDropped = output<{ source: string; start: number; layer: string | undefined }>();
  protected readonly document = inject(DocumentStore);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly playback = inject(Playback);
  protected readonly engine = inject(LiveEngine);
  protected readonly scale = inject(TimelineScale);
  private readonly scroller = viewChild.required<ElementRef<HTMLElement>>('scroller');

  protected readonly roles = roles;
  protected readonly gainParameter = { ...gainParameter, min: -60, max: 12 };
  protected readonly dropTarget = signal<string | undefined>(undefined);
  protected readonly loopDraft = signal<{ from: number; to: number } | undefined>(undefined);
  protected readonly sound = this.workbench.sound;
  protected readonly sampleRate = computed(() => this.document.project()?.sampleRate ?? 48_000);
  protected readonly sources = computed(
    () => new Map<string, Source>((this.document.project()?.sources ?? []).map((source) => [source.id, source])),
  );
  protected readonly seconds = computed(() => Math.max(4, (this.sound() ? soundEnd(this.sound()!) : 0) + spaceBehindEnd));
  protected readonly width = computed(() => this.seconds() * this.scale.pixelsPerSecond());
  protected readonly playhead = computed(
    () => (this.engine.playing() === 'audition' ? this.playback.startPosition() : this.engine.position()) * this.scale.pixelsPerSecond(),
  );
  protected readonly loop = computed(() => this.loopDraft() ?? this.playback.loopRange());
  protected readonly ticks = computed(() => {
    const axis = scaleLinear([0, this.seconds()], [0, this.width()]);
    const count = this.width() / 90;
    const digits = Math.max(0, -Math.floor(Math.log10((axis.ticks(count)[1] ?? 1) - (axis.ticks(count)[0] ?? 0)) + 1e-9));
    return axis.ticks(count).map((time) => ({ x: axis(time), text: `${time.toFixed(Math.min(3, digits))}` }));
  });

  /** Shows the whole sound. */
  fit(): void {
    const sound = this.sound();
    this.scale.fit(((sound && soundEnd(sound)) || 3) + 0.4, this.scroller().nativeElement.clientWidth);
    this.scroller().nativeElement.scrollLeft = 0;
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

  protected timeAt(clientX: number): number {
    const element = this.scroller().nativeElement;
    return Math.max(0, (clientX - element.getBoundingClientRect().left + element.scrollLeft) / this.scale.pixelsPerSecond());
  }

  /** A press on the ruler moves the playhead; a drag chooses what loops. */
  protected pressRuler(event: PointerEvent): void {
    if (event.button !== 0) return;
    const start = this.timeAt(event.clientX);
    const follow = (moved: PointerEvent): void => {
      const now = this.timeAt(moved.clientX);
      if (Math.abs(moved.clientX - event.clientX) > 5) this.loopDraft.set({ from: Math.min(start, now), to: Math.max(start, now) });
    };
    followPointer(event, follow, () => {
      const draft = this.loopDraft();
      this.loopDraft.set(undefined);
      if (draft) {
        this.playback.loopRange.set(draft);
        this.workbench.setLooping(true);
      } else this.playback.seek(start);
    });
  }

  protected addMark(event: MouseEvent): void {
    const sound = this.sound();
    if (sound) this.document.edit('addMark', { sound: sound.id, name: `Mark ${sound.marks.length + 1}`, time: this.timeAt(event.clientX) });
  }

  protected removeMark(mark: string): void {
    if (this.sound()) this.document.edit('removeMark', { sound: this.sound()!.id, mark });
  }

  protected dragClip(clipId: string, { kind, event }: ClipDrag): void {
    const sound = this.sound();
    const found = this.workbench.selectedClip();
    if (!sound || found?.clip.id !== clipId) return;
    const { clip } = found;
    const gesture = newGesture();
    const grabbed = this.timeAt(event.clientX);
    const duration = clipDuration(clip);
    const targets = snapTargets(sound, this.playback.startPosition(), clipId);
    const reach = (moved: PointerEvent): number => (moved.altKey ? 0 : snapReach / this.scale.pixelsPerSecond());
    let moving = false;
    followPointer(event, (moved) => {
      moving ||= Math.abs(moved.clientX - event.clientX) > 2 || Math.abs(moved.clientY - event.clientY) > 12;
      if (!moving) return;
      const time = this.timeAt(moved.clientX);
      const shift = time - grabbed;
      switch (kind) {
        case 'move': {
          const layer = this.layerAt(moved) ?? this.workbench.selectedClip()?.layer.id;
          const start = snapStart(Math.max(0, clip.start + shift), duration, targets, reach(moved));
          this.document.edit('moveClip', { sound: sound.id, clip: clipId, start, ...(layer && { layer }) }, gesture);
          if (layer) this.workbench.selectClip(layer, clipId);
          break;
        }
        case 'start':
          this.document.edit(
            'trimClipStart',
            { sound: sound.id, clip: clipId, time: snapTime(clip.start + shift, targets, reach(moved)) },
            gesture,
          );
          break;
        case 'end':
          this.document.edit(
            'trimClipEnd',
            { sound: sound.id, clip: clipId, time: snapTime(clip.start + duration + shift, targets, reach(moved)) },
            gesture,
          );
          break;
        case 'fade-in':
          this.document.edit(
            'fadeClip',
            { sound: sound.id, clip: clipId, side: 'in', length: Math.max(0, clip.fadeIn.length + shift) },
            gesture,
          );
          break;
        case 'fade-out':
          this.document.edit(
            'fadeClip',
            { sound: sound.id, clip: clipId, side: 'out', length: Math.max(0, clip.fadeOut.length - shift) },
            gesture,
          );
      }
    });
  }

  protected renameLayer(layer: Layer, name: string): void {
    this.document.edit('renameLayer', { sound: this.sound()!.id, layer: layer.id, name });
  }

  protected setRole(layer: Layer, role: Role): void {
    this.document.edit('setLayerRole', { sound: this.sound()!.id, layer: layer.id, role });
  }

  protected mute(layer: Layer): void {
    this.document.edit('muteLayer', { sound: this.sound()!.id, layer: layer.id, muted: !layer.muted });
  }

  protected solo(layer: Layer): void {
    this.document.edit('soloLayer', { sound: this.sound()!.id, layer: layer.id, soloed: !layer.soloed });
  }

  protected setGain(layer: Layer, { value, gesture }: ValueChange): void {
    this.document.edit(
      'setValues',
      { sound: this.sound()!.id, values: { [`layer/${layer.id}/gain`]: value }, label: `Gain of “${layer.name}”` },
      gesture,
    );
  }

  protected duplicate(layer: Layer): void {
    this.document.edit('duplicateLayer', { sound: this.sound()!.id, layer: layer.id });
  }

  protected removeLayer(layer: Layer): void {
    this.document.edit('removeLayer', { sound: this.sound()!.id, layer: layer.id });
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
    const source = event.dataTransfer?.getData(draggedSourceType);
    const moved = event.dataTransfer?.getData(draggedLayerType);
    const targets = this.sound() ? snapTargets(this.sound()!, this.playback.startPosition(), '') : [];
    if (source)
      this.sourceDropped.emit({
        source,
        start: snapTime(this.timeAt(event.clientX), targets, snapReach / this.scale.pixelsPerSecond()),
        layer,
      });
    else if (moved) this.reorder(moved, index);
  }

  /** The lane under the pointer. */
  private layerAt(event: PointerEvent): string | undefined {
    const lane = globalThis.document.elementsFromPoint(event.clientX, event.clientY).find((element) => element.hasAttribute('data-layer'));
    return lane?.getAttribute('data-layer') ?? undefined;
  }
}
