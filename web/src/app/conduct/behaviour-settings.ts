import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { BehaviourChange, BehaviourDial, GameBehaviour, NumberParameter } from '@tangled-choir/core';
import { behaviourDials, liesInEnd, playDials, slotDials, startingPlay } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { ChoiceField, namedOffers } from '../ui/choice-field';
import { NameField } from '../ui/name-field';
import type { ValueChange } from '../ui/value-field';
import { ValueField } from '../ui/value-field';
import { choices } from './behaviour-choices';
import { kindLabels, kindPurposes, kinds, wordsInEnd } from './behaviour-words';
import { ConductBench } from './conduct-bench';

type Kind = GameBehaviour['play']['kind'];

interface Dial {
  readonly key: string;
  readonly parameter: NumberParameter;
  readonly value: number;
}

/** Which dials stand together. */
const groups: readonly { readonly title: string; readonly dials: readonly BehaviourDial[] }[] = [
  { title: 'Heard', dials: ['gain', 'pitch', 'highCut'] },
  { title: 'At random', dials: ['gainSpread', 'pitchSpread', 'highCutSpread'] },
  { title: 'When', dials: ['delay', 'delaySpread', 'chance', 'coolDown'] },
  { title: 'Fades, voices', dials: ['fadeIn', 'fadeOut', 'voices', 'priority'] },
];

/** Ready amounts of chance. */
const amounts = [
  { name: 'None', gainSpread: 0, pitchSpread: 0, highCutSpread: 0 },
  { name: 'Slight', gainSpread: 0.8, pitchSpread: 0.4, highCutSpread: 0.1 },
  { name: 'Clear', gainSpread: 1.5, pitchSpread: 1, highCutSpread: 0.3 },
  { name: 'Bold', gainSpread: 3, pitchSpread: 3, highCutSpread: 0.8 },
] as const;

/** What the chosen behaviour does, how it is heard, and what it is within its parent. */
@Component({
  selector: 'tc-behaviour-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, NameField, ValueField],
  templateUrl: './behaviour-settings.html',
  styleUrl: './conduct-panel.scss',
})
export class BehaviourSettings {
  private readonly document = inject(DocumentStore);
  protected readonly bench = inject(ConductBench);
  protected readonly conduct = this.bench.conduct;
  protected readonly sounds = computed(() => namedOffers(this.document.project()?.sounds ?? [], 'none yet'));
  protected readonly parameters = computed(() => namedOffers(this.conduct()?.parameters ?? [], 'none yet'));
  protected readonly buses = computed(() => namedOffers(this.conduct()?.buses ?? [], 'as its parent'));
  protected readonly moods = computed(() => namedOffers(this.conduct()?.moods ?? [], 'none'));
  protected readonly loadGroups = computed(() => namedOffers(this.conduct()?.groups ?? [], 'none'));
  protected readonly choices = choices;
  protected readonly kinds = kinds.map((value) => ({ value, name: kindLabels[value] }));
  protected readonly kindLabels = kindLabels;
  protected readonly kindPurposes = kindPurposes;
  protected readonly amounts = amounts;

  protected readonly groups = computed(() => {
    const chosen = this.bench.chosen();
    if (!chosen) return [];
    return groups.map(({ title, dials }) => ({
      title,
      dials: dials.map((key): Dial => ({ key, parameter: behaviourDials[key], value: chosen[key] })),
    }));
  });
  /** The numbers of its kind. */
  protected readonly playDials = computed((): Dial[] => {
    const play = this.bench.chosen()?.play;
    if (!play) return [];
    const needsAvoid = play.kind === 'one' ? play.from === 'family' : play.kind === 'pick' && play.by !== 'parameter';
    return Object.entries(play).flatMap(([key, value]) => {
      const parameter = Object.entries(playDials).find(([name]) => name === key)?.[1];
      if (!parameter || typeof value !== 'number' || (key === 'avoid' && !needsAvoid)) return [];
      return [{ key, parameter, value }];
    });
  });

  /** What of its settings does not hold where it is. */
  protected readonly inEnd = computed(() => {
    const [chosen, conduct] = [this.bench.chosen(), this.conduct()];
    return chosen && conduct && liesInEnd(conduct, chosen) ? wordsInEnd(chosen.play) : undefined;
  });

  protected set(change: BehaviourChange, label: string, gesture?: string): void {
    const chosen = this.bench.chosen();
    if (chosen) this.document.edit('setBehaviour', { behaviour: chosen.id, change, label }, gesture);
  }

  protected turn({ key, parameter }: Dial, { value, gesture }: ValueChange): void {
    this.set({ [key]: value }, parameter.label, gesture);
  }

  protected turnPlay({ key, parameter }: Dial, { value, gesture }: ValueChange): void {
    const play = this.bench.chosen()?.play;
    // The dial is one of this kind's own.
    if (play) this.set({ play: { ...play, [key]: value } as GameBehaviour['play'] }, parameter.label, gesture);
  }

  protected choosePlay(key: string, value: string | boolean): void {
    const play = this.bench.chosen()?.play;
    // What is offered is what this kind can have.
    if (play) this.set({ play: { ...play, [key]: value } as GameBehaviour['play'] }, 'Choice');
  }

  protected setKind(kind: Kind): void {
    if (kind !== this.bench.chosen()?.play.kind) this.set({ play: startingPlay(kind) }, 'Kind');
  }

  protected setSlot(change: Partial<GameBehaviour['slot']>, gesture?: string): void {
    const slot = this.bench.chosen()?.slot;
    if (slot) this.set({ slot: { ...slot, ...change } }, 'Place', gesture);
  }

  protected setReference(key: 'bus' | 'mood' | 'group', value: string): void {
    this.set({ [key]: value === '' ? undefined : value }, { bus: 'Bus', mood: 'Mood', group: 'Load group' }[key]);
  }

  protected readonly weight = slotDials.weight;
  protected readonly offset = slotDials.offset;
}
