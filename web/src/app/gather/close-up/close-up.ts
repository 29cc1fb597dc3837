import type { ElementRef } from '@angular/core';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Region, Source, Stretch } from '@tangled-choir/core';
import { isSomewhere, noteToFrequency, seconds } from '@tangled-choir/core';
import { AudioLibrary } from '../../engine/audio-library';
import { isTyping } from '../../ui/typing';
import { PitchTracks } from '../../state/pitch-tracks.store';
import { DocumentStore } from '../../state/project/document.store';
import { followPointer } from '../../ui/follow-pointer';
import { PitchSwitch } from '../../sounds/pitch-switch';
import { FrequencyAxis, frequencyShare } from '../../ui/frequency-axis';
import { NameField } from '../../ui/name-field';
import { formatHeard, heldTones, pitchStrokes, strokePath } from '../../ui/pitch-line';
import { formatDuration } from '../../ui/quantity';
import { roleColour } from '../../ui/roles';
import { newGesture, ValueField } from '../../ui/value-field';
import { Waveform } from '../../ui/waveform';
import { SourceRegions } from '../source-regions';
import { SpectrogramTiles } from './spectrogram-tiles';
import { moved, shortestWindow, ticksOf, waveformStretch, zoomed } from './window';

const dragStart = 4;
/** Zoom of one press of a button or key. */
const zoomStep = 1.6;
/** What is asked for takes up so much of the window at least, and has so many seconds beside it. */
const leastShare = 0.01;
const besideSought = 0.05;
/** Pixels between labels of the time axis, about. */
const tickSpacing = 90;
/** A nudge of an edge by a key, in pixels; with Shift in seconds. */
const nudge = { pixels: 1, fine: 0.001 };

/**
 * A source close up: waveform and spectrogram of a window onto it, down to single samples, and its good parts, whose edges are dragged,
 * nudged or typed. A strip shows where in the whole the window lies.
 */
@Component({
  selector: 'tc-close-up',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FrequencyAxis, MatButtonModule, MatIconModule, MatTooltipModule, NameField, PitchSwitch, ValueField, Waveform],
  templateUrl: './close-up.html',
  styleUrls: ['../source-marks.scss', './close-up.scss'],
  host: { '(document:keydown)': 'key($event)' },
})
export class CloseUp {
  readonly source = input.required<Source>();
  protected readonly regions = inject(SourceRegions);
  protected readonly zoomStep = zoomStep;
  protected readonly edges = [
    { key: 'from', name: 'Start' },
    { key: 'to', name: 'End' },
  ] as const;
  private readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  protected readonly pitches = inject(PitchTracks);
  private readonly tiles = inject(SpectrogramTiles);
  private readonly field = viewChild.required<ElementRef<HTMLElement>>('field');
  private readonly strip = viewChild.required<ElementRef<HTMLElement>>('strip');
  private readonly picture = viewChild.required<ElementRef<HTMLCanvasElement>>('picture');

  private readonly rate = computed(() => this.document.project()?.sampleRate ?? 48_000);
  protected readonly total = computed(() => this.source().frames / this.rate());
  private readonly recording = computed(() => `${this.source().id} ${this.source().audio}`);
  /** What is looked at, in seconds of the source. */
  protected readonly shown = linkedSignal<string, Stretch>({
    source: this.recording,
    computation: () => ({ from: 0, to: untracked(this.total) }),
  });
  protected readonly draft = signal<Stretch | undefined>(undefined);
  /** Size of the picture in pixels. */
  private readonly size = signal({ width: 0, height: 0 });

  protected readonly overview = computed(() => this.library.overview(this.source().audio));
  protected readonly colour = computed(() => roleColour(this.source().role));
  protected readonly chosen = computed(() => this.source().regions.find(({ id }) => id === this.regions.chosen()));
  protected readonly visibleRegions = computed(() => this.source().regions.filter((region) => this.isVisible(region)));
  protected readonly defects = computed(() =>
    (this.library.facts(this.source().audio)?.character.defects ?? []).filter(
      (defect) => isSomewhere(defect.kind) && this.isVisible(defect),
    ),
  );
  protected readonly cues = computed(() => this.source().cues.filter(({ time }) => this.isVisible({ from: time, to: time })));
  protected readonly playhead = computed(() => this.regions.playheadIn(this.source()));
  protected readonly ticks = computed(() => ticksOf(this.shown(), this.size().width / tickSpacing));
  /** The stretch whose samples the waveform is drawn from, where the overview is too coarse. */
  private readonly detailed = computed(() => {
    const coarse = (this.overview()?.framesPerColumn ?? 0) > this.framesPerPixel();
    return coarse ? waveformStretch(this.shown(), this.total()) : undefined;
  });
  private readonly framesPerPixel = computed(() => {
    const { from, to } = this.shown();
    return ((to - from) * this.rate()) / Math.max(1, this.size().width);
  });
  /** The waveform of the window: from which overview, and from which frame of it to which. */
  protected readonly wave = computed(() => {
    const { from, to } = this.shown();
    const detailed = this.detailed();
    const close = detailed && this.library.detail(this.source(), detailed, this.framesPerPixel());
    const first = close?.first ?? 0;
    return { overview: close?.overview ?? this.overview(), from: from * this.rate() - first, to: to * this.rate() - first };
  });
  protected readonly edgeParameter = computed(() => ({
    ...seconds({ label: 'Edge', min: 0, max: this.total(), default: 0 }),
    scale: 'linear' as const,
  }));

  /** The pitch, where its frequency lies in the spectrogram. */
  protected readonly pitch = computed(() => {
    const { width, height } = this.size();
    if (!this.pitches.shown() || width === 0) return undefined;
    const read = this.pitches.readerOf(this.source());
    const { from, to } = this.shown();
    const strokes = pitchStrokes(
      (x) => read(from + (x / width) * (to - from)),
      0,
      Math.min(width, ((this.total() - from) / (to - from)) * width),
    );
    const y = (note: number): number => height * (1 - frequencyShare(noteToFrequency(note)));
    const paths = strokes.map((stroke) => ({ path: strokePath(stroke, y), confidence: stroke.confidence }));
    const tones = heldTones(strokes).map((tone) => ({ ...tone, bottom: height - y(tone.note) + 4 }));
    return { height, box: `0 0 ${width} ${height}`, paths, tones };
  });
  private readonly pointer = signal<number | undefined>(undefined);
  /** The pitch under the pointer. */
  protected readonly heard = computed(() => {
    const time = this.pointer();
    return formatHeard(time === undefined || !this.pitches.shown() ? undefined : this.pitches.readerOf(this.source())(time));
  });

  constructor() {
    effect(() => {
      const detailed = this.detailed();
      // What is missing is told elsewhere.
      if (detailed) this.library.load(untracked(this.source), [detailed]).catch(() => undefined);
    });
    effect(() => this.draw());
    effect(() => this.followPlayhead());
    effect(() => {
      const sought = this.regions.sought();
      if (sought) untracked(() => this.reveal(sought));
    });
    effect((cleanUp) => {
      const { nativeElement } = this.picture();
      if (typeof ResizeObserver === 'undefined') return;
      const observer = new ResizeObserver(([entry]) => entry && this.size.set(entry.contentRect));
      observer.observe(nativeElement);
      cleanUp(() => observer.disconnect());
    });
  }

  /** Place in the window, in percent of its width. */
  protected place(time: number): number {
    const { from, to } = this.shown();
    return ((time - from) / (to - from)) * 100;
  }

  /** A region's name stays in view while the region does. */
  protected labelPlace({ from }: Region): number {
    return Math.max(0, this.place(from));
  }

  /** Place in the strip. */
  protected share(time: number): number {
    return (time / this.total()) * 100;
  }

  protected length({ from, to }: Stretch): string {
    return formatDuration(to - from, 3, 2);
  }

  protected zoom(factor: number): void {
    const { from, to } = this.shown();
    const playhead = this.playhead();
    const around = playhead !== undefined && playhead > from && playhead < to ? playhead : (from + to) / 2;
    this.shown.set(zoomed(this.shown(), factor, around, this.total()));
  }

  protected showAll(): void {
    this.shown.set({ from: 0, to: this.total() });
  }

  protected showRegion({ from, to }: Stretch, least = shortestWindow): void {
    const beside = Math.max(least, (to - from) * 0.1);
    this.shown.set(moved({ from: from - beside, to: to + beside }, 0, this.total()));
  }

  /** Shows what is out of view, or too small in it to be seen. */
  private reveal(part: Stretch): void {
    const { from, to } = this.shown();
    const small = part.to - part.from < (to - from) * leastShare;
    if (small || part.from < from || part.to > to) this.showRegion(part, besideSought);
  }

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    const { from, to } = this.shown();
    const sideways = event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY);
    if (sideways) {
      const pixels = event.deltaX || event.deltaY;
      this.shown.set(moved(this.shown(), (pixels / this.size().width) * (to - from), this.total()));
    } else this.shown.set(zoomed(this.shown(), Math.exp(-event.deltaY / 400), this.timeAt(event.clientX), this.total()));
  }

  /** A click plays from there; a drag draws a new region. */
  protected press(event: PointerEvent): void {
    if (event.button !== 0) return;
    const start = this.timeAt(event.clientX);
    followPointer(
      event,
      (now) => {
        if (!this.draft() && Math.abs(now.clientX - event.clientX) < dragStart) return;
        const time = this.timeAt(now.clientX);
        this.draft.set({ from: Math.min(start, time), to: Math.max(start, time) });
      },
      (givenUp) => {
        const draft = this.draft();
        this.draft.set(undefined);
        if (givenUp) return;
        if (draft) this.regions.add(this.source(), draft);
        else {
          this.regions.chosen.set(this.source().regions.find(({ from, to }) => from <= start && to >= start)?.id);
          this.regions.playFrom(this.source(), start, this.total());
        }
      },
    );
  }

  protected point(event: PointerEvent | undefined): void {
    this.pointer.set(event && this.timeAt(event.clientX));
  }

  protected zoomToRegion(event: MouseEvent): void {
    const time = this.timeAt(event.clientX);
    const region = this.source().regions.find(({ from, to }) => from <= time && to >= time);
    if (region) this.showRegion(region);
  }

  protected dragEdge(event: PointerEvent, region: Region, edge: 'from' | 'to'): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    this.regions.chosen.set(region.id);
    const gesture = newGesture();
    followPointer(event, (now) => this.regions.change(this.source(), region, { [edge]: this.timeAt(now.clientX) }, gesture));
  }

  protected nudgeEdge(event: KeyboardEvent, region: Region, edge: 'from' | 'to'): void {
    const direction = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (direction === 0) return;
    event.preventDefault();
    event.stopPropagation();
    const { from, to } = this.shown();
    const step = event.shiftKey ? nudge.fine : (nudge.pixels * (to - from)) / Math.max(1, this.size().width);
    this.regions.moveEdge(this.source(), region, edge, direction * step);
  }

  protected setEdge(region: Region, edge: 'from' | 'to', time: number, gesture: string): void {
    this.regions.change(this.source(), region, { [edge]: time }, gesture);
  }

  /** Brings the window to where the strip is pressed, and follows. */
  protected pan(event: PointerEvent): void {
    if (event.button !== 0) return;
    const box = this.strip().nativeElement.getBoundingClientRect();
    const go = ({ clientX }: PointerEvent): void => {
      const { from, to } = this.shown();
      const middle = ((clientX - box.left) / Math.max(1, box.width)) * this.total();
      this.shown.set(moved(this.shown(), middle - (from + to) / 2, this.total()));
    };
    go(event);
    followPointer(event, go);
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event) || event.ctrlKey || event.altKey || event.metaKey) return;
    const playhead = this.playhead();
    const region = this.chosen();
    if (event.key === 'i') this.pitches.shown.update((shown) => !shown);
    else if (event.key === '+' || event.key === '=') this.zoom(zoomStep);
    else if (event.key === '-') this.zoom(1 / zoomStep);
    else if (event.key === '0') this.showAll();
    else if (event.key === '[' && region && playhead !== undefined) this.regions.change(this.source(), region, { from: playhead });
    else if (event.key === ']' && region && playhead !== undefined) this.regions.change(this.source(), region, { to: playhead });
    else return;
    event.preventDefault();
  }

  private timeAt(clientX: number): number {
    const box = this.field().nativeElement.getBoundingClientRect();
    const { from, to } = this.shown();
    return Math.max(0, Math.min(this.total(), from + ((clientX - box.left) / Math.max(1, box.width)) * (to - from)));
  }

  private isVisible({ from, to }: Stretch): boolean {
    return to >= this.shown().from && from <= this.shown().to;
  }

  /** Turns the page when the playhead leaves the window at its end. */
  private followPlayhead(): void {
    const playhead = this.regions.pageIn(this.source());
    const { from, to } = untracked(this.shown);
    if (playhead === undefined || playhead < to || playhead > to + (to - from) / 2) return;
    this.shown.set(moved({ from, to }, playhead - from, untracked(this.total)));
  }

  private draw(): void {
    this.tiles.arrived();
    const canvas = this.picture().nativeElement;
    const { width, height } = this.size();
    const { from, to } = this.shown();
    if (width === 0 || height === 0) return;
    const scale = window.devicePixelRatio || 1;
    canvas.width = Math.round(width * scale);
    canvas.height = Math.round(height * scale);
    const frames = { from: from * this.rate(), to: to * this.rate() };
    const source = this.source();
    const shown = untracked(() => this.tiles.tilesFor(source, frames, canvas.width));
    const context = canvas.getContext('2d');
    if (!context) return;
    const x = (frame: number): number => ((frame - frames.from) / (frames.to - frames.from)) * canvas.width;
    for (const tile of shown) context.drawImage(tile.picture, x(tile.from), 0, x(tile.to) - x(tile.from), canvas.height);
  }
}
