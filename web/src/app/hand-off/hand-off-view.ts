import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatButtonToggleModule } from '@angular/material/button-toggle';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Delivery, Remedy, Sibling } from '@tangled-choir/core';
import { deliveryKinds, mendedPeak, namingFields, remedies } from '@tangled-choir/core';
import { AskAboutFaults } from '../state/ask-about-faults';
import { Deliveries } from '../state/deliveries.store';
import { DocumentStore } from '../state/project/document.store';
import { Notices } from '../state/notices';
import { PartlyHeard } from '../state/partly-heard';
import { WorkbenchStore } from '../state/workbench.store';
import { canWriteFolders, chooseFolder } from '../storage/folder';
import { NameField } from '../ui/name-field';
import type { ParameterChange, ParameterRow } from '../ui/parameter-fields';
import { ParameterFields } from '../ui/parameter-fields';
import { formatLevel } from '../ui/quantity';
import type { DialGroup } from './delivery-dials';
import { ServerDeliveries } from './server-deliveries.store';
import { deliveryDials, deliveryFacts, dialChange, dialRows, levelFacts } from './delivery-dials';

/** More rows than that only make the page slow. */
const mostRows = 400;

/** What is delivered: which sounds, in which form, under which names; checked before it is written. */
@Component({
  selector: 'tc-hand-off-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    MatButtonModule,
    MatButtonToggleModule,
    MatCheckboxModule,
    MatIconModule,
    MatMenuModule,
    MatProgressBarModule,
    MatTooltipModule,
    NameField,
    ParameterFields,
  ],
  templateUrl: './hand-off-view.html',
  styleUrl: './hand-off-view.scss',
})
export class HandOffView {
  private readonly document = inject(DocumentStore);
  private readonly notices = inject(Notices);
  private readonly faults = inject(AskAboutFaults);
  protected readonly partly = inject(PartlyHeard);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly deliveries = inject(Deliveries);
  protected readonly fields = namingFields;
  protected readonly kinds = Object.keys(deliveryKinds);
  protected readonly groups = Object.keys(deliveryDials) as readonly DialGroup[];
  protected readonly factsOf = deliveryFacts;
  protected readonly levelOf = levelFacts;
  protected readonly canWriteFolders = canWriteFolders();
  protected readonly server = inject(ServerDeliveries);
  protected readonly current = this.deliveries.current;
  /** The delivery as the document has it, whatever is looked at now. */
  protected readonly asked = computed(() => {
    const id = this.current()?.delivery.id;
    return this.document.project()?.deliveries.find((delivery) => delivery.id === id);
  });
  protected readonly sounds = computed(() => this.document.project()?.sounds ?? []);
  private readonly taken = computed(() => {
    const chosen = this.current()?.delivery.sounds;
    return this.sounds().filter(({ id }) => !chosen || chosen.includes(id));
  });
  private readonly siblingsThatAre = (state: Sibling['state']) =>
    computed(() => this.taken().reduce((sum, { family }) => sum + family.siblings.filter((sibling) => sibling.state === state).length, 0));
  protected readonly kept = this.siblingsThatAre('kept');
  protected readonly open = this.siblingsThatAre('open');
  protected readonly soundsText = computed(() => {
    const chosen = this.asked()?.sounds;
    if (!chosen) return 'All sounds';
    if (chosen.length === 1) return this.sounds().find(({ id }) => id === chosen[0])?.name ?? '1 sound';
    return chosen.length === 0 ? 'No sound yet' : `${chosen.length} sounds`;
  });
  protected readonly rows = computed(() => {
    const plan = this.current();
    if (!plan) return [];
    const collisions = new Set(plan.collisions);
    const resultOf = this.deliveries.resultOf();
    return plan.items.slice(0, mostRows).map((item) => {
      const file = resultOf(plan.delivery, item);
      const sameName = {
        severity: 'fault' as const,
        text: 'Another file has the same name; use {number}, {sound} or {stem} in the template.',
        remedies: [],
      };
      const findings = [...(collisions.has(item.file) ? [sameName] : []), ...(file?.findings ?? [])];
      const variant = item.sibling === undefined ? 'original' : `sibling ${item.sibling + 1}`;
      return {
        key: item.key,
        of: item.of.id,
        sound: item.of.name,
        variant: item.stem === undefined ? variant : item.stem,
        name: item.file,
        folder: item.file.slice(0, item.file.lastIndexOf('/') + 1),
        base: item.file.slice(item.file.lastIndexOf('/') + 1),
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
  /** What is known of all deliveries that are on. */
  protected readonly totals = computed(() => {
    const verdicts = this.deliveries.on().map(({ delivery }) => this.deliveries.verdicts().get(delivery.id)!);
    const sum = (of: 'faults' | 'advice'): number => verdicts.reduce((total, verdict) => total + verdict[of], 0);
    return { faults: sum('faults'), advice: sum('advice'), checked: verdicts.length > 0 && verdicts.every(({ checked }) => checked) };
  });
  protected readonly verdict = computed(() => {
    const { faults, advice, checked } = this.totals();
    if (faults > 0) return `${faults} to mend`;
    if (!checked) return '';
    return advice > 0 ? `${advice} to consider` : 'all fine';
  });
  protected readonly fileText = computed(() => {
    const [files, on] = [this.deliveries.files(), this.deliveries.on().length];
    const counted = files === 1 ? '1 file' : `${files} files`;
    return on > 1 ? `${counted} in ${on} deliveries` : counted;
  });
  protected readonly canWrite = computed(
    () =>
      this.deliveries.files() > 0 &&
      this.deliveries.blocked() === undefined &&
      this.deliveries.progress() === undefined &&
      !this.deliveries.packing(),
  );
  protected readonly emptyText = computed(() => {
    if (this.sounds().length === 0) return 'Build a sound in the Loft first.';
    if (this.asked()?.content === 'behaviours')
      return this.deliveries.onlySound()
        ? 'Behaviours belong to all sounds.'
        : 'Say in Conduct how sounds behave: what plays them, and when.';
    if (this.open() > 0 && this.kept() === 0)
      return `${this.open()} open, 0 kept: keep them with K in Kin, or switch the original on at the left.`;
    return 'Choose sounds that have layers, and switch the original or the kept siblings on at the left. Siblings are kept in Kin.';
  });

  constructor() {
    void this.server.look();
  }

  protected rowsOf(group: DialGroup): ParameterRow[] {
    const plan = this.current();
    return plan ? dialRows(plan.delivery, group) : [];
  }

  protected set(change: Partial<Omit<Delivery, 'id'>>, gesture?: string): void {
    const plan = this.current();
    if (plan) this.document.edit('setDelivery', { delivery: plan.delivery.id, change }, gesture);
  }

  protected turn({ key, value, gesture }: ParameterChange): void {
    this.set(dialChange(key, value), gesture);
  }

  /** Typing a template is one undo step, however many letters it takes. */
  protected setTemplate(template: string): void {
    this.set({ template }, 'naming template');
  }

  protected setOn(delivery: string, on: boolean): void {
    this.document.edit('setDelivery', { delivery, change: { on } });
  }

  protected setSounds(sounds: string[] | undefined): void {
    this.set({ sounds });
  }

  protected isTaken(sound: string): boolean {
    return this.asked()?.sounds?.includes(sound) ?? false;
  }

  protected toggleSound(sound: string): void {
    const chosen = this.asked()?.sounds ?? [];
    this.setSounds(chosen.includes(sound) ? chosen.filter((id) => id !== sound) : [...chosen, sound]);
  }

  protected add(kind: string): void {
    const settings = deliveryKinds[kind];
    if (!settings || !this.document.edit('addDelivery', { name: kind, settings })) return;
    this.deliveries.choose(this.document.project()!.deliveries.at(-1)!.id);
  }

  protected duplicate(): void {
    const plan = this.current();
    if (!plan || !this.document.edit('duplicateDelivery', { delivery: plan.delivery.id })) return;
    const { deliveries } = this.document.project()!;
    this.deliveries.choose(deliveries[deliveries.findIndex(({ id }) => id === plan.delivery.id) + 1]!.id);
  }

  protected remove(): void {
    const plan = this.current();
    if (plan) this.document.edit('removeDelivery', { delivery: plan.delivery.id });
  }

  protected async check(): Promise<void> {
    await this.guard(async () => void (await this.deliveries.check()));
  }

  protected async deliver(): Promise<void> {
    await this.guard(async () => {
      const count = await this.deliveries.deliver(this.faults.mayWrite);
      if (count > 0) this.notices.info(`A zip of ${count} files was written, with manifest and report.`);
    });
  }

  protected async deliverTo(): Promise<void> {
    await this.guard(async () => {
      const folder = await chooseFolder();
      const outcome = folder && (await this.deliveries.deliverTo(folder, this.faults.mayWrite));
      if (!outcome) return;
      const kept = outcome.unchanged > 0 ? `, ${outcome.unchanged} were as they should be` : '';
      this.notices.info(`${outcome.written} files were written to “${folder.name}”${kept}.`);
    });
  }

  /** What is on here is wanted there: of all sounds, or of the one that is worked on. */
  protected sendToServer(): void {
    const project = this.document.project();
    if (project) void this.server.send({ ...project, deliveries: this.deliveries.on().map(({ delivery }) => delivery) });
  }

  /** The highest true peak of a sound's files, in dBTP: its level is mended for all of them. */
  private peakOf(sound: string): number {
    const files = (this.deliveries.checked() ?? []).filter(({ item }) => item.of.id === sound);
    return Math.max(...files.map(({ measured }) => measured.truePeakDbtp));
  }

  protected remedyText(sound: string, remedy: Remedy): string {
    if (remedy === 'change level') return `Turn down by ${(this.peakOf(sound) - mendedPeak).toFixed(1)} dB`;
    if (remedy === 'limit') return `Limit to ${String(mendedPeak).replace('-', '−')} dBTP`;
    return remedies[remedy];
  }

  protected async mend(sound: string, remedy: Remedy): Promise<void> {
    // A second click may come before what the first has changed is measured.
    if (!this.deliveries.checked()) return;
    const change = remedy === 'change level' ? mendedPeak - this.peakOf(sound) : mendedPeak;
    await this.guard(() => this.deliveries.mend(sound, remedy, change));
  }

  private async guard(work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      this.notices.error(`The hand-off stopped: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
}
