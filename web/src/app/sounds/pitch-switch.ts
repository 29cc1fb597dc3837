import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import { PitchTracks } from '../state/pitch-tracks.store';

/** Draws the pitch over clips and sources, or leaves it out. */
@Component({
  selector: 'tc-pitch-switch',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatTooltipModule],
  template: `
    <button
      mat-icon-button
      aria-label="Draw the pitch"
      [attr.aria-pressed]="tracks.shown()"
      [class.on]="tracks.shown()"
      [matTooltip]="'Draw the pitch (' + key() + ')'"
      (click)="tracks.shown.set(!tracks.shown())"
    >
      <mat-icon svgIcon="pitch" />
    </button>
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class PitchSwitch {
  /** What does the same here. */
  readonly key = input.required<string>();
  protected readonly tracks = inject(PitchTracks);
}
