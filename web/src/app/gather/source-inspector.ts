import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
  ViewContainerRef,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import { Router } from '@angular/router';
import type { ChannelChoice, Defect, Source, Spectrogram } from '@tangled-choir/core';
import type { StoredLoop } from '@tangled-choir/jobs';
import { firstValueFrom } from 'rxjs';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { DocumentStore } from '../state/project/document.store';
import { Notices } from '../state/notices';
import { ProjectTransfer } from '../state/project/project-transfer.store';
import { WorkbenchStore } from '../state/workbench.store';
import type { MimicRequest } from '../sounds/mimic-dialog';
import { MimicDialog } from '../sounds/mimic-dialog';
import { ChoiceField } from '../ui/choice-field';
import { NameField } from '../ui/name-field';
import { openDialog } from '../ui/open-dialog';
import { formatDuration, formatPlace } from '../ui/quantity';
import { roleColour } from '../ui/roles';
import type { LoopDoctorRequest } from './loop-doctor/loop-doctor';
import { LoopDoctor } from './loop-doctor/loop-doctor';
import { ExportSources } from './export-sources';
import type { ChosenRole } from './role-offers';
import { roleOffers } from './role-offers';
import { SourcePicture } from './source-picture';
import { sourceFacts } from './source-facts';
import { SourceRegions } from './source-regions';

/** Around a defect that is clicked, this much is played. */
const aroundDefect = 0.4;
const spectrogramShape = { columns: 308, rows: 96 };

/** Everything known of one source: what it looks like, its good parts, what was measured, where it came from. */
@Component({
  selector: 'tc-source-inspector',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatButtonModule, MatIconModule, MatMenuModule, MatTooltipModule, NameField, SourcePicture],
  templateUrl: './source-inspector.html',
  styleUrls: ['./inspector.scss', './source-inspector.scss'],
})
export class SourceInspector {
  readonly source = input.required<Source>();
  readonly uses = input.required<readonly { sound: string; clips: number }[]>();
  readonly playing = input(false);
  readonly audition = output();
  readonly place = output();
  readonly alike = output();
  readonly remove = output();
  /** A source was made of this one. */
  readonly made = output<Source>();
  protected readonly regions = inject(SourceRegions);
  protected readonly files = inject(ExportSources);
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly router = inject(Router);
  private readonly library = inject(AudioLibrary);
  private readonly dialog = inject(MatDialog);
  /** Dialogs see what belongs to the open project. */
  private readonly container = inject(ViewContainerRef);
  private readonly jobs = inject(ProjectJobs);
  private readonly transfer = inject(ProjectTransfer);
  private readonly notices = inject(Notices);

  protected readonly roles = roleOffers;
  protected readonly formatPlace = formatPlace;
  protected readonly formatDuration = formatDuration;
  protected readonly overview = computed(() => this.library.overview(this.source().audio));
  protected readonly missing = computed(() => this.library.missing().get(this.source().audio));
  protected readonly character = computed(() => this.library.facts(this.source().audio)?.character);
  protected readonly defects = computed(() => this.character()?.defects ?? []);
  protected readonly colour = computed(() => roleColour(this.source().role));
  protected readonly rate = computed(() => this.document.project()?.sampleRate ?? 48_000);
  protected readonly seconds = computed(() => this.source().frames / this.rate());
  protected readonly spectrogram = signal<Spectrogram | undefined>(undefined);
  protected readonly playhead = computed(() => this.regions.playheadIn(this.source()));
  protected readonly facts = computed(() => sourceFacts(this.source(), this.library.facts(this.source().audio), this.rate()));
  protected readonly useText = computed(() =>
    this.uses().map(({ sound, clips }) =>
      clips === 0 ? `${sound}, in an effect or as its guide` : `${sound}, ${clips} ${clips === 1 ? 'clip' : 'clips'}`,
    ),
  );

  private readonly sourceName = viewChild.required(NameField);

  constructor() {
    const audio = computed(() => this.source().audio);
    effect(() => {
      audio();
      this.spectrogram.set(undefined);
      untracked(() => void this.drawSpectrogram());
    });
    const id = computed(() => this.source().id);
    effect(() => {
      id();
      this.regions.chosen.set(undefined);
      this.regions.sought.set(undefined);
    });
  }

  startRenaming(): void {
    this.sourceName().start();
  }

  protected rename(name: string): void {
    this.document.edit('renameSource', { source: this.source().id, name });
  }

  protected setRole(chosen: ChosenRole): void {
    const role = chosen === '' ? undefined : chosen;
    this.document.edit('setSourceRole', { sources: [this.source().id], role });
  }

  protected setTags(text: string): void {
    this.document.edit('setSourceTags', { source: this.source().id, tags: text.split(',') });
  }

  protected setNotes(notes: string): void {
    this.document.edit('setSourceNotes', { source: this.source().id, notes });
  }

  protected setOrigin(key: 'recordist' | 'licence', value: string): void {
    this.document.edit('setSourceOrigin', { source: this.source().id, origin: { [key]: value } });
  }

  protected async findRegions(at: 'silences' | 'transients'): Promise<void> {
    const source = this.source();
    try {
      const stored = await this.library.stored(source);
      const parts = await this.jobs.run('soundingParts', { ...stored, at }, `Splitting ${source.name}`);
      if (parts.length === 0) this.notices.error(`There are no ${at} to split “${source.name}” at.`);
      else
        this.document.edit('addRegions', {
          source: source.id,
          regions: parts.map((part, i) => ({ name: `Part ${source.regions.length + i + 1}`, ...part })),
        });
    } catch (error) {
      this.tell(error);
    }
  }

  protected playDefect(defect: Defect): void {
    const from = Math.max(0, defect.from - aroundDefect);
    const to = Math.min(this.seconds(), Math.min(defect.to, defect.from + 2) + aroundDefect);
    this.regions.sought.set({ from: defect.from, to: defect.to });
    this.regions.playPart(this.source(), { from, to }, defect.kind);
  }

  /** Makes a source of each region. */
  protected async cutRegions(): Promise<void> {
    const source = this.source();
    await this.cut(
      source.regions.map(({ name, from, to }) => ({ name: `${source.name} · ${name}`, from, to })),
      'all',
    );
  }

  protected async makeMono(channel: ChannelChoice): Promise<void> {
    const word = channel === 'mean' ? 'mono' : channel === 0 ? 'left' : channel === 1 ? 'right' : `channel ${Number(channel) + 1}`;
    await this.cut([{ name: `${this.source().name} (${word})`, from: 0, to: this.seconds() }], channel);
  }

  /** Opens the loop doctor on the chosen region, or on the whole source; what it makes becomes a source. */
  protected async openLoopDoctor(): Promise<void> {
    const source = this.source();
    const within = source.regions.find(({ id }) => id === this.regions.chosen());
    const data: LoopDoctorRequest = { source, sampleRate: this.rate(), within };
    const config = { data, width: '980px', maxWidth: '96vw', autoFocus: 'dialog', viewContainerRef: this.container };
    const loop = await firstValueFrom(this.dialog.open<LoopDoctor, LoopDoctorRequest, StoredLoop>(LoopDoctor, config).afterClosed());
    if (!loop) return;
    try {
      if (!(await this.transfer.storeSources([loop]))) return;
      const made = this.document.project()?.sources.at(-1);
      if (made) this.made.emit(made);
      this.notices.info(`“${loop.source.name}” made; it is a source like any other.`);
    } catch (error) {
      this.tell(error);
    }
  }

  /** Proposes a patch that comes near to the chosen region, or to the whole source. */
  protected openMimic(): void {
    const source = this.source();
    const within = source.regions.find(({ id }) => id === this.regions.chosen());
    const data: MimicRequest = { source, part: within ?? { from: 0, to: this.seconds() } };
    openDialog(this.dialog, MimicDialog, { data, width: '560px', maxWidth: '95vw', autoFocus: 'dialog', viewContainerRef: this.container });
  }

  /** Opens what a print was rendered from as a live sound, in the Loft. */
  protected openRecipe(): void {
    this.document.standIn('loft');
    if (!this.document.edit('openRecipe', { source: this.source().id })) return;
    const project = this.document.project();
    this.workbench.selectSound(project?.sounds.at(-1)?.id ?? '');
    void this.router.navigate(['/project', project?.id, 'loft']);
  }

  protected async relink(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (file) await this.transfer.relink(this.source().id, file).catch((error: unknown) => this.tell(error));
  }

  private async cut(parts: readonly { name: string; from: number; to: number }[], channel: ChannelChoice): Promise<void> {
    try {
      const count = await this.transfer.cutParts(this.source(), parts, channel);
      if (count > 0) this.notices.info(count === 1 ? 'One source made.' : `${count} sources made.`);
    } catch (error) {
      this.tell(error);
    }
  }

  private async drawSpectrogram(): Promise<void> {
    const source = this.source();
    // Without its recording there is none, which is told elsewhere.
    const spectrogram = await this.library.spectrogram(source, spectrogramShape).catch(() => undefined);
    if (this.source().audio === source.audio) this.spectrogram.set(spectrogram);
  }

  private tell(error: unknown): void {
    this.notices.error(error instanceof Error ? error.message : String(error));
  }
}
