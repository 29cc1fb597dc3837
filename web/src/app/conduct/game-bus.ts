import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { GameBusSettings, GamePartChange } from '@tangled-choir/core';
import { busDials, compressorDials, goesInCircle, roomDials, startingCompressor, startingRoom } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import type { Offer } from '../ui/choice-field';
import { ChoiceField, namedOffers } from '../ui/choice-field';
import { NameField } from '../ui/name-field';
import type { ValueChange } from '../ui/value-field';
import { ValueField } from '../ui/value-field';
import { typedDial } from './typed-dial';

type BusChange = Extract<GamePartChange, { readonly part: 'buses' }>['change'];

const gain = typedDial('Level', 'dB', -96, 24, 0);
const duckDials = {
  depth: typedDial('By', 'dB', -96, 0, -9),
  attack: typedDial('Within', 's', 0, 10, 0.1),
  release: typedDial('Back in', 's', 0, 30, 0.5),
} as const;

/** A bus of the game: its level, its cuts, what it goes into, the room around it, its compressor, and under what it goes down. */
@Component({
  selector: 'tc-game-bus',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, NameField, ValueField],
  templateUrl: './game-bus.html',
  styleUrls: ['./conduct-panel.scss', './game-bus.scss'],
})
export class GameBusRow {
  readonly bus = input.required<GameBusSettings>();
  readonly buses = input.required<readonly GameBusSettings[]>();
  private readonly document = inject(DocumentStore);
  protected readonly gain = gain;
  protected readonly cuts = (['lowCut', 'highCut'] as const).map((key) => ({ key, parameter: busDials[key] }));
  protected readonly roomDials = (['decay', 'high', 'size', 'share'] as const).map((key) => ({ key, parameter: roomDials[key] }));
  protected readonly compressorDials = (['threshold', 'ratio', 'attack', 'release', 'gain'] as const).map((key) => ({
    key,
    parameter: compressorDials[key],
  }));
  protected readonly duckDials = (['depth', 'attack', 'release'] as const).map((key) => ({ key, parameter: duckDials[key] }));
  protected readonly heard: readonly Offer<boolean>[] = [
    { value: false, name: 'yes' },
    { value: true, name: 'muted' },
  ];
  private readonly others = computed(() => this.buses().filter(({ id }) => id !== this.bus().id));
  /** Buses that it can go into without coming back to itself. */
  protected readonly targets = computed(() => {
    const free = this.others().filter(({ id }) => {
      const into = { ...this.bus(), into: id };
      return !goesInCircle([...this.others(), into], into);
    });
    return namedOffers(free, 'all');
  });
  protected readonly duckers = computed(() => namedOffers(this.others(), 'nothing'));

  protected set(change: BusChange, gesture?: string): void {
    this.document.edit('setGamePart', { id: this.bus().id, part: 'buses', change }, gesture);
  }

  protected remove(): void {
    this.document.edit('removeGamePart', { part: 'buses', id: this.bus().id });
  }

  protected setCut(key: keyof typeof busDials, { value, gesture }: ValueChange): void {
    this.set({ [key]: value }, gesture);
  }

  protected toggleRoom(): void {
    this.set({ room: this.bus().room ? undefined : startingRoom });
  }

  protected turnRoom(key: keyof typeof roomDials, { value, gesture }: ValueChange): void {
    const { room } = this.bus();
    if (room) this.set({ room: { ...room, [key]: value } }, gesture);
  }

  protected toggleCompressor(): void {
    this.set({ compressor: this.bus().compressor ? undefined : startingCompressor });
  }

  protected turnCompressor(key: keyof typeof compressorDials, { value, gesture }: ValueChange): void {
    const { compressor } = this.bus();
    if (compressor) this.set({ compressor: { ...compressor, [key]: value } }, gesture);
  }

  protected setDuck(under: string): void {
    const { depth, attack, release } = duckDials;
    const first = { depth: depth.default, attack: attack.default, release: release.default };
    this.set({ duck: under === '' ? undefined : { ...first, ...this.bus().duck, under } });
  }

  protected turnDuck(key: keyof typeof duckDials, { value, gesture }: ValueChange): void {
    const { duck } = this.bus();
    if (duck) this.set({ duck: { ...duck, [key]: value } }, gesture);
  }
}
