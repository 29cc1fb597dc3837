import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatDividerModule } from '@angular/material/divider';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import { comparisons, Judging } from '../state/judging.store';
import { WorkbenchStore } from '../state/workbench.store';
import { signed } from '../ui/quantity';

/** Two versions of the sound at the same loudness, and the gain that makes them so. */
@Component({
  selector: 'tc-even-compare',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatDividerModule, MatIconModule, MatMenuModule, MatTooltipModule],
  templateUrl: './even-compare.html',
  styleUrl: './even-compare.scss',
})
export class EvenCompareControl {
  protected readonly judging = inject(Judging);
  private readonly workbench = inject(WorkbenchStore);
  protected readonly comparisons = comparisons;
  protected readonly possible = computed(() => this.workbench.sound() !== undefined);
  protected readonly sides = computed(() => {
    const blind = this.judging.blind();
    if (!blind) return [{ name: 'A', which: 'A' } as const, { name: 'B', which: 'B' } as const];
    const second = blind.first === 'A' ? 'B' : 'A';
    return [{ name: '1', which: blind.first } as const, { name: '2', which: second } as const];
  });
  /** Which side is lowered, and by how much; it would give the sides away while they are hidden. */
  protected readonly gain = computed(() => {
    const gain = this.judging.gain();
    if (this.judging.blind()) return 'blind';
    if (gain === undefined) return 'A = B …';
    return gain > 0 ? `A ${signed(-gain, 1)} dB` : `B ${signed(gain, 1)} dB`;
  });
  protected readonly explanation = computed(
    () => `B: ${this.judging.otherSide() ?? ''}. The louder side is lowered by this much, so that both are as loud.`,
  );
}
