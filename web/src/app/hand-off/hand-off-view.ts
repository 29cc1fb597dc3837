import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatIconModule } from '@angular/material/icon';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { HandOff, Remedy, Sibling } from '@tangled-choir/core';
import { choice, decibels, encodings, mendedPeak, namingFields, remedies, seconds } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Notices } from '../state/notices';
import { WorkbenchStore } from '../state/workbench.store';
import { PartlyHeard } from '../state/partly-heard';
import { formatLevel, signed } from '../ui/quantity';
import type { SettingValues } from '../ui/settings-dialog';
import { AskSettings } from '../ui/settings-dialog';
import { SoundPicker } from '../sounds/sound-picker';
import type { CheckedFile } from './deliveries.store';
import { Deliveries } from './deliveries.store';
import type { ValueChange } from '../ui/value-field';
import { ValueField } from '../ui/value-field';

const sampleRates = [44_100, 48_000, 96_000] as const;
const tailChoices: readonly { value: HandOff['tail']; label: string }[] = [
  { value: 'ring out', label: 'let it ring out' },
  { value: 'cut at the last clip', label: 'cut at the last clip' },
  { value: 'fixed length', label: 'fixed length' },
  { value: 'seamless loop', label: 'seamless loop' },
];
const levelParameters = {
  to: choice('Bring to', ['a true peak', 'a loudness'], 'a true peak'),
  peak: { ...decibels({ label: 'True peak (dBTP)', min: -30, max: 0, default: -1 }) },
  loudness: { ...decibels({ label: 'Loudness (LUFS)', min: -50, max: -6, default: -23 }) },
};
const encodingLabels = { '16': '16 bit, dithered', '24': '24 bit, dithered', '32f': '32 bit float' } as const;

/** What is delivered: which variants, in which form, under which names; checked before it is written. */
@Component({
  selector: 'tc-hand-off-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCheckboxModule, MatIconModule, MatProgressBarModule, MatTooltipModule, SoundPicker, ValueField],
  templateUrl: './hand-off-view.html',
  styleUrl: './hand-off-view.scss',
})
export class HandOffView {
  private readonly document = inject(DocumentStore);
  private readonly notices = inject(Notices);
  private readonly ask = inject(AskSettings);
  protected readonly partly = inject(PartlyHeard);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly deliveries = inject(Deliveries);
  protected readonly sampleRates = sampleRates;
  protected readonly encodings = encodings;
  protected readonly encodingLabels = encodingLabels;
  protected readonly tailChoices = tailChoices;
  protected readonly fields = namingFields;
  protected readonly settings = this.deliveries.settings;
  private readonly siblingsThatAre = (state: Sibling['state']) =>
    computed(() => this.workbench.sound()?.family.siblings.filter((sibling) => sibling.state === state).length ?? 0);
  protected readonly kept = this.siblingsThatAre('kept');
  protected readonly open = this.siblingsThatAre('open');
  protected readonly rows = computed(() => {
    const collisions = new Set(this.deliveries.collisions());
    const checked = new Map((this.deliveries.checked() ?? []).map((file) => [file.item, file]));
    return this.deliveries.items().map((item, index) => {
      const file = checked.get(item) ?? this.deliveries.checked()?.[index];
      const findings = collisions.has(item.file)
        ? [
            { severity: 'fault' as const, text: 'Another file has the same name; use {number} in the template.', remedies: [] },
            ...(file?.findings ?? []),
          ]
        : (file?.findings ?? []);
      return {
        key: index,
        variant: item.sibling === undefined ? 'original' : `sibling ${item.sibling + 1}`,
        name: item.file,
        length: file ? `${file.measured.seconds.toFixed(3)} s` : '',
        loudness: file ? formatLevel(file.measured.integratedLufs, 'LUFS') : '',
        peak: file ? formatLevel(file.measured.truePeakDbtp, 'dBTP') : '',
        loops: item.loops,
        findings,
        remedies: [...new Set(findings.flatMap((finding): readonly Remedy[] => finding.remedies))],
        checked: file !== undefined,
      };
    });
  });
  protected readonly faults = computed(
    () =>
      this.rows()
        .flatMap((row) => row.findings)
        .filter((finding) => finding.severity === 'fault').length,
  );
  protected readonly advice = computed(
    () =>
      this.rows()
        .flatMap((row) => row.findings)
        .filter((finding) => finding.severity === 'advice').length,
  );
  protected readonly size = computed(() => this.deliveries.items().length);

  protected set(settings: Partial<HandOff>): void {
    this.document.edit('setHandOff', { settings });
  }

  /** Typing a template is one undo step, however many letters it takes. */
  protected setTemplate(template: string): void {
    this.document.edit('setHandOff', { settings: { template } }, 'naming template');
  }

  protected setRate(value: string): void {
    const sampleRate = sampleRates.find((rate) => String(rate) === value);
    if (sampleRate) this.set({ sampleRate });
  }

  protected setEncoding(value: string): void {
    const encoding = encodings.find((known) => known === value);
    if (encoding) this.set({ encoding });
  }

  protected setChannels(value: string): void {
    this.set({ channels: value === 'mono' ? 'mono' : 'stereo' });
  }

  protected setTail(value: string): void {
    const tail = tailChoices.find((known) => known.value === value)?.value;
    if (tail) this.set({ tail });
  }

  protected readonly lengthParameter = seconds({ label: 'Length', min: 0.01, max: 3_600, default: 1 });

  protected setLength({ value, gesture }: ValueChange): void {
    this.document.edit('setHandOff', { settings: { length: value } }, gesture);
  }

  protected async check(): Promise<void> {
    await this.guard(() => this.deliveries.check());
  }

  protected async deliver(): Promise<void> {
    await this.guard(async () => {
      const count = await this.deliveries.deliver((faulty) => this.mayWrite(faulty));
      if (count > 0)
        this.notices.info(count === 1 ? 'One file and its manifest were written.' : `${count} files and their manifest were written.`);
    });
  }

  /** Says what is wrong with files before they are written. */
  private async mayWrite(faulty: readonly CheckedFile[]): Promise<boolean> {
    const [first] = faulty;
    const rest = faulty.length > 1 ? ` So it is, or worse, with ${faulty.length - 1} more.` : '';
    const fault = first?.findings.find(({ severity }) => severity === 'fault')?.text ?? '';
    const answer = await this.ask.ask({
      title: faulty.length === 1 ? 'One file has a fault' : `${faulty.length} files have faults`,
      explain: `${first?.item.file}: ${fault}${rest}`,
      action: 'Write them anyway',
      parameters: {},
    });
    return answer !== undefined;
  }

  protected remedyText(remedy: Remedy): string {
    if (remedy === 'change level') return `Turn down by ${(this.deliveries.peak() - mendedPeak).toFixed(1)} dB`;
    if (remedy === 'limit') return `Limit to ${String(mendedPeak).replace('-', '−')} dBTP`;
    return remedies[remedy];
  }

  protected async mend(remedy: Remedy): Promise<void> {
    // A second click may come before what the first has changed is measured.
    if (!this.deliveries.checked()) return;
    const change = remedy === 'change level' ? mendedPeak - this.deliveries.peak() : mendedPeak;
    await this.guard(() => this.deliveries.mend(remedy, change));
  }

  /** Brings the sound to a true peak or to a loudness; its siblings move with it. */
  protected async setLevel(): Promise<void> {
    await this.guard(async () => {
      if (!this.deliveries.checked()) await this.deliveries.check();
      const [peak, loudness] = [this.deliveries.peak(), this.deliveries.loudness()];
      if (!Number.isFinite(peak) || !Number.isFinite(loudness)) {
        this.notices.error('There is nothing to measure: the files are empty or silent.');
        return;
      }
      const wanted = await this.ask.ask({
        title: 'Bring to a level',
        explain: `The loudest file peaks at ${formatLevel(peak, 'dBTP')}; the first file has ${formatLevel(loudness, 'LUFS')}. The sound’s gain is changed, for all of them.`,
        action: 'Change the level',
        parameters: levelParameters,
        preview: (values) => {
          const by = this.changeTo(values);
          const then = peak + by;
          return {
            text: `${signed(by, 1)} dB; the loudest peak will be at ${formatLevel(then, 'dBTP')}.`,
            possible: then <= 0,
          };
        },
      });
      if (wanted) await this.deliveries.mend('change level', this.changeTo(wanted));
    });
  }

  private changeTo(values: SettingValues): number {
    return values['to'] === 'a true peak'
      ? Number(values['peak']) - this.deliveries.peak()
      : Number(values['loudness']) - this.deliveries.loudness();
  }

  private async guard(work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      this.notices.error(`The hand-off stopped: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
}
