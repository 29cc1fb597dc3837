import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatDividerModule } from '@angular/material/divider';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { EffectPreset, EffectStep, Preset } from '@tangled-choir/core';
import { effectsById, share, surprise, toggle } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { ProjectRepository } from '../../storage/project-repository';
import { AskSettings } from '../../ui/settings-dialog';
import { PresetNames } from './preset-names';

/** A step that was saved by itself. */
interface SavedStep extends EffectPreset {
  readonly mix: number;
  /** The project that has it, where that is another one. */
  readonly from: string | undefined;
}

/** Those presets that hold one step of an effect and no more; hosts are saved for their branches, not for their values. */
function savedSteps(presets: readonly Preset[], effect: string, from?: string): SavedStep[] {
  return presets.flatMap(({ name, chain }): SavedStep[] => {
    const [step] = chain;
    if (chain.length !== 1 || step?.effect !== effect || step.branches) return [];
    return [{ name, values: step.parameters, mix: step.mix, from }];
  });
}

const mostKept = 20;
const strength = share({ label: 'Strength', default: 0.5 });

/** The presets of one effect, behind a small arrow on its tile. */
@Component({
  selector: 'tc-step-presets',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatDividerModule, MatIconModule, MatMenuModule, MatTooltipModule],
  template: `
    <button
      class="open"
      [matMenuTriggerFor]="menu"
      [attr.aria-label]="'Presets of ' + label()"
      matTooltip="Presets"
      (click)="$event.stopPropagation()"
      (menuOpened)="findElsewhere()"
    >
      <mat-icon svgIcon="expand" />
    </button>
    <mat-menu #menu="matMenu">
      @for (preset of presets(); track preset.name) {
        <button mat-menu-item (click)="use(preset)">{{ preset.name }}</button>
      }
      <button mat-menu-item (click)="use({ name: 'Defaults', values: {} })">Defaults</button>
      @if (saved().length > 0) {
        <mat-divider />
        @for (entry of saved(); track entry.name) {
          <button mat-menu-item (click)="use(entry)">
            {{ entry.name }}
            @if (entry.from) {
              <span class="quiet"> · {{ entry.from }}</span>
            }
          </button>
        }
      }
      <mat-divider />
      <button mat-menu-item (click)="surprise()">Surprise me…</button>
      <button mat-menu-item (click)="names.save(step().id, label())">Save this step…</button>
    </mat-menu>
  `,
  styles: `
    .open {
      display: inline-flex;
      padding: 4px;
      border: 0;
      border-radius: 4px;
      background: none;
      color: var(--quiet);
      cursor: pointer;
    }
    .open:hover {
      background: var(--surface);
      color: var(--text);
    }
    mat-icon {
      width: 17px;
      height: 17px;
    }
  `,
})
export class StepPresets {
  readonly step = input.required<EffectStep>();
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly settings = inject(AskSettings);
  private readonly repository = inject(ProjectRepository);
  protected readonly names = inject(PresetNames);
  private readonly effect = computed(() => effectsById.get(this.step().effect));
  protected readonly label = computed(() => this.effect()?.label ?? this.step().effect);
  protected readonly presets = computed(() => this.effect()?.presets ?? []);
  /** Steps of this kind that were saved by themselves, here and in other projects of this browser. */
  private readonly elsewhere = signal<readonly SavedStep[]>([]);
  protected readonly saved = computed(() => {
    const own = savedSteps(this.document.project()?.presets ?? [], this.step().effect);
    // Of those of the same name the nearest one counts: this project's, then that of the project used last.
    return [...new Map([...own, ...this.elsewhere()].reverse().map((entry) => [entry.name, entry])).values()].reverse();
  });
  /** Every surprise has a seed of its own; they count up from a place that differs from visit to visit. */
  private readonly seed = signal(crypto.getRandomValues(new Uint32Array(1))[0]!);

  protected use({ name, values, mix }: EffectPreset & { readonly mix?: number }): void {
    const sound = this.workbench.sound();
    const place = { owner: this.workbench.owner(), step: this.step().id };
    if (sound) this.document.edit('setPreset', { sound: sound.id, ...place, name, values, ...(mix !== undefined && { mix }) });
  }

  protected async findElsewhere(): Promise<void> {
    const id = this.document.project()?.id;
    // Without them there is still all that is here.
    const found = id === undefined ? [] : await this.repository.presetsElsewhere(id).catch(() => []);
    this.elsewhere.set(found.flatMap(({ project, presets }) => savedSteps(presets, this.step().effect, project)));
  }

  protected async surprise(): Promise<void> {
    const effect = this.effect();
    if (!effect) return;
    // An effect with very many parameters is drawn anew as a whole.
    const all = Object.entries(effect.parameters).filter(([, { kind }]) => kind !== 'reference' && kind !== 'curve');
    const kept = all.length <= mostKept ? all : [];
    const keeps = Object.fromEntries(kept.map(([key, { label }]) => [`keep ${key}`, toggle(`Keep ${label.toLowerCase()}`, false)]));
    const chosen = await this.settings.ask({
      title: `Surprise me: ${effect.label}`,
      explain: `Draws new values for ${effect.label}, as far as its presets reach. Undo brings the old ones back.`,
      action: 'Draw',
      parameters: { strength, ...keeps },
    });
    if (!chosen) return;
    this.seed.update((seed) => seed + 1);
    const locked = new Set(kept.map(([key]) => key).filter((key) => chosen[`keep ${key}`] === true));
    const values = surprise(effect, this.step().parameters, { seed: this.seed(), strength: Number(chosen['strength']), locked });
    this.use({ name: 'Surprise', values });
  }
}
