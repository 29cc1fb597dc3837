import { computed, inject, Injectable } from '@angular/core';
import { rememberedSolos, soloed } from '@tangled-choir/core';
import { DocumentStore } from './project/document.store';
import { Judging } from './judging.store';
import { WorkbenchStore } from './workbench.store';

/** Everything that makes something else than the whole sound heard. It is for listening alone: no render, print or file knows it. */
@Injectable()
export class PartlyHeard {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly judging = inject(Judging);

  /** What is soloed, in words; empty when nothing is. */
  readonly solo = computed(() => {
    const sound = this.workbench.sound();
    const names = sound ? soloed(sound).map(({ kind, name }) => (kind === 'branch' ? name : `“${name}”`)) : [];
    return names.length > 0 ? `Solo: ${names.join(', ')}` : '';
  });

  /** All of it, one phrase each. */
  readonly texts = computed((): readonly string[] => {
    const alone = this.judging.alone()?.what;
    const otherSide = this.judging.heard() === 'B' && !this.judging.blind() ? this.judging.otherSide() : undefined;
    return [
      this.solo(),
      alone === 'change' ? 'only what a step changes' : alone ? 'only what one band hears' : '',
      // What B is stands beside its switch.
      otherSide === undefined ? '' : 'B is heard',
    ].filter((text) => text !== '');
  });

  /** Lets everything be heard again. */
  clear(): void {
    this.clearSolos();
    this.judging.listen(undefined);
    this.judging.hear('A');
  }

  clearSolos(): void {
    const sound = this.workbench.sound();
    if (sound && rememberedSolos(sound).length > 0) this.document.edit('clearSolos', { sound: sound.id });
  }
}
