import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import type { ParameterSet, PatchPart, Source } from '@tangled-choir/core';
import { effectCatalogue, partName, partsById, takenBody } from '@tangled-choir/core';
import { AudioLibrary } from '../../engine/audio-library';
import { ProjectJobs } from '../../engine/project-jobs';
import { JobCancelled } from '@tangled-choir/jobs';
import { Notices } from '../../state/notices';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { NameField } from '../../ui/name-field';
import type { ParameterChange } from '../../ui/parameter-fields';
import { ParameterFields } from '../../ui/parameter-fields';
import { PropertyRows } from '../editors/property-rows';
import { EnvelopeGraph } from './envelope-graph';
import { PartPictureView } from './part-picture';
import { PatchCommands } from './patch-commands';

/** What all parts have, in groups; what is a part's own comes in front. */
const groups: readonly { readonly title: string; readonly keys: readonly string[] }[] = [
  { title: 'Pitch and level', keys: ['follows', 'frequency', 'ratio', 'tuning', 'level', 'pan', 'strengthLevel', 'strengthTimes'] },
  {
    title: 'Envelope',
    keys: ['delay', 'attack', 'hold', 'decay', 'sustain', 'release', 'attackBend', 'decayBend', 'releaseBend', 'keyTimes'],
  },
  { title: 'Filter', keys: ['filter', 'cutoff', 'resonance', 'drive', 'keyCutoff', 'envelopeCutoff', 'strengthCutoff'] },
];
const common = new Set(groups.flatMap(({ keys }) => keys));

/** One part of a patch: its picture, its envelope with handles, and its dials in groups. */
@Component({
  selector: 'tc-part-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [EnvelopeGraph, MatMenuModule, NameField, ParameterFields, PartPictureView],
  templateUrl: './part-editor.html',
  styleUrl: './part-editor.scss',
})
export class PartEditor {
  readonly part = input.required<PatchPart>();
  private readonly workbench = inject(WorkbenchStore);
  private readonly properties = inject(PropertyRows);
  private readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(ProjectJobs);
  private readonly notices = inject(Notices);
  protected readonly commands = inject(PatchCommands);
  protected readonly kind = computed(() => partsById.get(this.part().kind));
  protected readonly name = computed(() => {
    const patch = this.workbench.patch();
    return patch ? partName(patch, this.part(), effectCatalogue) : '';
  });
  private readonly of = computed(() => {
    const parameters: ParameterSet = this.kind()?.parameters ?? {};
    return { address: `layer/${this.workbench.layer()?.id}/part/${this.part().id}`, parameters, stored: this.part().parameters };
  });
  protected readonly groups = computed(() => {
    const of = this.of();
    const own = Object.keys(of.parameters).filter((key) => !common.has(key));
    return [{ title: this.kind()?.label ?? '', keys: own }, ...groups].map(({ title, keys }) => ({
      title,
      rows: this.properties.rowsOf(of, keys),
    }));
  });
  /** The values of the part as they are at the playhead. */
  protected readonly values = computed(() => this.properties.read(this.of()));

  /** Sources whose modes could be this part's. */
  protected readonly sources = computed(() => this.document.project()?.sources ?? []);
  protected readonly taking = signal(false);

  /** Measures the modes of a source and makes them this part's; how it is played stays as it is. */
  protected async takeModes(source: Source): Promise<void> {
    const part = this.part();
    const layer = this.workbench.layer()?.id;
    this.taking.set(true);
    try {
      const { taken, ring, frequency } = await this.jobs.run('takeModes', await this.library.stored(source), `Modes of ${source.name}`);
      this.commands.turnAll(layer, part.id, { body: takenBody, taken, ring, frequency, scatter: 0 }, `Modes of ${source.name}`);
    } catch (error) {
      if (!(error instanceof JobCancelled)) this.notices.error(`${source.name}: ${error instanceof Error ? error.message : String(error)}`);
    } finally {
      this.taking.set(false);
    }
  }

  protected set({ key, value, gesture }: ParameterChange): void {
    const label = this.kind()?.parameters[key]?.label ?? key;
    this.commands.turn(`part/${this.part().id}/${key}`, value, `${this.name()}: ${label.toLowerCase()}`, gesture);
  }
}
