import { computed, inject, Injectable, signal } from '@angular/core';
import type { Source } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { WorkbenchStore } from '../state/workbench.store';

/** Which sources are chosen in Gather: the one that is looked at, and with Ctrl and Shift more. */
@Injectable()
export class SourceChoice {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly ids = signal<ReadonlySet<string>>(new Set());
  /** Where a stretch begins that Shift chooses. */
  private anchor: string | undefined;

  /** Those that are chosen beside each other, in the order of the project; fewer than two are none. */
  readonly several = computed((): readonly Source[] => {
    const ids = this.ids();
    const found = ids.size > 1 ? (this.document.project()?.sources ?? []).filter(({ id }) => ids.has(id)) : [];
    return found.length > 1 ? found : [];
  });
  readonly isChosen = computed((): ReadonlySet<string> => new Set(this.several().map(({ id }) => id)));

  /** Chooses by a press in a list: alone, with Ctrl one more or one less, with Shift all up to it. */
  press(list: readonly Source[], source: Source, { shiftKey, ctrlKey, metaKey }: MouseEvent | KeyboardEvent): void {
    if (shiftKey) this.reach(list, source);
    else if (ctrlKey || metaKey) this.toggle(source);
    else this.only(source);
  }

  /** Chooses one and no other. */
  only({ id }: Source): void {
    this.anchor = id;
    this.ids.set(new Set());
    this.workbench.selectSource(id);
  }

  /** Looks at one that got the focus by a key. A press gives the focus, too, before it says what it means. */
  focus({ target }: FocusEvent, source: Source): void {
    if (!(target instanceof Element) || !target.matches(':focus-visible')) return;
    if (this.several().length === 0) this.anchor = source.id;
    this.workbench.selectSource(source.id);
  }

  all(list: readonly Source[]): void {
    this.ids.set(new Set(list.map(({ id }) => id)));
  }

  /** Leaves the one that is looked at. */
  clear(): void {
    this.ids.set(new Set());
  }

  private toggle({ id }: Source): void {
    const first = this.anchor ?? this.workbench.source()?.id;
    const ids = new Set(this.ids().size > 0 ? this.ids() : first === undefined ? [] : [first]);
    if (ids.has(id) && ids.size > 1) ids.delete(id);
    else ids.add(id);
    this.anchor = id;
    this.ids.set(ids);
    this.workbench.selectSource(ids.has(id) ? id : [...ids].at(-1));
  }

  private reach(list: readonly Source[], source: Source): void {
    const from = list.findIndex(({ id }) => id === (this.anchor ?? this.workbench.source()?.id));
    const to = list.indexOf(source);
    if (to < 0) return;
    this.anchor = list[Math.max(0, from)]?.id;
    const [first, last] = from < 0 ? [to, to] : [Math.min(from, to), Math.max(from, to)];
    this.ids.set(new Set(list.slice(first, last + 1).map(({ id }) => id)));
    this.workbench.selectSource(source.id);
  }
}
