import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDividerModule } from '@angular/material/divider';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule, MatMenuTrigger } from '@angular/material/menu';
import type { EffectPreset } from '@tangled-choir/core';
import { effectFamilies, effects, effectsById, searchEffects } from '@tangled-choir/core';
import { LastEffects } from './last-effects';

/** An effect that somebody wants, with one of its presets or with its defaults. */
export interface WantedEffect {
  readonly effect: string;
  readonly preset?: EffectPreset;
}

const mostFound = 9;

/** A button that offers all effects: found by typing a name, a purpose or a word of the trade, the last used, or family by family. */
@Component({
  selector: 'tc-effect-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDividerModule, MatIconModule, MatMenuModule],
  templateUrl: './effect-menu.html',
  styleUrl: './effect-menu.scss',
})
export class EffectMenu {
  readonly label = input('Add an effect');
  readonly disabled = input(false);
  /** Shows its icon alone. */
  readonly small = input(false);
  readonly chosen = output<WantedEffect>();
  private readonly last = inject(LastEffects);
  private readonly trigger = viewChild.required(MatMenuTrigger);
  private readonly search = viewChild<ElementRef<HTMLInputElement>>('search');
  protected readonly families = effectFamilies.map((name) => ({ name, effects: effects.filter(({ family }) => family === name) }));
  protected readonly query = signal('');
  protected readonly latest = computed(() => this.last.latest().flatMap((id) => effectsById.get(id) ?? []));
  protected readonly found = computed(() => (this.query().trim() === '' ? [] : searchEffects(this.query()).slice(0, mostFound)));

  protected opened(): void {
    this.query.set('');
    const field = this.search()?.nativeElement;
    if (!field) return;
    field.value = '';
    // Behind the menu, which takes the focus for its first item.
    setTimeout(() => field.focus());
  }

  /** Letters belong to the field, not to the menu; arrows lead into the list, Enter takes the first. */
  protected key(event: KeyboardEvent): void {
    if (event.key === 'Escape' || event.key === 'Tab') return;
    event.stopPropagation();
    if (event.key === 'ArrowDown') {
      event.preventDefault();
      const menu = event.currentTarget instanceof HTMLElement ? event.currentTarget.closest('.mat-mdc-menu-panel') : null;
      menu?.querySelector<HTMLElement>('[mat-menu-item]')?.focus();
    } else if (event.key === 'Enter') {
      // The button that gets the focus back would take it as a press.
      event.preventDefault();
      const [first] = this.found();
      if (!first) return;
      this.use({ effect: first.effect.id });
      this.trigger().closeMenu();
    }
  }

  protected use(wanted: WantedEffect): void {
    this.last.use(wanted.effect);
    this.chosen.emit(wanted);
  }
}
