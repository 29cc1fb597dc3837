import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Clip, NumberParameter, StretchSettings } from '@tangled-choir/core';
import {
  attackParameter,
  beatsBetween,
  clipDuration,
  formantParameter,
  grainParameter,
  longestStretched,
  methodChoices,
  mostByOtherMethods,
  noteToFrequency,
  pitchParameter,
  speedParameter,
  stretchParameter,
  wearParameter,
} from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { PitchTracks } from '../../state/pitch-tracks.store';
import { StretchJudging } from '../../state/stretch-judging';
import { Turning } from '../../state/turning';
import { WorkbenchStore } from '../../state/workbench.store';
import type { ValueChange } from '../../ui/value-field';
import { ValueField } from '../../ui/value-field';
import { formatPitch } from '../../ui/pitch-line';
import { describeStrain, isStrained, remedyFor } from './strain-words';
import { stretchPicture } from './stretch-picture';
import { TuningCommands } from './tuning-commands';

const methodHints: Readonly<Record<Clip['method'], string>> = {
  auto: 'What suits the content by measurement',
  hits: 'Attacks stay where and as sharp as they are; the rest moves',
  tones: 'Partials keep their phases: voices, tones, drones',
  texture: 'Grains from around the moment: wind, gravel, rain',
  vast: 'Beds and drones, up to 200 times as long',
};

/** Length and pitch of the chosen clips, each by itself and both together. */
@Component({
  selector: 'tc-stretch-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatCheckboxModule, MatTooltipModule, ValueField],
  templateUrl: './stretch-panel.html',
  styleUrl: './stretch-panel.scss',
})
export class StretchPanel {
  /** The clip whose values are shown; all that are chosen are set. */
  readonly clip = input.required<Clip>();
  readonly address = input.required<string>();
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly judging = inject(StretchJudging);
  private readonly tracks = inject(PitchTracks);
  private readonly turning = inject(Turning);
  protected readonly tuning = inject(TuningCommands);

  protected readonly speedParameter = speedParameter;
  protected readonly stretchParameter = stretchParameter;
  protected readonly pitchParameter = pitchParameter;
  protected readonly formantParameter = formantParameter;
  protected readonly wearParameter = wearParameter;
  protected readonly grainParameter = grainParameter;
  protected readonly attackParameter = attackParameter;
  protected readonly methods = methodChoices.map((method) => ({ method, hint: methodHints[method] }));

  /** Who pulls at the clip, and how far. */
  protected readonly pulls = computed(() => {
    const { pitch, formant, wear } = this.clip();
    const dial = (key: string, value: number, parameter: NumberParameter) =>
      this.turning.pulledDial(`${this.address()}/${key}`, value, parameter);
    return {
      pitch: dial('pitch', pitch, pitchParameter),
      formant: dial('formant', formant, formantParameter),
      wear: dial('wear', wear, wearParameter),
    };
  });
  protected readonly duration = computed(() => clipDuration(this.clip()));
  protected readonly lengthParameter = computed((): NumberParameter => {
    const own = this.duration() / this.clip().stretch;
    const { min, max } = stretchParameter;
    return {
      kind: 'number',
      label: 'Lasts',
      unit: 's',
      min: own * min,
      max: Math.min(longestStretched, own * max),
      default: own,
      scale: 'log',
    };
  });
  protected readonly picture = computed(() => stretchPicture(this.clip()));
  /** Above four times every method is the one for vast stretches. */
  protected readonly vast = computed(() => this.clip().method === 'vast' || this.clip().stretch > mostByOtherMethods);
  protected readonly grainy = computed(() => this.vast() || this.clip().method === 'texture' || this.chosen()?.method === 'texture');
  private readonly chosen = computed(() => this.judging.choiceFor(this.clip()));
  protected readonly reason = computed(() => {
    if (this.vast() && this.clip().method !== 'vast') return `Above ${mostByOtherMethods} times: vast`;
    const choice = this.clip().method === 'auto' ? this.chosen() : undefined;
    if (!choice) return '';
    const attacks = choice.attacks === 0 ? 'no attacks' : `${choice.attacks.toFixed(1)} attacks a second`;
    return `Auto: ${choice.method} (${attacks}, ${Math.round(choice.tonal * 100)} % tone)`;
  });

  /** The pitch that is heard, and how fast it beats against the other chosen clip. */
  protected readonly heard = computed(() => {
    const note = this.tracks.noteOf(this.clip());
    if (note === undefined) return this.tracks.isKnown(this.clip()) ? 'no single pitch' : 'listening…';
    return formatPitch(note);
  });
  protected readonly beats = computed(() => {
    const [one, other, ...more] = this.workbench.selectedClips();
    if (!one || !other || more.length > 0) return '';
    const [first, second] = [this.tracks.noteOf(one.clip), this.tracks.noteOf(other.clip)];
    if (first === undefined || second === undefined) return '';
    const beating = beatsBetween(noteToFrequency(first), noteToFrequency(second));
    if (!beating) return 'The two are at no simple interval.';
    return `The two beat ${beating.rate.toFixed(beating.rate < 1 ? 2 : 1)} times a second at ${beating.interval.join(':')}.`;
  });

  /** What the stretch did to the clip, where that is audible, and what would help. */
  protected readonly strain = computed(() => {
    const strain = this.judging.strainOf(this.clip());
    if (!isStrained(strain)) return undefined;
    return { text: describeStrain(strain), amount: strain.amount, remedy: remedyFor(strain, this.clip(), this.chosen()) };
  });

  protected set(settings: StretchSettings, gesture?: string): void {
    this.document.edit('stretchClips', { sound: this.sound, clips: this.ids, settings }, gesture);
  }

  protected setSpeed({ value, gesture }: ValueChange): void {
    this.document.edit(
      'setValues',
      { sound: this.sound, values: { [`${this.address()}/speed`]: value }, label: 'Speed of a clip' },
      gesture,
    );
  }

  protected setLength({ value, gesture }: ValueChange): void {
    const to = this.workbench.selectedClips().map(({ clip }) => ({ clip: clip.id, from: clip.start, to: clip.start + value }));
    this.document.edit('stretchBetween', { sound: this.sound, to }, gesture);
  }

  private get sound(): string {
    return this.workbench.sound()!.id;
  }

  private get ids(): string[] {
    return this.workbench.selectedClips().map(({ clip }) => clip.id);
  }
}
