import { inject, Injectable, signal } from '@angular/core';
import type { Source, Spectrogram } from '@tangled-choir/core';
import type { FrameRange } from '@tangled-choir/jobs';
import { AudioLibrary } from '../../engine/audio-library';
import { paintSpectrogram } from '../../ui/spectrogram';

const tileColumns = 256;
const tileRows = 128;
/** About 130 kB each. */
const mostTiles = 200;

/** A painted part of a spectrogram. */
export interface SpectrogramTile extends FrameRange {
  readonly picture: HTMLCanvasElement;
}

/**
 * Spectrograms in tiles of 256 columns, measured when they are looked at. Columns of level n hold 2^n frames, so that there is a level for
 * every zoom; until its tiles are there, those of other levels are shown.
 */
@Injectable()
export class SpectrogramTiles {
  private readonly library = inject(AudioLibrary);
  /** By recording, level and index; the latest used last. Those that could not be measured are undefined. */
  private readonly tiles = new Map<
    string,
    { readonly audio: string; readonly level: number; readonly tile: SpectrogramTile | undefined }
  >();
  private readonly running = new Map<string, AbortController>();
  /** Changes whenever there is a new tile. */
  readonly arrived = signal(0);

  /** The tiles to draw for a window onto a source, coarse ones first; asks for what is missing, and for nothing else any more. */
  tilesFor(source: Source, window: FrameRange, pixels: number): SpectrogramTile[] {
    const level = Math.max(0, Math.round(Math.log2((window.to - window.from) / Math.max(1, pixels))));
    const span = tileColumns * 2 ** level;
    const wanted = new Set<string>();
    for (let index = Math.floor(window.from / span); index * span < Math.min(window.to, source.frames); index++) {
      const key = `${source.audio}|${level}|${index}`;
      wanted.add(key);
      const known = this.tiles.get(key);
      if (known) {
        this.tiles.delete(key);
        this.tiles.set(key, known);
      } else if (!this.running.has(key))
        void this.measure(source, key, level, { from: index * span, to: Math.min(source.frames, (index + 1) * span) });
    }
    for (const [key, controller] of this.running) if (!wanted.has(key)) controller.abort();
    return [...this.tiles.values()]
      .filter(({ audio, tile }) => audio === source.audio && tile && tile.to > window.from && tile.from < window.to)
      .sort((a, b) => Math.abs(b.level - level) - Math.abs(a.level - level))
      .flatMap(({ tile }) => tile ?? []);
  }

  private async measure(source: Source, key: string, level: number, { from, to }: FrameRange): Promise<void> {
    const controller = new AbortController();
    this.running.set(key, controller);
    const columns = Math.max(1, Math.ceil((to - from) / 2 ** level));
    let tile: SpectrogramTile | undefined;
    try {
      const spectrogram = await this.library.spectrogram(source, { columns, rows: tileRows, from, to }, controller.signal);
      tile = { from, to, picture: paint(spectrogram) };
    } catch {
      // Without its recording there is none, which is told elsewhere; one that was called off may be wanted again.
      if (controller.signal.aborted) return;
    } finally {
      this.running.delete(key);
    }
    this.tiles.set(key, { audio: source.audio, level, tile });
    for (const oldest of [...this.tiles.keys()].slice(0, -mostTiles)) this.tiles.delete(oldest);
    this.arrived.update((count) => count + 1);
  }
}

function paint(spectrogram: Spectrogram): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  canvas.width = spectrogram.columns;
  canvas.height = spectrogram.rows;
  const context = canvas.getContext('2d');
  if (!context) return canvas;
  const image = context.createImageData(spectrogram.columns, spectrogram.rows);
  paintSpectrogram(spectrogram, image.data);
  context.putImageData(image, 0, 0);
  return canvas;
}
