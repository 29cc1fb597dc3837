import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import { PartlyHeard } from '../state/partly-heard';

/** Lit while something other than the whole sound is heard; names it, and ends it on a click. */
@Component({
  selector: 'tc-listening-lamp',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, MatTooltipModule],
  template: `
    @if (partly.texts().length > 0) {
      <button
        data-testid="listening-lamp"
        [attr.aria-label]="'Only partly heard: ' + text() + '. Hear everything'"
        [matTooltip]="text() + '. Only for listening: no file knows it. Click to hear everything'"
        (click)="partly.clear()"
      >
        <span class="lamp"></span><span class="text">{{ text() }}</span
        ><mat-icon svgIcon="close" />
      </button>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
    button {
      display: flex;
      flex: 0 1 auto;
      gap: 6px;
      align-items: center;
      min-width: 72px;
      max-width: 240px;
      height: 28px;
      padding: 0 4px 0 10px;
      border: 1px solid var(--warning);
      border-radius: 14px;
      background: color-mix(in srgb, var(--warning) 16%, transparent);
      color: var(--text);
      cursor: pointer;
    }
    .lamp {
      flex: none;
      width: 8px;
      height: 8px;
      border-radius: 50%;
      background: var(--warning);
    }
    .text {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    mat-icon {
      flex: none;
      width: 16px;
      height: 16px;
      font-size: 16px;
    }
  `,
})
export class ListeningLamp {
  protected readonly partly = inject(PartlyHeard);
  protected readonly text = computed(() => this.partly.texts().join(' · '));
}
