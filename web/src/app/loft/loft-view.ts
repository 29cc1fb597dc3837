import { afterNextRender, ChangeDetectionStrategy, Component, inject, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import { clipEnd } from '@tangled-choir/core';
import { isTyping } from '../frame/shortcuts';
import { DocumentStore } from '../state/document.store';
import { PlaceInLoft } from '../state/place-in-loft';
import { Playback } from '../state/playback';
import { WorkbenchStore } from '../state/workbench.store';
import { SoundPicker } from '../ui/sound-picker';
import { newGesture } from '../ui/value-field';
import { Lectern } from './lectern';
import { SelectionInspector } from './selection-inspector';
import { SourceShelf } from './source-shelf';
import { Timeline } from './timeline';
import { TimelineScale } from './timeline-scale';

const nudge = 0.01;
const fineNudge = 0.001;

/** One sound being built: layers over time, sources at hand, and the lectern with the selected chain. */
@Component({
  selector: 'tc-loft-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Lectern, MatButtonModule, MatIconModule, MatTooltipModule, SelectionInspector, SoundPicker, SourceShelf, Timeline],
  providers: [TimelineScale],
  templateUrl: './loft-view.html',
  styleUrl: './loft-view.scss',
  host: { '(document:keydown)': 'key($event)' },
})
export class LoftView {
  private readonly document = inject(DocumentStore);
  private readonly placing = inject(PlaceInLoft);
  private readonly playback = inject(Playback);
  protected readonly workbench = inject(WorkbenchStore);
  private readonly timeline = viewChild.required(Timeline);

  constructor() {
    afterNextRender(() => this.timeline().fit());
  }

  protected fit(): void {
    this.timeline().fit();
  }

  protected zoom(factor: number): void {
    this.timeline().zoomAround(factor);
  }

  protected placeLayer(source: string): void {
    this.placing.asLayer(source);
  }

  protected placeClip(source: string): void {
    const sound = this.workbench.sound();
    const layer = this.workbench.layer();
    if (!sound || !layer) this.placing.asLayer(source);
    else this.dropSource({ source, start: this.playback.startPosition(), layer: layer.id });
  }

  protected dropSource({ source, start, layer }: { source: string; start: number; layer: string | undefined }): void {
    const sound = this.placing.ensureSound();
    if (!sound) return;
    if (layer) this.document.edit('addClip', { sound, layer, source, start });
    else this.document.edit('addLayer', { sound, source, start });
    const target = this.workbench.sound()?.layers.find((candidate) => candidate.id === layer) ?? this.workbench.sound()?.layers.at(-1);
    if (target) this.workbench.selectClip(target.id, target.clips.at(-1)?.id ?? '');
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event) || event.defaultPrevented || event.metaKey) return;
    const onSlider = event.target instanceof HTMLElement && event.target.closest('[role="slider"]') !== null;
    if (onSlider) return;
    if (this.keyOnView(event) || this.keyOnClip(event) || this.keyOnLayer(event)) event.preventDefault();
  }

  private keyOnView(event: KeyboardEvent): boolean {
    if (event.ctrlKey || event.altKey) return false;
    if (event.key === '+' || event.key === '=') this.zoom(1.4);
    else if (event.key === '-') this.zoom(1 / 1.4);
    else if (event.key === '0') this.fit();
    else return false;
    return true;
  }

  private keyOnClip(event: KeyboardEvent): boolean {
    const sound = this.workbench.sound();
    const found = this.workbench.selectedClip();
    if (!sound || !found) return false;
    const { clip, layer } = found;
    const step = event.shiftKey ? fineNudge : nudge;
    const base = { sound: sound.id, clip: clip.id };
    const direction = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    const rise = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    if (direction && event.altKey) this.document.edit('trimClipEnd', { ...base, time: clipEnd(clip) + direction * step });
    else if (direction && event.ctrlKey) this.document.edit('trimClipStart', { ...base, time: clip.start + direction * step });
    else if (direction) this.document.edit('moveClip', { ...base, start: clip.start + direction * step });
    else if (rise && event.altKey) {
      const address = `layer/${layer.id}/clip/${clip.id}/gain`;
      this.document.edit('setValues', { sound: sound.id, values: { [address]: clip.gain + rise }, label: 'Clip level' }, newGesture());
    } else if (event.key.toLowerCase() === 'd' && !event.ctrlKey) this.document.edit('duplicateClip', base);
    else if (event.key === 'Delete' || event.key === 'Backspace') this.document.edit('removeClip', base);
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
    else if (rise && !event.altKey)
      this.workbench.selectLayer(sound.layers[Math.max(0, Math.min(sound.layers.length - 1, index + rise))]!.id);
    else if (key === 'm' && !event.ctrlKey) this.document.edit('muteLayer', { ...base, muted: !layer.muted });
    else if (key === 's' && !event.ctrlKey) this.document.edit('soloLayer', { ...base, soloed: !layer.soloed });
    else if (event.key === 'Delete') this.document.edit('removeLayer', base);
    else return false;
    return true;
  }
}
