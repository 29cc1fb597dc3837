import { ChangeDetectionStrategy, Component, computed, inject, input, output, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Role, Source } from '@tangled-choir/core';
import { measureSpectrogram, roles } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { LiveEngine } from '../engine/live-engine';
import { DocumentStore } from '../state/document.store';
import { NameField } from '../ui/name-field';
import { formatLevel, signed } from '../ui/quantity';
import { roleColour } from '../ui/roles';
import { SpectrogramView } from '../ui/spectrogram';
import { Waveform } from '../ui/waveform';

/** Everything known of one source: what it looks like, what was measured, where it came from. */
@Component({
  selector: 'tc-source-inspector',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatTooltipModule, NameField, SpectrogramView, Waveform],
  templateUrl: './source-inspector.html',
  styleUrl: './source-inspector.scss',
})
export class SourceInspector {
  readonly source = input.required<Source>();
  readonly uses = input.required<readonly { sound: string; clips: number }[]>();
  readonly playing = input(false);
  readonly audition = output();
  readonly place = output();
  readonly remove = output();
  private readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  private readonly engine = inject(LiveEngine);

  protected readonly roles = roles;
  protected readonly loaded = computed(() => this.library.get(this.source().audio));
  protected readonly missing = computed(() => this.library.missing().get(this.source().audio));
  protected readonly colour = computed(() => roleColour(this.source().role));
  protected readonly spectrogram = computed(() => {
    const audio = this.loaded()?.audio;
    return audio && measureSpectrogram(audio, 316, 96);
  });
  /** Where the playhead stands within the recording, as a share. */
  protected readonly playhead = computed(() =>
    this.playing() ? (this.engine.position() * (this.document.project()?.sampleRate ?? 48_000)) / this.source().frames : undefined,
  );
  protected readonly facts = computed((): readonly (readonly [string, string])[] => {
    const measured = this.loaded()?.measured;
    const { origin, channels, frames } = this.source();
    const rate = this.document.project()?.sampleRate ?? 48_000;
    const sides = channels === 1 ? 'mono' : channels === 2 ? 'stereo' : `${channels} channels`;
    return [
      ['Length', `${(frames / rate).toFixed(3)} s`],
      ['Loudness', formatLevel(measured?.integratedLufs, 'LUFS')],
      ['True peak', formatLevel(measured?.truePeakDbtp, 'dBTP')],
      ['RMS', formatLevel(measured?.rmsDbfs, 'dBFS')],
      ['DC offset', measured ? `${signed(measured.dcOffset * 100, 2)} %` : '…'],
      ['Stored as', `${rate / 1_000} kHz ${sides}`],
      ['Came as', `${origin.sampleRate / 1_000} kHz, ${origin.encoding}`],
    ];
  });
  protected readonly useText = computed(() =>
    this.uses().map(({ sound, clips }) => `${sound}, ${clips} ${clips === 1 ? 'clip' : 'clips'}`),
  );

  private readonly sourceName = viewChild.required(NameField);

  startRenaming(): void {
    this.sourceName().start();
  }

  protected rename(name: string): void {
    this.document.edit('renameSource', { source: this.source().id, name });
  }

  protected setRole(value: string): void {
    const role: Role | undefined = roles.find((known) => known === value);
    this.document.edit('setSourceRole', { source: this.source().id, role });
  }

  protected setTags(text: string): void {
    this.document.edit('setSourceTags', { source: this.source().id, tags: text.split(',') });
  }

  protected setNotes(notes: string): void {
    this.document.edit('setSourceNotes', { source: this.source().id, notes });
  }
}
