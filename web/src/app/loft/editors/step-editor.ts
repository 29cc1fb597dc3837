import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { EffectStep } from '@tangled-choir/core';
import { effectsById } from '@tangled-choir/core';
import { LiveEngine } from '../../engine/live/live-engine';
import { formatLevel, signed } from '../../ui/quantity';
import { ChangeBars } from './change-bars';
import { EffectPicture } from './effect-picture';
import { OutputMatch } from './output-match';
import { ParameterList } from './parameter-list';
import { ResponsePicture } from './response-picture';

/** The editor of every effect that has none of its own: what it is for, what it changes right now, and its parameters. */
@Component({
  selector: 'tc-step-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChangeBars, EffectPicture, OutputMatch, ParameterList, ResponsePicture],
  templateUrl: './step-editor.html',
  styleUrl: './step-editor.scss',
})
export class StepEditor {
  readonly step = input.required<EffectStep>();
  private readonly engine = inject(LiveEngine);
  protected readonly purpose = computed(() => effectsById.get(this.step().effect)?.purpose ?? '');
  protected readonly pictured = computed(
    () => this.step().effect === 'convolution' || effectsById.get(this.step().effect)?.picture !== undefined,
  );
  protected readonly reading = computed(() => this.engine.meters()?.changes.get(this.step().id));
  protected readonly told = computed(() => {
    const reading = this.reading();
    if (!reading) return 'Play to see what it changes.';
    const level = Math.abs(reading.gain) < 0.05 ? 'level stays' : `${signed(reading.gain, 1)} dB in level`;
    return reading.audible ? `${formatLevel(reading.residual, 'dB')} of change, ${level}` : `No audible change, ${level}`;
  });
}
