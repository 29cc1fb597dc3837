import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { FadeShape, NumberParameter } from '@tangled-choir/core';
import {
  clipDuration,
  clipEnd,
  fadeShapes,
  gainParameter,
  ownerAddress,
  panParameter,
  pitchParameter,
  sendParameter,
  stretchParameter,
  syncTime,
} from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Turning } from '../state/turning';
import { WorkbenchStore } from '../state/workbench.store';
import { ChoiceField, offersOf } from '../ui/choice-field';
import { RoleGlyph } from '../ui/role-glyph';
import type { ValueChange } from '../ui/value-field';
import { ValueField } from '../ui/value-field';
import { ArrangeCommands } from './arrange/arrange-commands';
import { ClipCurves } from './stretch/clip-curve';
import { StretchPanel } from './stretch/stretch-panel';

const seconds = (label: string, max: number): NumberParameter => ({
  kind: 'number',
  label,
  unit: 's',
  min: 0,
  max,
  default: 0,
  scale: 'linear',
});

/** The numbers of the selected layer, group or bus, and of the clip. */
@Component({
  selector: 'tc-selection-inspector',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatButtonModule, MatIconModule, MatTooltipModule, ClipCurves, RoleGlyph, StretchPanel, ValueField],
  templateUrl: './selection-inspector.html',
  styleUrl: './selection-inspector.scss',
})
export class SelectionInspector {
  private readonly document = inject(DocumentStore);
  protected readonly workbench = inject(WorkbenchStore);
  private readonly turning = inject(Turning);
  protected readonly arrange = inject(ArrangeCommands);
  protected readonly shapes = offersOf(fadeShapes);
  protected readonly gainParameter = { ...gainParameter, min: -60, max: 24 };
  protected readonly panParameter = panParameter;
  protected readonly startParameter = computed(() => seconds('Start', Math.max(10, (this.clip()?.start ?? 0) * 2)));
  protected readonly fadeParameter = computed(() => seconds('Fade', Math.max(0.001, this.duration())));
  protected readonly sendParameter = { ...sendParameter, min: -60, max: 12 };
  /** The selected layer, group or bus. */
  protected readonly channel = computed(() => this.workbench.bus() ?? this.workbench.layer());
  protected readonly address = computed(() => ownerAddress(this.workbench.owner()));
  protected readonly gain = computed(() => this.now('gain', this.channel()?.gain ?? this.workbench.sound()?.gain ?? 0));
  protected readonly pan = computed(() => this.now('pan', this.channel()?.pan ?? 0));
  protected readonly sends = computed(() =>
    (this.channel()?.sends ?? []).map(({ bus, gain }) => ({
      bus,
      gain: this.turning.valueNow(`${this.address()}/send/${bus}`, gain, sendParameter),
      name: this.workbench.sound()?.buses.find((candidate) => candidate.id === bus)?.name ?? '',
    })),
  );
  protected readonly clipAddress = computed(() => {
    const found = this.workbench.selectedClip();
    return found ? `layer/${found.layer.id}/clip/${found.clip.id}` : '';
  });
  protected readonly clip = computed(() => this.workbench.selectedClip()?.clip);
  /** Who pulls at the clip, and how far. */
  protected readonly pulls = computed(() => {
    const clip = this.clip();
    const dial = (key: string, value: number, parameter: NumberParameter) =>
      this.turning.pulledDial(`${this.clipAddress()}/${key}`, value, parameter);
    return clip && { gain: dial('gain', clip.gain, gainParameter), pitch: dial('pitch', clip.pitch, pitchParameter), stretch: undefined };
  });
  protected readonly duration = computed(() => (this.clip() ? clipDuration(this.clip()!) : 0));
  protected readonly source = computed(() => this.document.project()?.sources.find((source) => source.id === this.clip()?.source));
  /** What the chosen clip shows: a recording, or the notes of its layer. */
  protected readonly contentName = computed(() => {
    const notes = this.clip()?.notes;
    return notes ? `${notes.length} ${notes.length === 1 ? 'note' : 'notes'}` : this.source()?.name;
  });
  /** What moves the notes of a clip, all of them at once. */
  protected readonly paces = [
    { key: 'pitch', label: 'Transpose', parameter: pitchParameter, tells: 'All notes up or down' },
    { key: 'stretch', label: 'Pace', parameter: stretchParameter, tells: 'How much slower the notes come' },
  ] as const;
  protected readonly extent = computed(() => {
    const clip = this.clip();
    return clip ? `${clip.start.toFixed(3)}–${clipEnd(clip).toFixed(3)} s` : '';
  });

  protected readonly ids = computed(() => this.workbench.selectedClips().map(({ clip }) => clip.id));
  protected readonly sync = computed(() => {
    const clip = this.clip();
    return clip?.sync ? `${clip.sync.kind} at ${syncTime(clip).toFixed(3)} s` : undefined;
  });

  protected setChannelValue(key: 'gain' | 'pan', { value, gesture }: ValueChange): void {
    const channel = this.channel();
    if (channel) this.set(`${this.address()}/${key}`, value, `${key === 'gain' ? 'Gain' : 'Pan'} of “${channel.name}”`, gesture);
  }

  protected setSend(bus: string, { value, gesture }: ValueChange): void {
    this.set(`${this.address()}/send/${bus}`, value, `Send of “${this.channel()?.name ?? ''}”`, gesture);
  }

  protected endSend(bus: string): void {
    this.document.edit('setSend', { sound: this.workbench.sound()!.id, owner: this.workbench.owner(), bus, on: false });
  }

  protected setSoundGain({ value, gesture }: ValueChange): void {
    this.set('sound/gain', value, `Gain of “${this.workbench.sound()?.name ?? ''}”`, gesture);
  }

  protected setClipValue(key: 'gain' | 'start' | 'pitch' | 'stretch', { value, gesture }: ValueChange): void {
    const label = `${{ gain: 'Level', start: 'Start', pitch: 'Transpose', stretch: 'Pace' }[key]} of “${this.contentName() ?? 'clip'}”`;
    if (this.clip()) this.set(`${this.clipAddress()}/${key}`, value, label, gesture);
  }

  protected setFade(side: 'in' | 'out', { value, gesture }: ValueChange): void {
    const clip = this.clip();
    if (clip) this.document.edit('fadeClips', { sound: this.workbench.sound()!.id, clips: this.ids(), side, length: value }, gesture);
  }

  protected setShape(side: 'in' | 'out', shape: FadeShape): void {
    const clip = this.clip();
    if (clip) this.document.edit('fadeClips', { sound: this.workbench.sound()!.id, clips: this.ids(), side, shape });
  }

  protected isAutomated(key: string): boolean {
    return this.turning.laneOf(`${this.address()}/${key}`) !== undefined;
  }

  private now(key: 'gain' | 'pan', stored: number): number {
    return this.turning.valueNow(`${this.address()}/${key}`, stored, key === 'gain' ? gainParameter : panParameter);
  }

  private set(address: string, value: number, label: string, gesture: string): void {
    this.turning.turn({ [address]: value }, label, gesture);
  }
}
