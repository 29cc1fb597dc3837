import type { Frames, Hertz, Ratio, Seconds, Unit } from '../units';
import { maxBlock } from './block';
import { bandReach, PlaceReader } from './place-reader';
import type { SampleHistory } from './sample-history';

const most: Ratio = 8;
/** The delay walks this far to either side of its middle. */
const shortest: Seconds = 0.0022;
const middle: Seconds = 0.012;
/** A splice takes so long, or so much of the walk that is left for it. */
const fadeTime: Seconds = 0.004;
const fadeShare = 0.25;
/** What two places are compared by, and every how many samples they are at first. */
const compared: Seconds = 0.006;
const coarse = 4;
/** A splice that leads farther is taken for as good as one that fits so much better: the fewer there are, the better. */
const farBonus = 0.15;
/** Delays are whole numbers of these, so that they add up alike however they are added. */
const grain = 2 ** -30;

/** By how many frames what comes out lags behind what goes in, in the middle. */
export const splicedLatency = (sampleRate: Hertz): Frames => Math.round(middle * sampleRate);

/**
 * Moves the pitch of sound as it comes with little delay: it is read faster or slower than it is written, and where the delay would leave its
 * range, it is spliced to the place beside it that is most alike, by normalised cross-correlation (after Roucos & Wilgus 1985), in all channels at
 * once. Splices are levelled by how alike the two places are (Fink, Holters & Zölzer 2016).
 */
export class SplicedShifter {
  private readonly least: Frames;
  private readonly longest: Frames;
  private readonly fadeFrames: Frames;
  private readonly window: Frames;
  private readonly reader: PlaceReader;
  private readonly begins: Unit;
  private readonly spliced: readonly Float32Array[];
  /** The delay of what is heard, of what it is spliced to, and what is added to both. */
  private delay = 0;
  private other = 0;
  private later = 0;
  private behind = 0;
  private fading: Frames = 0;
  private fade: Frames = 0;
  private likeness = 0;
  private now: Frames = 0;

  /**
   * @param input holds what comes in, at least `SplicedShifter.keep` frames of it; several may read one
   * @param options where in its range the delay begins, and up to which speed nothing is to fold back
   */
  constructor(
    private readonly input: SampleHistory,
    sampleRate: Hertz,
    { begins = 0.5, fastest = most }: { readonly begins?: Unit; readonly fastest?: Ratio } = {},
  ) {
    this.begins = begins;
    this.least = Math.round(shortest * sampleRate);
    this.longest = 2 * splicedLatency(sampleRate) - this.least;
    this.fadeFrames = Math.round(fadeTime * sampleRate);
    this.window = coarse * Math.round((compared * sampleRate) / coarse);
    this.reader = new PlaceReader(fastest);
    this.spliced = Array.from({ length: input.rows.count }, () => new Float32Array(maxBlock));
    this.reset();
  }

  /** How many frames are read back at most. */
  static keep(sampleRate: Hertz): Frames {
    return Math.ceil((2 * middle + compared) * sampleRate) + bandReach(most) + 64;
  }

  reset(): void {
    this.delay = this.other = whole(this.least + this.begins * (this.longest - this.least));
    this.later = this.behind = 0;
    this.fading = 0;
    this.now = 0;
  }

  /** From now on the delay that is added moves to `later`, where it is after `frames` frames; then it must be told again. */
  delayTo(later: Frames, frames: Frames): void {
    this.behind = whole((later - this.later) / frames);
  }

  /**
   * Goes on by some frames, at most `maxBlock`, which have been written to the input.
   * @param into receives the frames of each channel, from `at` on
   */
  read(ratio: Ratio, frames: Frames, into: readonly Float32Array[], at: Frames = 0): void {
    const walk = whole(1 - ratio);
    const fade = Math.max(8, Math.min(this.fadeFrames, (fadeShare * (this.longest - this.least)) / Math.abs(walk))) | 0;
    for (let done = 0; done < frames;) {
      if (this.fading === 0 && this.framesLeft(walk, fade) === 0) this.splice(fade, walk);
      const left = this.fading > 0 ? this.fading : this.framesLeft(walk, fade);
      const count = Math.min(frames - done, left);
      this.readRun(walk, count, into, at + done);
      done += count;
    }
  }

  /** So many frames go by before a splice must begin. */
  private framesLeft(walk: number, fade: Frames): Frames {
    if (walk === 0) return Infinity;
    const room = (walk < 0 ? this.least : this.longest) - this.delay - walk * fade;
    return Math.max(0, Math.floor(room / walk));
  }

  /** Frames without a change: from one tap, or along one splice. */
  private readRun(walk: number, frames: Frames, into: readonly Float32Array[], start: Frames): void {
    const { behind } = this;
    const { rows, first } = this.input;
    const step = 1 - walk - behind;
    const at = this.now - first - this.later + step - 1;
    this.reader.read(rows, at - this.delay, step, frames, into, start);
    if (this.fading > 0) {
      this.reader.read(rows, at - this.other, step, frames, this.spliced);
      for (let i = 0; i < frames; i++) {
        const rest = (this.fading - i) / this.fade;
        const share = 1 - rest;
        const level = Math.sqrt(share * share + rest * rest + 2 * this.likeness * share * rest);
        for (let c = 0; c < into.length; c++) into[c]![start + i] = (rest * into[c]![start + i]! + share * this.spliced[c]![i]!) / level;
      }
      this.fading -= frames;
    }
    this.delay += walk * frames;
    this.other += walk * frames;
    this.later += behind * frames;
    this.now += frames;
    if (this.fading === 0 && this.fade > 0) {
      this.delay = this.other;
      this.fade = 0;
    }
  }

  /** Finds where to go on: as far towards the other end of the range as there is something alike. */
  private splice(fade: Frames, walk: number): void {
    const from = Math.round(this.delay);
    const room = walk < 0 ? this.longest - from : from - this.least;
    const away = walk < 0 ? 1 : -1;
    const nearest = Math.max(coarse, Math.min(room, Math.ceil(Math.abs(walk) * fade * 2)));
    let best = room;
    let bestScore = -Infinity;
    for (let lag = nearest; lag <= room; lag += coarse) {
      const score = this.alike(from, from + away * lag, coarse) + (farBonus * lag) / room;
      if (score > bestScore) [bestScore, best] = [score, lag];
    }
    let exact = best;
    let likeness = -Infinity;
    for (let lag = Math.max(1, best - coarse); lag <= Math.min(room, best + coarse); lag++) {
      const score = this.alike(from, from + away * lag, 1);
      if (score > likeness) [likeness, exact] = [score, lag];
    }
    // Between whole samples: at high pitches the same small error at every splice would be a detuning.
    const before = this.alike(from, from + away * (exact - 1), 1);
    const after = this.alike(from, from + away * (exact + 1), 1);
    const bend = before - 2 * likeness + after;
    const beside = bend < 0 ? Math.max(-0.5, Math.min(0.5, (before - after) / (2 * bend))) : 0;
    this.other = whole(this.delay + away * Math.max(1, Math.min(room, exact + beside)));
    this.fade = this.fading = fade;
    // What is unlike is not boosted beyond what noise needs.
    this.likeness = Math.max(0, likeness);
  }

  /** Normalised correlation of what lies before two delays, of all channels together. */
  private alike(one: Frames, other: Frames, step: number): number {
    const { input, window } = this;
    const at = this.now - 1 - Math.round(this.later) - input.first;
    let product = 0;
    let powerOne = 1e-12;
    let powerOther = 1e-12;
    for (const samples of input.channels)
      for (let i = 0, a = at - one, b = at - other; i < window; i += step, a -= step, b -= step) {
        const x = samples[a]!;
        const y = samples[b]!;
        product += x * y;
        powerOne += x * x;
        powerOther += y * y;
      }
    return product / Math.sqrt(powerOne * powerOther);
  }
}

const whole = (frames: number): number => Math.round(frames / grain) * grain;
