import { curveHeight } from '../automation/drawn-curve';
import type { PatchCurve } from '../project/patch/patch-schema';
import type { Frames, Hertz, Ratio, Semitones, Unit } from '../units';
import { curveSeconds } from './curve-seconds';
import type { VoiceNote } from './part';
import type { PartVoice, VoiceSum } from './part-voice';

/** What a voice must know of its patch to go on by a step. */
export interface VoiceWeather {
  /** Values of every part at the end of the step. */
  readonly values: readonly Readonly<Record<string, number | string | boolean>>[];
  /** Whether anything of a part has changed since the step before. */
  readonly moving: readonly boolean[];
  /** Depths of modulation of every part, in the order of its `from`. */
  readonly amounts: readonly Float64Array[];
  readonly concert: Hertz;
  readonly glide: Frames;
  readonly bpm: number;
  /** How far the outermost copies in unison are off, and how far to the sides they stand. */
  readonly detune: Semitones;
  readonly apart: Unit;
}

/** Where a voice stands among those that play the same note in unison. */
export interface UnisonPlace {
  /** From the lowest to the highest, -1 to 1; 0 for one that is alone. */
  readonly away: number;
  /** How loud it is, so that all of them are as loud as one. */
  readonly share: Ratio;
}

export const alone: UnisonPlace = { away: 0, share: 1 };

/** One note of a patch as it sounds: all parts, and the curves that it runs along. */
export class Voice {
  /** The note that it plays. */
  note = '';
  /** Where it was begun, on the clock of the player; decides who has sounded longest. */
  begun: Frames = 0;
  /** When its note ends, on the same clock. */
  end: Frames = 0;
  released = false;
  /** As loud as it is while it sounds; less and less while it makes room for another one. */
  private fade: Ratio = 1;
  private fadeStep = 0;
  private pitch: Semitones = 0;
  private target: Semitones = 0;
  private glideLeft: Frames = 0;
  private age: Frames = 0;
  private seconds = 0;
  private place = alone;
  private readonly heights: Float64Array;
  private sounding = false;
  /** Its note is another one than in the step before. */
  private changed = false;

  /**
   * @param groups parts in the order in which they are computed; those of one group move each other's phases in a circle and are computed frame by
   * frame
   */
  constructor(
    private readonly parts: readonly PartVoice[],
    private readonly groups: readonly { readonly parts: readonly PartVoice[]; readonly loops: boolean }[],
    private readonly curves: readonly PatchCurve[],
    private readonly sampleRate: Hertz,
  ) {
    this.heights = new Float64Array(curves.length);
  }

  get idle(): boolean {
    return !this.sounding;
  }

  /** True while it makes room for another one. */
  get leaving(): boolean {
    return this.fadeStep !== 0;
  }

  start(
    notes: readonly VoiceNote[],
    pitch: Semitones,
    from: Semitones,
    age: Frames,
    length: number,
    weather: VoiceWeather,
    place = alone,
  ): void {
    this.sounding = true;
    this.place = place;
    // Begun long ago, its note may be over.
    this.released = age > 0 && age >= (notes[0]?.length ?? 0);
    this.fade = place.share;
    this.fadeStep = 0;
    this.pitch = from;
    this.glideTo(pitch, weather.glide);
    this.age = age;
    this.seconds = length;
    this.look(age, weather);
    for (const [p, part] of this.parts.entries())
      part.start(notes[p]!, weather.values[p]!, this.heard(weather), weather.concert, age, this.heights);
  }

  /** Takes another note over without beginning anew; `strikes` false leaves the envelopes as they are. */
  goOn(notes: readonly VoiceNote[], pitch: Semitones, strikes: boolean, length: number, weather: VoiceWeather): void {
    this.glideTo(pitch, weather.glide);
    this.released = false;
    this.changed = true;
    if (!strikes) return;
    this.age = 0;
    this.seconds = length;
    this.look(0, weather);
    for (const [p, part] of this.parts.entries()) part.strikeAgain(notes[p]!, weather.values[p]!, pitch, this.heights);
  }

  private glideTo(pitch: Semitones, frames: Frames): void {
    this.target = pitch;
    this.glideLeft = pitch === this.pitch ? 0 : frames;
    if (this.glideLeft === 0) this.pitch = pitch;
  }

  release(): void {
    this.released = true;
    for (const part of this.parts) part.release();
  }

  /** Falls silent within some frames. */
  leave(frames: Frames): void {
    if (this.leaving) return;
    this.fadeStep = -this.fade / frames;
  }

  stop(): void {
    this.sounding = false;
    this.fadeStep = 0;
    for (const part of this.parts) part.stop();
  }

  /** Its pitch, off by its place in unison. */
  private heard({ detune }: VoiceWeather): Semitones {
    return this.pitch + this.place.away * detune;
  }

  private look(age: Frames, { bpm }: VoiceWeather): void {
    for (let c = 0; c < this.curves.length; c++) {
      const curve = this.curves[c]!;
      this.heights[c] = curveHeight(curve, age / this.sampleRate / curveSeconds(curve, this.seconds, bpm));
    }
  }

  /** Sets out for where everything will be in `frames` frames. */
  aim(weather: VoiceWeather, frames: Frames): void {
    const turns = this.glideLeft > 0 || this.changed;
    this.changed = false;
    if (this.glideLeft > 0) {
      const gone = Math.min(this.glideLeft, frames);
      this.pitch += ((this.target - this.pitch) * gone) / this.glideLeft;
      this.glideLeft -= gone;
    }
    if (this.curves.length > 0) this.look(this.age + frames, weather);
    const pitch = this.heard(weather);
    const lean = this.place.away * weather.apart;
    for (let p = 0; p < this.parts.length; p++) {
      const moves = turns || weather.moving[p]!;
      this.parts[p]!.aim(weather.values[p]!, weather.amounts[p]!, moves, pitch, lean, weather.concert, this.heights, frames);
    }
  }

  /** Adds the next frames to a sum, from `at` on; at most a step of them. */
  render(sum: VoiceSum, at: Frames, frames: Frames): void {
    for (const { parts, loops } of this.groups) {
      if (loops) for (let i = 0; i < frames; i++) for (const part of parts) part.render(i, i + 1);
      else for (const part of parts) part.render(0, frames);
    }
    // What leaves falls to nothing and stays there.
    const fading = this.fadeStep === 0 ? frames : Math.min(frames, Math.max(0, Math.ceil(-this.fade / this.fadeStep)));
    for (const part of this.parts) part.addTo(sum, at, fading, this.fade, this.fadeStep);
    this.fade += fading * this.fadeStep;
    this.age += frames;
    if ((this.leaving && this.fade <= 1e-9) || this.isOver()) this.stop();
  }

  private isOver(): boolean {
    for (let p = 0; p < this.parts.length; p++) if (!this.parts[p]!.over) return false;
    return true;
  }
}
