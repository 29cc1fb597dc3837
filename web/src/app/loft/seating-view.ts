import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import type { MaskedPair, Seating } from '@tangled-choir/core';
import { gainParameter, guideLayerId, seatingBands, withGuide } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Judging } from '../state/judging.store';
import { SeatingChart } from '../state/seating-chart.store';
import { Turning } from '../state/turning';
import { WorkbenchStore } from '../state/workbench.store';
import { ChoiceField, sourceOffers } from '../ui/choice-field';
import { RoleGlyph } from '../ui/role-glyph';
import { roleColour } from '../ui/roles';

/** Levels from here to the loudest cell are drawn. */
const shownRange = 48;
const mostFindings = 6;
const cutBy = -5;
const liftBy = 3;
const hiddenFrom = 0.5;

interface Finding {
  readonly key: string;
  readonly masker: string;
  readonly masked: string;
  readonly band: string;
  readonly pair: MaskedPair;
  readonly maskerFixed: boolean;
  readonly maskedFixed: boolean;
}

/** Which band every layer occupies, which of them hide each other, which bands are empty, and what can be done. */
@Component({
  selector: 'tc-seating-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatIconModule, RoleGlyph],
  templateUrl: './seating-view.html',
  styleUrl: './seating-view.scss',
})
export class SeatingView {
  protected readonly chart = inject(SeatingChart);
  protected readonly workbench = inject(WorkbenchStore);
  private readonly document = inject(DocumentStore);
  private readonly judging = inject(Judging);
  private readonly turning = inject(Turning);
  protected readonly applied = signal(false);

  protected readonly ticks = [31.5, 63, 125, 250, 500, 1_000, 2_000, 4_000, 8_000, 16_000].map((frequency) => ({
    at: ((16.5 + 3 * Math.log2(frequency / 1_000)) / seatingBands.length) * 100,
    text: frequency >= 1_000 ? `${frequency / 1_000}k` : String(frequency),
  }));
  protected readonly rangeText = computed(() => {
    const { from, to } = this.chart.range();
    return `${from.toFixed(1)}–${to.toFixed(1)} s`;
  });
  private readonly loudest = computed(() => Math.max(-60, ...(this.chart.seating()?.sum ?? [])));

  /** The layers, and the guide as it stands among them. */
  private readonly seated = computed(() => {
    const project = this.document.project();
    const sound = this.workbench.sound();
    return project && sound ? withGuide(sound, project).layers : [];
  });
  protected readonly guide = computed(() => this.workbench.sound()?.guide?.source ?? '');
  protected readonly sources = computed(() => sourceOffers(this.document.project()?.sources ?? [], 'none'));

  protected readonly rows = computed(() => {
    const seating = this.chart.seating();
    const layers = this.seated();
    const pairs = seating?.pairs ?? [];
    const rows = layers.flatMap((layer) => {
      const seat = seating?.layers.find((each) => each.layer === layer.id);
      if (!seat || !seating) return [];
      const hiddenBy = [...new Set(pairs.filter((pair) => pair.masked === layer.id).map((pair) => this.nameOf(pair.masker)))];
      return [
        {
          id: layer.id,
          name: layer.name,
          role: layer.role,
          guide: layer.id === guideLayerId,
          colour: layer.id === guideLayerId ? 'var(--live)' : roleColour(layer.role),
          chosen: this.workbench.layer()?.id === layer.id,
          register: seat.register,
          told: `${layer.name}${hiddenBy.length > 0 ? `, partly covered by ${hiddenBy.join(', ')}` : ', heard'}`,
          cells: seat.levels.map((level, band) => ({ height: this.heightOf(level), hidden: seat.masked[band]! >= hiddenFrom })),
        },
      ];
    });
    // The lowest register sits at the bottom.
    return rows.sort((a, b) => b.register - a.register);
  });

  protected readonly sum = computed(() => {
    const seating = this.chart.seating();
    return (seating?.sum ?? []).map((level, band) => ({ height: this.heightOf(level), gap: isGap(seating!, band) }));
  });

  protected readonly findings = computed((): Finding[] =>
    (this.chart.seating()?.pairs ?? []).slice(0, mostFindings).map((pair) => ({
      key: `${pair.masker} ${pair.masked} ${pair.from}`,
      masker: this.nameOf(pair.masker),
      masked: this.nameOf(pair.masked),
      band: bandText(pair),
      pair,
      // What stands for the guide is no layer that could be changed.
      maskerFixed: pair.masker === guideLayerId,
      maskedFixed: pair.masked === guideLayerId,
    })),
  );
  protected readonly gaps = computed(() => (this.chart.seating()?.gaps ?? []).map(bandText));

  protected cut({ pair }: Finding): void {
    this.remember();
    this.document.edit('makeRoom', { sound: this.workbench.sound()!.id, layer: pair.masker, band: pair, gain: cutBy });
  }

  protected duck({ pair }: Finding): void {
    this.remember();
    this.document.edit('duckUnder', { sound: this.workbench.sound()!.id, layer: pair.masker, key: pair.masked, band: pair });
  }

  protected lift({ pair }: Finding): void {
    const layer = this.workbench.sound()?.layers.find(({ id }) => id === pair.masked);
    if (!layer) return;
    this.remember();
    const address = `layer/${layer.id}/gain`;
    const gain = this.turning.valueNow(address, layer.gain, gainParameter) + liftBy;
    this.turning.turn({ [address]: gain }, `Lift “${layer.name}”`, undefined);
  }

  protected raise({ pair }: Finding): void {
    this.remember();
    this.document.edit('transposeLayer', { sound: this.workbench.sound()!.id, layer: pair.masked, semitones: 12 });
  }

  protected setGuide(source: string): void {
    this.document.edit('setGuide', { sound: this.workbench.sound()!.id, source: source || undefined });
  }

  /** A remedy is judged against how it was. */
  private remember(): void {
    this.judging.remember();
    this.applied.set(true);
  }

  private nameOf(id: string): string {
    return this.seated().find((layer) => layer.id === id)?.name ?? '';
  }

  private heightOf(level: number): number {
    return Math.max(0, Math.min(100, ((level - this.loudest() + shownRange) / shownRange) * 100));
  }
}

function isGap({ gaps }: Seating, band: number): boolean {
  const frequency = seatingBands[band]!;
  return gaps.some(({ from, to }) => frequency > from && frequency < to);
}

function bandText({ from, to }: { readonly from: number; readonly to: number }): string {
  const text = (frequency: number): string => {
    const rounded = Number(frequency.toPrecision(2));
    return rounded >= 1_000 ? `${rounded / 1_000}k` : String(rounded);
  };
  return `${text(from)}–${text(to)} Hz`;
}
