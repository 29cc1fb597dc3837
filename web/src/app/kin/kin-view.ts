import type { OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatTooltipModule } from '@angular/material/tooltip';
import { drawSibling, evenGain, twinDistance, withGain } from '@tangled-choir/core';
import { isTyping } from '../ui/typing';
import { DocumentStore } from '../state/project/document.store';
import { FamilyMap } from '../state/family-map.store';
import { FamilyRenders } from '../state/family-renders.store';
import { Playback } from '../state/playback.store';
import { WorkbenchStore } from '../state/workbench.store';
import { formatLevel } from '../ui/quantity';
import { roleColour } from '../ui/roles';
import { SoundPicker } from '../sounds/sound-picker';
import { Waveform } from '../ui/waveform';
import { FamilyFacts } from './family-facts';
import { drawsText } from './sway-text';
import { SwayTable } from './sway-table';

const columns = 4;

/** The family of a sound: what varies, the siblings side by side, which are kept. */
@Component({
  selector: 'tc-kin-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    FamilyFacts,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    MatProgressBarModule,
    MatTooltipModule,
    SoundPicker,
    SwayTable,
    Waveform,
  ],
  templateUrl: './kin-view.html',
  styleUrl: './kin-view.scss',
  host: { '(document:keydown)': 'key($event)' },
})
export class KinView implements OnDestroy {
  private readonly document = inject(DocumentStore);
  private readonly playback = inject(Playback);
  protected readonly renders = inject(FamilyRenders);
  protected readonly map = inject(FamilyMap);
  protected readonly twinDistance = twinDistance;
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly sound = this.workbench.sound;
  protected readonly chosen = signal(0);
  protected readonly formatLevel = formatLevel;
  /** The two siblings that were heard last, the newest last. */
  private readonly heard = signal<readonly number[]>([]);
  /** The one that was heard before the chosen one, to be compared with it. */
  protected readonly beside = computed(() => this.heard().findLast((index) => index !== this.chosen() && index < this.siblings().length));

  protected readonly colour = computed(() => roleColour(this.sound()?.layers[0]?.role));
  protected readonly siblings = computed(() => {
    const sound = this.sound();
    if (!sound) return [];
    const playing = this.playback.auditioned();
    return sound.family.siblings.map((sibling, index) => ({
      index,
      state: sibling.state,
      loaded: this.renders.siblings()[index],
      nearest: this.map.family()?.findings.nearest[index],
      playing: playing === nameOf(index),
      clips: (this.renders.siblings()[index]?.measured.samplePeakDbfs ?? -Infinity) > 0,
      ...drawsText(sound, drawSibling(sound, index)),
    }));
  });
  protected readonly kept = computed(() => this.siblings().filter((sibling) => sibling.state === 'kept').length);
  protected readonly open = computed(() => this.siblings().filter((sibling) => sibling.state === 'open').length);
  protected readonly clipping = computed(() => this.siblings().filter((sibling) => sibling.clips).length);
  protected readonly dropped = computed(() => this.siblings().filter((sibling) => sibling.state === 'dropped').length);
  /** Longest sibling in frames: all waveforms share its scale, so that lengths can be compared. */
  protected readonly longest = computed(() => Math.max(1, ...this.siblings().map((sibling) => sibling.loaded?.overview.frames ?? 0)));
  protected readonly height = computed(() => {
    const peak = Math.max(...this.siblings().map((sibling) => sibling.loaded?.measured.samplePeakDbfs ?? -Infinity));
    return Number.isFinite(peak) ? Math.min(20, Math.pow(10, -peak / 20) * 0.95) : 1;
  });
  /** How many of the siblings may be kept as the best. */
  protected readonly bestOffers = computed(() => [2, 3, 4, 5, 6, 8, 12, 16, 24, 32].filter((wanted) => wanted < this.siblings().length));

  constructor() {
    this.renders.watch(true);
  }

  ngOnDestroy(): void {
    this.renders.watch(false);
  }

  protected setSize(text: string): void {
    const size = Math.round(Number(text)) || 0;
    if (this.sound()) this.document.edit('setFamily', { sound: this.sound()!.id, size });
  }

  protected setSeed(text: string): void {
    const seed = Math.round(Number(text));
    if (this.sound() && Number.isFinite(seed) && seed >= 0) this.document.edit('setFamily', { sound: this.sound()!.id, seed });
  }

  protected anotherSeed(): void {
    const [seed = 1] = crypto.getRandomValues(new Uint16Array(1));
    this.setSeed(String(seed));
  }

  protected play(index: number): void {
    this.chosen.set(index);
    const loaded = this.renders.siblings()[index];
    if (this.playback.auditioned() === nameOf(index)) this.playback.stop();
    else if (loaded) {
      this.heard.update((heard) => [...heard.filter((each) => each !== index), index].slice(-2));
      this.playback.audition(nameOf(index), loaded.audio);
    }
  }

  /** Plays the sibling that was heard before, as loud as the chosen one is then, too: the louder of both is turned down. */
  protected compare(): void {
    const [from, to] = [this.chosen(), this.beside()];
    const [one, other] = [this.renders.siblings()[from], this.renders.siblings()[to ?? -1]];
    if (to === undefined || !one || !other) return;
    this.chosen.set(to);
    this.heard.set([from, to]);
    this.playback.audition(nameOf(to), withGain(other.audio, evenGain(other.measured, one.measured)));
  }

  protected judge(index: number, wanted: 'kept' | 'dropped'): void {
    const sound = this.sound();
    const sibling = sound?.family.siblings[index];
    if (!sound || !sibling) return;
    const state = sibling.state === wanted ? 'open' : wanted;
    this.document.edit('judgeSibling', { sound: sound.id, index, state, ...(state === 'kept' && { draws: drawSibling(sound, index) }) });
  }

  protected keepAll(): void {
    const sound = this.sound();
    if (sound)
      this.document.edit('keepOpen', { sound: sound.id, draws: sound.family.siblings.map((_, index) => drawSibling(sound, index)) });
  }

  protected rollAgain(index?: number): void {
    if (this.sound()) this.document.edit('rollAgain', { sound: this.sound()!.id, ...(index !== undefined && { index }) });
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event) || event.defaultPrevented || event.ctrlKey || event.altKey || event.metaKey) return;
    if (event.target instanceof HTMLElement && event.target.closest('[role="slider"]')) return;
    const count = this.siblings().length;
    const digit = /^[1-9]$/.test(event.key) ? Number(event.key) - 1 : undefined;
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: columns, ArrowUp: -columns }[event.key];
    if (digit !== undefined && digit < count) this.play(digit);
    else if (step !== undefined && count > 0) this.chosen.set(Math.max(0, Math.min(count - 1, this.chosen() + step)));
    else if (event.key === 'Enter' && count > 0) this.play(this.chosen());
    else if (event.key === 'K') this.keepAll();
    else if (event.key.toLowerCase() === 'k') this.judge(this.chosen(), 'kept');
    else if (event.key.toLowerCase() === 'x') this.judge(this.chosen(), 'dropped');
    else if (event.key.toLowerCase() === 'g') this.rollAgain();
    else if (event.key.toLowerCase() === 'b') this.compare();
    else if (event.key.toLowerCase() === 'f') void this.map.fire();
    else return;
    event.preventDefault();
  }
}

function nameOf(index: number): string {
  return `sibling ${index + 1}`;
}
