import { afterNextRender, ChangeDetectionStrategy, Component, ElementRef, inject, Injector, input, output, signal } from '@angular/core';

/** A name that becomes a text field on double click, F2 or Enter. */
@Component({
  selector: 'tc-name',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (editing()) {
      <input
        #field
        [value]="name()"
        [attr.aria-label]="label()"
        maxlength="300"
        (keydown)="key($event, field.value)"
        (blur)="commit(field.value)"
      />
    } @else {
      <span
        class="name"
        tabindex="0"
        role="button"
        [attr.aria-label]="label() + ': ' + name() + ', Enter renames'"
        [title]="name()"
        (dblclick)="start()"
        (keydown)="keyOnName($event)"
        >{{ name() }}</span
      >
    }
  `,
  styles: `
    :host {
      display: inline-flex;
      min-width: 0;
    }
    .name {
      overflow: hidden;
      border-radius: 3px;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    input {
      width: 100%;
      min-width: 60px;
      height: 22px;
      padding: 0 4px;
      border: 1px solid var(--live);
      border-radius: 3px;
      background: var(--background);
      outline: none;
    }
  `,
})
export class NameField {
  readonly name = input.required<string>();
  readonly label = input('Name');
  readonly renamed = output<string>();
  protected readonly editing = signal(false);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly injector = inject(Injector);

  start(): void {
    this.editing.set(true);
    const take = (): void => {
      const field = this.host.nativeElement.querySelector('input');
      field?.focus();
      field?.select();
    };
    // A menu that this was chosen from gives the focus back first.
    afterNextRender({ write: take }, { injector: this.injector });
  }

  protected keyOnName(event: KeyboardEvent): void {
    if (event.key !== 'Enter' && event.key !== 'F2') return;
    event.preventDefault();
    event.stopPropagation();
    this.start();
  }

  protected key(event: KeyboardEvent, text: string): void {
    event.stopPropagation();
    if (event.key === 'Enter') this.commit(text);
    if (event.key === 'Escape') this.editing.set(false);
  }

  protected commit(text: string): void {
    if (!this.editing()) return;
    this.editing.set(false);
    if (text.trim() && text !== this.name()) this.renamed.emit(text);
  }
}
