import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { NumberParameter, Picture } from '@tangled-choir/core';
import { formatTimecode, frameAt, frameTime } from '@tangled-choir/core';
import { LiveEngine } from '../../engine/live/live-engine';
import { DocumentStore } from '../../state/project/document.store';
import { Notices } from '../../state/notices';
import { PictureSound } from '../../state/picture-sound';
import { PictureStore } from '../../state/picture.store';
import { PreviewMovie } from '../../state/preview-movie';
import type { PlaySpeed } from '../../state/playback.store';
import { Playback, playSpeeds } from '../../state/playback.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { MenuPanel } from '../../ui/menu-panel';
import type { ValueChange } from '../../ui/value-field';
import { ValueField } from '../../ui/value-field';
import { PicturePlayer } from './picture-player';
import { PictureWindow } from './picture-window';

/** The picture at the playhead, in step with the sound. */
@Component({
  selector: 'tc-picture-monitor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatMenuModule, MatTooltipModule, MenuPanel, ValueField],
  templateUrl: './picture-monitor.html',
  styleUrl: './picture-monitor.scss',
})
export class PictureMonitor {
  protected readonly store = inject(PictureStore);
  protected readonly playback = inject(Playback);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly sound = inject(PictureSound);
  protected readonly movie = inject(PreviewMovie);
  protected readonly window = inject(PictureWindow);
  private readonly notices = inject(Notices);
  private readonly engine = inject(LiveEngine);
  private readonly document = inject(DocumentStore);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly speeds = playSpeeds;
  protected readonly picture = computed(() => this.workbench.sound()?.picture);
  protected readonly timecode = computed(() => {
    const sound = this.workbench.sound();
    return sound ? formatTimecode(this.engine.position(), sound.clock) : '';
  });
  protected readonly offsetParameter: NumberParameter = {
    kind: 'number',
    label: 'Picture begins at',
    unit: 's',
    min: -120,
    max: 120,
    default: 0,
    scale: 'linear',
  };
  /** Time of the frame on the screen, in the picture's own time, and the position of the sound when it was drawn; for checks of the sync. */
  protected readonly drawn = signal<{ frame: number; position: number } | undefined>(undefined);
  private readonly running = computed(() => ['sound', 'silent'].includes(this.engine.playing() ?? ''));
  private player: PicturePlayer | undefined;
  private request: number | undefined;

  constructor() {
    effect(() => {
      const reader = this.store.reader();
      this.player?.close();
      this.player = reader && new PicturePlayer(reader, () => this.show());
      this.showSoon();
    });
    // Without a picture, its window could not be closed from here.
    effect(() => {
      if (!this.picture()) this.window.close();
    });
    effect(() => {
      this.running();
      this.picture();
      this.canvas();
      this.playback.playhead();
      this.showSoon();
    });
    inject(DestroyRef).onDestroy(() => {
      this.window.close();
      if (this.request !== undefined) cancelAnimationFrame(this.request);
      this.player?.close();
    });
  }

  protected speedText(speed: PlaySpeed): string {
    return { 1: '1', 0.5: '½', 0.25: '¼' }[speed];
  }

  /** Moves by whole frames from the frame at the playhead. */
  step(frames: number): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    const { frameRate } = sound.clock;
    this.playback.seek(frameTime(Math.max(0, frameAt(this.playback.startPosition(), frameRate) + frames), frameRate));
  }

  /** Puts the picture into a window of its own, or takes it back. */
  protected toggleWindow(picture: Picture): void {
    const frame = this.player?.current;
    if (this.window.open()) this.window.close();
    else if (this.window.show(picture.file)) {
      if (frame) this.window.draw(frame, picture.width, picture.height);
    } else this.notices.error('The browser did not open a window for the picture. Allow windows for this page, then try again.');
  }

  protected move({ value, gesture }: ValueChange): void {
    this.document.edit('movePicture', { sound: this.workbench.sound()!.id, offset: value }, gesture);
  }

  protected remove(): void {
    this.document.edit('removePicture', { sound: this.workbench.sound()!.id });
  }

  /** Shows the frame of the playhead at the next refresh of the screen, and goes on from refresh to refresh while time runs. */
  private showSoon(): void {
    if (typeof requestAnimationFrame === 'undefined') return;
    this.request ??= requestAnimationFrame(() => {
      this.request = undefined;
      this.show();
      if (this.running()) this.showSoon();
    });
  }

  private show(): void {
    const picture = this.picture();
    const canvas = this.canvas()?.nativeElement;
    if (!this.player || !picture || !canvas) return;
    const position = this.playback.playhead();
    const time = Math.min(picture.seconds - 0.001, position - picture.offset);
    const context = canvas.getContext('2d');
    if (!context) return;
    if (time < 0) {
      this.player.stop();
      if (this.drawn() !== undefined) {
        context.clearRect(0, 0, canvas.width, canvas.height);
        this.window.clear();
        this.drawn.set(undefined);
      }
      return;
    }
    const frame = this.player.wanted(time, this.running());
    if (!frame) return;
    frame.draw(context, canvas.width, canvas.height);
    this.window.draw(frame, picture.width, picture.height);
    this.drawn.set({ frame: frame.time, position: position - picture.offset });
  }
}
