import { ChangeDetectionStrategy, Component } from '@angular/core';

/** Three voices that cross: the sign of Tangled Choir. */
@Component({
  selector: 'tc-brand',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg viewBox="0 0 32 32" width="26" height="26" aria-hidden="true">
    <g fill="none" stroke-width="2.6" stroke-linecap="round">
      <path d="M4 11c7 0 8 10 12 10s5-10 12-10" class="first" />
      <path d="M4 21c7 0 8-10 12-10s5 10 12 10" class="second" />
      <path d="M4 16c6-9 10 9 14 0 3-6 6-3 10 0" class="third" />
    </g>
  </svg>`,
  styles: `
    :host {
      display: inline-flex;
    }
    .first {
      stroke: var(--live);
    }
    .second {
      stroke: var(--role-air);
    }
    .third {
      stroke: var(--role-tail);
    }
  `,
})
export class BrandMark {}
