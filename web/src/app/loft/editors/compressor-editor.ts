import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import type { EffectStep } from '@tangled-choir/core';
import { automaticMakeUp, compressorCurve, upwardCurve } from '@tangled-choir/core';
import { area, line, scaleLinear } from 'd3';
import { LiveEngine } from '../../engine/live/live-engine';
import { followPointer } from '../../ui/follow-pointer';
import { formatLevel, signed } from '../../ui/quantity';
import { newGesture } from '../../ui/value-field';
import { ParameterList } from './parameter-list';
import { StepValues } from './step-values';

const lowest = -60;
const historyLength = 150;
const deepestShown = -24;

/** The compressor's transfer curve, with its threshold to grab, and its gain reduction over the last seconds. */
@Component({
  selector: 'tc-compressor-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ParameterList],
  templateUrl: './compressor-editor.html',
  styleUrl: './compressor-editor.scss',
})
export class CompressorEditor {
  readonly step = input.required<EffectStep>();
  private readonly stepValues = inject(StepValues);
  private readonly engine = inject(LiveEngine);

  protected readonly size = 180;
  private readonly scale = scaleLinear([lowest, 0], [0, this.size]);
  protected readonly stripWidth = 420;
  protected readonly values = computed(() => this.stepValues.read(this.step()));
  private readonly settings = computed(() => {
    const { threshold, ratio, knee, makeUp, autoMakeUp, direction, most } = this.values();
    const base = { threshold: Number(threshold), ratio: Number(ratio), knee: Number(knee) };
    const isUpward = direction === 'upward';
    const automatic = autoMakeUp === true && !isUpward ? automaticMakeUp(base.threshold, base.ratio, base.knee) : 0;
    const out = (level: number): number =>
      isUpward
        ? upwardCurve(level, base.threshold, base.ratio, base.knee, Number(most))
        : compressorCurve(level, base.threshold, base.ratio, base.knee);
    return { threshold: base.threshold, out, makeUp: Number(makeUp) + automatic };
  });
  protected readonly grid = [-48, -36, -24, -12].map((level) => ({ at: this.scale(level), text: String(level).replace('-', '−') }));
  protected readonly curve = computed(() => {
    const { out, makeUp } = this.settings();
    const points = Array.from({ length: 121 }, (_, i): [number, number] => {
      const level = lowest + (i / 120) * -lowest;
      return [this.scale(level), this.size - this.scale(Math.min(6, out(level) + makeUp))];
    });
    return line()(points) ?? '';
  });
  protected readonly thresholdAt = computed(() => this.scale(this.settings().threshold));
  protected readonly makeUpText = computed(() => `make-up ${signed(this.settings().makeUp, 1)} dB`);

  private readonly history = signal<readonly number[]>([]);
  protected readonly now = computed(() => formatLevel(Math.min(0, Math.round((this.history().at(-1) ?? 0) * 10) / 10) || 0, 'dB'));
  protected readonly strip = computed(() => {
    const x = scaleLinear([0, historyLength - 1], [0, this.stripWidth]);
    const y = scaleLinear([0, deepestShown], [0, this.size]).clamp(true);
    const points = this.history().map((value, i): [number, number] => [x(i), y(value)]);
    return area().y0(0)(points) ?? '';
  });
  protected readonly stripTicks = [-6, -12, -18].map((value) => ({
    y: (value / deepestShown) * this.size,
    text: String(value).replace('-', '−'),
  }));

  constructor() {
    effect(() => {
      const reduction = this.engine.meters()?.gainReductions.get(this.step().id);
      if (reduction !== undefined) untracked(() => this.history.update((list) => [...list, reduction].slice(-historyLength)));
    });
  }

  protected dragThreshold(event: PointerEvent): void {
    if (event.button !== 0 || !(event.currentTarget instanceof Element)) return;
    const gesture = newGesture();
    const box = event.currentTarget.getBoundingClientRect();
    const move = (moved: PointerEvent): void => {
      const level = this.scale.invert(((moved.clientX - box.left) / box.width) * this.size);
      this.stepValues.set(this.step(), { threshold: Math.max(lowest, Math.min(0, level)) }, gesture);
    };
    move(event);
    followPointer(event, move);
  }
}
