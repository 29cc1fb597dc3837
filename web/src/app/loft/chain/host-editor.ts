import type { CdkDragDrop } from '@angular/cdk/drag-drop';
import { DragDropModule } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Branch, EffectStep } from '@tangled-choir/core';
import { branchAddress, branchName, branchParameters, effectCatalogue, effectsById } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';
import { NameField } from '../../ui/name-field';
import type { ValueChange } from '../../ui/value-field';
import { newGesture, ValueField } from '../../ui/value-field';
import { ParameterList } from '../editors/parameter-list';
import { StepValues } from '../editors/step-values';
import type { WantedEffect } from './effect-menu';
import { EffectMenu } from './effect-menu';
import { formatSplit, SplitGraph } from './split-graph';

type BranchKey = keyof typeof branchParameters;

/** The editor of a host: its branches one below the other, each with its fader and its chain; bands above a graph of their splits. */
@Component({
  selector: 'tc-host-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DragDropModule, EffectMenu, MatIconModule, MatTooltipModule, NameField, ParameterList, SplitGraph, ValueField],
  templateUrl: './host-editor.html',
  styleUrl: './host-editor.scss',
})
export class HostEditor {
  readonly step = input.required<EffectStep>();
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly turning = inject(Turning);
  private readonly values = inject(StepValues);
  protected readonly host = computed(() => effectsById.get(this.step().effect)?.host);
  /** What one of the branches is called. */
  protected readonly noun = computed(() => this.host()?.branch ?? 'branch');
  protected readonly hasSplits = computed(() => this.step().effect === 'bands');
  protected readonly branches = computed(() => this.step().branches ?? []);
  protected readonly splits = computed(() => {
    const values = this.values.read(this.step());
    return this.branches()
      .slice(1)
      .map((_, index) => Number(values[`split${index + 1}`]));
  });
  protected readonly keys = computed(() => [...this.splits().map((_, index) => `split${index + 1}`), 'mix']);
  /** Bands are listed as they lie: the highest on top. */
  protected readonly rows = computed(() => {
    const rows = this.branches().map((branch, index) => ({
      branch,
      name: branchName(this.step(), branch, effectCatalogue),
      range: this.rangeOf(index),
      faders: this.fadersOf(branch),
    }));
    return this.hasSplits() ? rows.toReversed() : rows;
  });
  protected readonly canAdd = computed(() => this.branches().length < (this.host()?.most ?? 0));
  protected readonly canRemove = computed(() => this.branches().length > (this.host()?.least ?? 0));

  private rangeOf(index: number): string {
    if (!this.hasSplits()) return '';
    const splits = this.splits();
    if (index === 0) return `up to ${formatSplit(splits[0]!)}`;
    if (index === splits.length) return `from ${formatSplit(splits.at(-1)!)}`;
    return `${formatSplit(splits[index - 1]!)} to ${formatSplit(splits[index]!)}`;
  }

  private fadersOf(branch: Branch) {
    const keys: readonly BranchKey[] = this.hasSplits() ? ['gain', 'pan'] : ['gain', 'pan', 'delay'];
    return keys.map((key) => {
      const address = branchAddress(this.workbench.owner(), branch.id, key);
      const parameter = branchParameters[key];
      const value = this.turning.valueNow(address, branch[key], parameter);
      const pulledBy = this.turning.pulledBy(address);
      const moved = [this.turning.laneOf(address) ? 'Automated' : '', pulledBy.length > 0 ? `Pulled by ${pulledBy.join(', ')}` : ''];
      const heard = pulledBy.length > 0 ? this.turning.heardNow(address, branch[key], parameter) : undefined;
      const reach = this.turning.reachOf(address, branch[key], parameter);
      return { key, address, parameter, value, heard, reach, moved: moved.filter(Boolean).join('. ') };
    });
  }

  protected labelOf(step: EffectStep): string {
    return effectsById.get(step.effect)?.label ?? step.effect;
  }

  protected setSplit({ index, frequency, gesture }: { index: number; frequency: number; gesture?: string }): void {
    this.values.set(this.step(), { [`split${index + 1}`]: frequency }, gesture);
  }

  protected turn(address: string, name: string, { value, gesture }: ValueChange): void {
    this.turning.turn({ [address]: value }, `${name} of ${this.labelOf(this.step())}`, gesture);
  }

  protected change(branch: Branch, changes: Partial<Pick<Branch, 'name' | 'muted' | 'soloed'>>): void {
    this.document.edit('setBranch', { ...this.place, branch: branch.id, changes });
  }

  protected addBranch(): void {
    this.document.edit('addBranch', { ...this.place, step: this.step().id });
  }

  protected remove(branch: Branch): void {
    this.document.edit('removeBranch', { ...this.place, branch: branch.id });
  }

  protected open(branch: Branch, step?: EffectStep): void {
    this.workbench.openBranch(branch.id, step?.id);
  }

  /** Adds an effect to a branch and opens it there. */
  protected add(branch: Branch, { effect, preset }: WantedEffect): void {
    const gesture = newGesture();
    if (!this.document.edit('addEffect', { ...this.place, branch: branch.id, effect }, gesture)) return;
    this.workbench.openBranch(branch.id);
    const step = this.workbench.chain().at(-1);
    this.workbench.selectStep(step?.id);
    if (step && preset)
      this.document.edit('setPreset', { ...this.place, step: step.id, name: preset.name, values: preset.values }, gesture);
  }

  protected drop({ item, container, currentIndex }: CdkDragDrop<Branch, Branch, EffectStep>): void {
    this.document.edit('moveEffect', { ...this.place, step: item.data.id, index: currentIndex, into: { branch: container.data.id } });
  }

  private get place() {
    return { sound: this.workbench.sound()?.id ?? '', owner: this.workbench.owner() };
  }
}
