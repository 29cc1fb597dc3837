import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type { HandOff } from '@tangled-choir/core';
import { encodings, namingFields } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Notices } from '../state/notices';
import { WorkbenchStore } from '../state/workbench.store';
import { formatLevel } from '../ui/quantity';
import { SoundPicker } from '../sounds/sound-picker';
import { Deliveries } from './deliveries.store';

const sampleRates = [44_100, 48_000, 96_000] as const;
const tailChoices: readonly { value: HandOff['tail']; label: string }[] = [
  { value: 'ring out', label: 'let it ring out' },
  { value: 'cut at the last clip', label: 'cut at the last clip' },
  { value: 'fixed length', label: 'fixed length' },
];
const encodingLabels = { '16': '16 bit, dithered', '24': '24 bit, dithered', '32f': '32 bit float' } as const;

/** What is delivered: which variants, in which form, under which names; checked before it is written. */
@Component({
  selector: 'tc-hand-off-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatProgressBarModule, SoundPicker],
  templateUrl: './hand-off-view.html',
  styleUrl: './hand-off-view.scss',
})
export class HandOffView {
  private readonly document = inject(DocumentStore);
  private readonly notices = inject(Notices);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly deliveries = inject(Deliveries);
  protected readonly sampleRates = sampleRates;
  protected readonly encodings = encodings;
  protected readonly encodingLabels = encodingLabels;
  protected readonly tailChoices = tailChoices;
  protected readonly fields = namingFields;
  protected readonly settings = this.deliveries.settings;
  protected readonly kept = computed(
    () => this.workbench.sound()?.family.siblings.filter((sibling) => sibling.state === 'kept').length ?? 0,
  );
  protected readonly rows = computed(() => {
    const collisions = new Set(this.deliveries.collisions());
    const checked = new Map((this.deliveries.checked() ?? []).map((file) => [file.item, file]));
    return this.deliveries.items().map((item, index) => {
      const file = checked.get(item) ?? this.deliveries.checked()?.[index];
      const findings = collisions.has(item.file)
        ? [{ severity: 'fault' as const, text: 'Another file has the same name; use {number} in the template.' }, ...(file?.findings ?? [])]
        : (file?.findings ?? []);
      return {
        key: index,
        variant: item.sibling === undefined ? 'original' : `sibling ${item.sibling + 1}`,
        name: item.file,
        length: file ? `${file.measured.seconds.toFixed(3)} s` : '',
        loudness: file ? formatLevel(file.measured.integratedLufs, 'LUFS') : '',
        peak: file ? formatLevel(file.measured.truePeakDbtp, 'dBTP') : '',
        findings,
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

  protected setLength(text: string): void {
    const length = Number(text.replace(',', '.'));
    if (length > 0 && length <= 3_600) this.set({ length });
    else this.notices.error('The length is a number of seconds above 0, at most 3600.');
  }

  protected async check(): Promise<void> {
    await this.guard(() => this.deliveries.check());
  }

  protected async deliver(): Promise<void> {
    await this.guard(async () => {
      const count = await this.deliveries.deliver();
      if (count > 0)
        this.notices.info(count === 1 ? 'One file and its manifest were written.' : `${count} files and their manifest were written.`);
    });
  }

  private async guard(work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      this.notices.error(`The hand-off stopped: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
}
