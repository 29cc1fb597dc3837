import { maxBlock } from '../../dsp/block';
import { smoothing } from '../../dsp/filters/simple-filters';
import { Glide } from '../../dsp/glide';
import type { Decibels, Frames, Hertz, Ratio, Seconds } from '../../units';
import { decibelsPerNeper, liftOf, pressOf } from '../../dsp/gain-curves';

/** How a band is pressed and lifted. */
export interface BandDynamics {
  above: Decibels;
  downRatio: Ratio;
  below: Decibels;
  upRatio: Ratio;
  /** The most that quiet parts are lifted. */
  most: Decibels;
  knee: Decibels;
  attack: Seconds;
  release: Seconds;
}

/** Dynamics to read values into. */
export const noDynamics = (): BandDynamics => ({
  above: 0,
  downRatio: 1,
  below: 0,
  upRatio: 1,
  most: 0,
  knee: 0,
  attack: 0,
  release: 0,
});

const glideFrames: Frames = 512;
/** Averaging time of the detectors. */
const averaging: Seconds = 0.01;
/** The gain is computed anew after so many frames, far less than what the detector averages over, and goes in straight lines between. */
const stride: Frames = 8;
const decibelsPerPower = 10 / Math.LN10;

/**
 * Gain of a band at a level: what lies above `above` is pressed towards it, what lies below `below` lifted towards it; from -72 dB on down the
 * lift goes back, so that silence stays silent.
 */
export function multibandGain(level: Decibels, dynamics: Omit<BandDynamics, 'attack' | 'release'>): Decibels {
  const { above, downRatio, below, upRatio, most, knee } = dynamics;
  return liftOf(level, below, 1 - 1 / upRatio, knee, most) - pressOf(level, above, 1 - 1 / downRatio, knee);
}

/** Detector (RMS of the loudest channel) and gain of one band. */
export class BandGain {
  /** The gains of the latest block. */
  readonly gains = new Float64Array(maxBlock);
  readonly dynamics = noDynamics();
  private readonly level = new Glide(glideFrames);
  private readonly levels = new Float64Array(maxBlock);
  private readonly powers = new Float64Array(maxBlock);
  private readonly keep: Ratio;
  private power = 0;
  /** What is taken away or added now. */
  private change: Decibels = 0;
  private gain = 0;
  private target = 0;
  private step = 0;
  /** Frames until the gain is computed anew. */
  private due: Frames = 0;
  private fresh = true;

  constructor(private readonly sampleRate: Hertz) {
    this.keep = smoothing(averaging, sampleRate);
  }

  reset(): void {
    this.power = this.change = this.due = 0;
    this.fresh = true;
    this.level.reset();
  }

  /**
   * Computes the gains of a block by its sound and by `dynamics`.
   *
   * @param level what the band is turned up by
   * @param tilt what it is judged louder by
   * @param amounts frame by frame, 0 to 1: how much of the change is made
   * @param outputs frame by frame: a gain over it
   * @returns the deepest reduction, 0 or above
   */
  process(
    channels: readonly Float32Array[],
    frames: Frames,
    level: Decibels,
    tilt: Decibels,
    amounts: Float64Array,
    outputs: Float64Array,
  ): Decibels {
    this.level.aim(level);
    this.level.fill(this.levels, frames);
    this.measure(channels, frames);
    const falling = smoothing(this.dynamics.attack / stride, this.sampleRate);
    const rising = smoothing(this.dynamics.release / stride, this.sampleRate);
    const { gains, powers, keep } = this;
    let { power, gain } = this;
    let deepest = 0;
    for (let i = 0; i < frames;) {
      if (this.due === 0) {
        const heard = (power > 0 ? Math.log(power) * decibelsPerPower : -160) + tilt;
        const wanted = multibandGain(heard, this.dynamics) * amounts[i]!;
        this.aim(wanted, wanted < this.change ? falling : rising, outputs[i]! * Math.exp(this.levels[i]! / decibelsPerNeper));
        gain = this.gain;
        if (-this.change > deepest) deepest = -this.change;
      }
      const { step } = this;
      const to = Math.min(frames, i + this.due);
      this.due -= to - i;
      for (; i < to; i++) {
        power = powers[i]! + (power - powers[i]!) * keep;
        gain += step;
        gains[i] = gain;
      }
    }
    this.power = power < 1e-30 ? 0 : power;
    this.gain = gain;
    return deepest;
  }

  /** The power of the loudest channel, frame by frame. */
  private measure(channels: readonly Float32Array[], frames: Frames): void {
    const { powers } = this;
    for (let c = 0; c < channels.length; c++) {
      const samples = channels[c]!;
      for (let i = 0; i < frames; i++) {
        const power = samples[i]! * samples[i]!;
        if (c === 0 || power > powers[i]!) powers[i] = power;
      }
    }
  }

  /** Sets out for the gain that the next frames lead to. */
  private aim(wanted: Decibels, keep: Ratio, over: Ratio): void {
    const change = wanted + (this.change - wanted) * keep;
    this.change = change > -1e-6 && change < 1e-6 ? 0 : change;
    // Where the last line was to lead, not where roundings have left it.
    this.gain = this.target;
    this.target = Math.exp(this.change / decibelsPerNeper) * over;
    if (this.fresh) this.gain = this.target;
    this.fresh = false;
    this.step = (this.target - this.gain) / stride;
    this.due = stride;
  }
}
