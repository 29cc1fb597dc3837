import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDividerModule } from '@angular/material/divider';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { FrameRate, ScaleKind } from '@tangled-choir/core';
import {
  count,
  divisionNames,
  factor,
  formatFrame,
  frameRates,
  parseFrame,
  pitchClasses,
  readMarksCsv,
  readMarksVtt,
  safeFileName,
  scaleKinds,
  seconds,
  soundEnd,
  tappedTempo,
  writeMarksCsv,
  writeMarksVtt,
} from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Notices } from '../../state/notices';
import { WorkbenchStore } from '../../state/workbench.store';
import { saveFile } from '../../storage/save-file';
import { PitchSwitch } from '../../sounds/pitch-switch';
import { MenuPanel } from '../../ui/menu-panel';
import { ChoiceField, offersOf } from '../../ui/choice-field';
import type { ValueChange } from '../../ui/value-field';
import { ValueField } from '../../ui/value-field';
import type { SnapKinds } from './time-display';
import { nudgeSteps, TimeDisplay, timeModes } from './time-display';

const longestTapGap = 3;

/** How time is shown, counted and snapped to, and marks in and out of files. */
@Component({
  selector: 'tc-time-tools',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ChoiceField,
    MatButtonModule,
    MatDividerModule,
    MatIconModule,
    MatMenuModule,
    MatTooltipModule,
    MenuPanel,
    PitchSwitch,
    ValueField,
  ],
  templateUrl: './time-tools.html',
  styleUrl: './time-tools.scss',
})
export class TimeTools {
  protected readonly display = inject(TimeDisplay);
  protected readonly workbench = inject(WorkbenchStore);
  private readonly document = inject(DocumentStore);
  private readonly notices = inject(Notices);
  protected readonly roots = [{ value: -1, name: 'none' }, ...pitchClasses.map((name, value) => ({ value, name }))];
  protected readonly scales = offersOf(scaleKinds);
  protected readonly modes = timeModes;
  protected readonly divisions = offersOf(divisionNames);
  protected readonly nudges = nudgeSteps;
  protected readonly frameRates = offersOf(frameRates);
  protected readonly snapKinds: readonly (readonly [keyof SnapKinds, string])[] = [
    ['marks', 'Marks'],
    ['edges', 'Edges of clips'],
    ['syncs', 'Sync points'],
    ['frames', 'Picture frames'],
    ['beats', 'Beats'],
    ['zeroCrossings', 'Zero crossings, when cutting'],
  ];
  protected readonly bpmParameter = { ...factor({ label: 'Tempo', min: 20, max: 400, default: 120 }) };
  protected readonly beatsParameter = count({ label: 'Beats a bar', min: 1, max: 16, default: 4 });
  protected readonly offsetParameter = { ...seconds({ label: 'First bar at', min: 0, max: 60, default: 0 }), scale: 'linear' as const };
  protected readonly sound = this.workbench.sound;
  protected readonly scale = computed((): ScaleKind => this.sound()?.key?.kind ?? 'minor');
  protected readonly startTimecode = computed(() => {
    const clock = this.sound()?.clock;
    return clock ? formatFrame(clock.startFrame, clock.frameRate) : '';
  });
  private readonly taps = signal<readonly number[]>([]);
  protected readonly tapCount = computed(() => this.taps().length);

  protected readonly bpmScale = { unit: 'bpm', factor: 1, digits: 1 };

  protected setTempo(key: 'bpm' | 'beats' | 'offset', { value, gesture }: ValueChange): void {
    const sound = this.sound();
    if (sound) this.document.edit('setTempo', { sound: sound.id, tempo: { [key]: value } }, gesture);
  }

  /** Each tap adds to the count; after a pause it begins anew. */
  protected tap(timeStamp: number): void {
    const now = timeStamp / 1_000;
    const last = this.taps().at(-1);
    this.taps.update((taps) => (last !== undefined && now - last > longestTapGap ? [now] : [...taps, now].slice(-16)));
    const bpm = tappedTempo(this.taps());
    const sound = this.sound();
    if (bpm !== undefined && sound)
      this.document.edit('setTempo', { sound: sound.id, tempo: { bpm: Math.round(bpm * 10) / 10 } }, `tap-${this.taps()[0]}`);
  }

  /** A root below all notes takes the key away. */
  protected setKey(root: number, kind: ScaleKind): void {
    const sound = this.sound();
    if (sound) this.document.edit('setKey', { sound: sound.id, ...(root >= 0 && { key: { root, kind } }) });
  }

  protected setFrameRate(frameRate: FrameRate): void {
    const sound = this.sound();
    if (sound) this.document.edit('setClock', { sound: sound.id, clock: { frameRate } });
  }

  protected setStart(text: string): void {
    const sound = this.sound();
    if (!sound || text === this.startTimecode()) return;
    const startFrame = parseFrame(text, sound.clock.frameRate);
    if (startFrame === undefined) this.notices.error(`“${text}” is not a timecode such as 01:00:00:00 at ${sound.clock.frameRate} frames.`);
    else this.document.edit('setClock', { sound: sound.id, clock: { startFrame } });
  }

  protected exportMarks(format: 'csv' | 'vtt'): void {
    const sound = this.sound();
    if (!sound) return;
    const text = format === 'csv' ? writeMarksCsv(sound.marks, sound.clock) : writeMarksVtt(sound.marks, soundEnd(sound));
    saveFile(
      new TextEncoder().encode(text),
      `${safeFileName(`${sound.name}_marks`)}.${format}`,
      format === 'csv' ? 'text/csv' : 'text/vtt',
    );
  }

  protected async importMarks(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    const sound = this.sound();
    input.value = '';
    if (!file || !sound) return;
    try {
      const text = await file.text();
      const what = `“${file.name}”`;
      const marks = /\.vtt$/i.test(file.name) ? readMarksVtt(text, what) : readMarksCsv(text, sound.clock, what);
      if (marks.length === 0) this.notices.error(`${what} holds no marks.`);
      else if (this.document.edit('addMarks', { sound: sound.id, marks })) this.notices.info(`${marks.length} marks added.`);
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }
}
