import { computed, inject, Injectable } from '@angular/core';
import type { EffectStep } from '@tangled-choir/core';
import { effectsById } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Notices } from '../../state/notices';
import { WorkbenchStore } from '../../state/workbench.store';

/** Copies steps of the open chain with what moves them, and pastes them into whatever chain is open then. */
@Injectable()
export class StepCopies {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly notices = inject(Notices);

  /** How many steps could be pasted. */
  readonly count = computed(() => {
    const clipboard = this.workbench.clipboard();
    return clipboard?.kind === 'steps' ? clipboard.steps.steps.length : 0;
  });

  copy(steps: readonly EffectStep[]): void {
    const from = this.workbench.sound();
    if (!from || steps.length === 0) return;
    this.workbench.setClipboard({ kind: 'steps', steps: { from, owner: this.workbench.owner(), steps } });
    const what =
      steps.length === 1 ? `${effectsById.get(steps[0]!.effect)?.label ?? 'The step'} is copied` : `${steps.length} steps are copied`;
    this.notices.info(`${what}; Ctrl V on a step of any chain pastes behind it.`);
  }

  /** Pastes what was copied into the open chain, from `index` on or at its end, and opens its first step. */
  paste(index = this.workbench.chain().length): void {
    const clipboard = this.workbench.clipboard();
    if (clipboard?.kind === 'steps') this.insert(clipboard.steps.steps, index);
  }

  /** A copy of a step right behind it. The clipboard stays what it is. */
  duplicate(step: EffectStep): void {
    this.insert([step], this.workbench.chain().indexOf(step) + 1);
  }

  private insert(steps: readonly EffectStep[], index: number): void {
    const sound = this.workbench.sound();
    const clipboard = this.workbench.clipboard();
    if (!sound) return;
    const pasting = clipboard?.kind === 'steps' && clipboard.steps.steps === steps;
    const copied = pasting ? clipboard.steps : { from: sound, owner: this.workbench.owner(), steps };
    const branch = this.workbench.branch();
    const place = { sound: sound.id, owner: this.workbench.owner(), ...(branch !== undefined && { branch }) };
    if (this.document.edit('pasteSteps', { ...place, copied, index })) this.workbench.selectStep(this.workbench.chain()[index]?.id);
  }
}
