import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { NewStep, Preset } from '@tangled-choir/core';
import { effectCatalogue, effectsById, readPresets, safeFileName, situations, writePresets } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Notices } from '../../state/notices';
import { WorkbenchStore } from '../../state/workbench.store';
import { ProjectRepository } from '../../storage/project-repository';
import { saveFile } from '../../storage/save-file';
import { PresetNames } from './preset-names';

/** A ready chain or one that was saved. */
interface Entry {
  readonly key: string;
  readonly name: string;
  readonly tags: readonly string[];
  readonly about: string;
  readonly steps: readonly NewStep[];
  /** Kept in this project, and removable. */
  readonly preset: Preset | undefined;
}

function entryOf({ id, name, tags, chain }: Preset, from?: string): Entry {
  return {
    key: id,
    name,
    tags: from === undefined ? tags : [...tags, `from ${from}`],
    about: chain.map(({ effect }) => effectsById.get(effect)?.label ?? effect).join(' → '),
    steps: chain.map(({ id: _id, ...step }) => step),
    preset: undefined,
  };
}

const ready: readonly Entry[] = situations.map(({ name, purpose, chain }) => ({
  key: `situation ${name}`,
  name,
  tags: ['situation'],
  about: purpose,
  steps: chain.map(({ effect, mix = 1, values }) => ({ effect, mix, enabled: true, parameters: values })),
  preset: undefined,
}));

/** Situations and saved chains: search them, use one in place of the selected chain or add it, save, import and export. */
@Component({
  selector: 'tc-preset-browser',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, MatIconModule, MatTooltipModule],
  templateUrl: './preset-browser.html',
  styleUrl: './preset-browser.scss',
})
export class PresetBrowser {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly notices = inject(Notices);
  private readonly names = inject(PresetNames);
  private readonly repository = inject(ProjectRepository);
  protected readonly search = signal('');
  protected readonly chain = this.workbench.chain;
  protected readonly ownerName = computed(
    () => (this.workbench.bus() ?? this.workbench.layer() ?? this.workbench.sound())?.name ?? 'nothing',
  );
  protected readonly saved = computed(() => this.document.project()?.presets ?? []);
  /** What other projects of this browser have kept. */
  private readonly elsewhere = signal<readonly Entry[]>([]);
  protected readonly shown = computed(() => {
    const words = this.search().toLowerCase().split(/\s+/).filter(Boolean);
    const own = this.saved().map((preset): Entry => ({ ...entryOf(preset), preset }));
    const known = new Set(own.map(({ name, about }) => `${name} ${about}`));
    const others = this.elsewhere().filter(({ name, about }) => !known.has(`${name} ${about}`));
    return [...own, ...others, ...ready].filter(({ name, tags, about }) => {
      const text = [name, ...tags, about].join(' ').toLowerCase();
      return words.every((word) => text.includes(word));
    });
  });

  constructor() {
    const id = this.document.project()?.id;
    if (id !== undefined) void this.findElsewhere(id);
  }

  private async findElsewhere(id: string): Promise<void> {
    // Without them there is still all that is here.
    const found = await this.repository.presetsElsewhere(id).catch(() => []);
    const entries = found.flatMap(({ project, presets }) => presets.map((preset) => entryOf(preset, project)));
    // Projects may have the same name.
    this.elsewhere.set(entries.map((entry, index) => ({ ...entry, key: `elsewhere ${index}` })));
  }

  protected use({ name, steps }: Entry, add: boolean): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    const branch = this.workbench.branch();
    const place = { sound: sound.id, owner: this.workbench.owner(), ...(branch !== undefined && { branch }) };
    if (!this.document.edit('setChain', { ...place, name, steps, add })) return;
    this.workbench.selectStep(this.chain().at(-steps.length)?.id);
    this.notices.info(add ? `“${name}” added to “${this.ownerName()}”.` : `“${name}” is now the chain of “${this.ownerName()}”.`);
  }

  protected remove({ preset }: Entry): void {
    if (preset) this.document.edit('removePreset', { preset: preset.id });
  }

  protected async saveChain(): Promise<void> {
    await this.names.save(undefined, this.ownerName());
  }

  protected exportAll(): void {
    const name = `${safeFileName(this.document.project()?.name ?? 'presets')}-presets.json`;
    saveFile(new TextEncoder().encode(writePresets(this.saved())), name, 'application/json');
  }

  protected async importFile(input: HTMLInputElement): Promise<void> {
    const [file] = input.files ?? [];
    input.value = '';
    if (!file) return;
    try {
      const presets = readPresets(await file.text(), `“${file.name}”`, effectCatalogue);
      if (presets.length === 0) this.notices.error(`“${file.name}” holds no presets.`);
      else if (this.document.edit('importPresets', { presets })) this.notices.info(`${presets.length} presets imported.`);
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }
}
