import type { Frames, Hertz, Ratio, Unit } from '../units';

export const voiceFilterKinds = ['low-pass', 'high-pass', 'band-pass', 'notch', 'ladder'] as const;
export type VoiceFilterKind = (typeof voiceFilterKinds)[number];

/** Below it states are silence; they must not crawl through denormal numbers. */
const tiny = 1e-30;
/** Damping of the state-variable filter without resonance (Butterworth) and with all of it. */
const damped = Math.SQRT2;
const undamped = 0.02;
/** Feedback of the ladder at which it would sound by itself. */
const wholeFeedback = 4;

/**
 * The filter of one part in one voice, one channel: a state-variable section (Zavalishin, The Art of VA Filter Design, 2012, ch. 4) or a ladder of
 * four one-poles with a saturated input (ibid., ch. 5; without drive H(s) = 1 / ((1 + s)⁴ + k)). Its cut-off and resonance move in
 * straight lines, frame by frame, to where they are aimed.
 */
export class VoiceFilter {
  private readonly state = new Float64Array(4);
  private g = 0;
  private k = 0;
  private gStep = 0;
  private kStep = 0;
  private remaining: Frames = 0;
  private fresh = true;
  private drive: Ratio = 1;

  constructor(
    private readonly kind: VoiceFilterKind,
    private readonly sampleRate: Hertz,
  ) {}

  reset(): void {
    this.state.fill(0);
    this.fresh = true;
  }

  /** @param frames over how many frames it goes there; at once when it is new */
  aim(cutoff: Hertz, resonance: Unit, drive: Ratio, frames: Frames): void {
    const highest = this.sampleRate * 0.49;
    const g = Math.tan((Math.PI * Math.max(5, Math.min(highest, cutoff))) / this.sampleRate);
    const k = this.kind === 'ladder' ? wholeFeedback * 0.995 * resonance : damped * Math.pow(undamped / damped, resonance);
    this.drive = drive;
    if (this.fresh || frames <= 0) {
      this.g = g;
      this.k = k;
      this.remaining = 0;
      this.fresh = false;
      return;
    }
    this.remaining = g === this.g && k === this.k ? 0 : frames;
    this.gStep = (g - this.g) / frames;
    this.kStep = (k - this.k) / frames;
  }

  /** Filters `samples` from one frame to another in place. */
  process(samples: Float64Array, from: Frames, to: Frames): void {
    for (let at = from; at < to;) {
      // What stands still is computed in one run, what moves frame by frame.
      const until = this.remaining > 0 ? at + 1 : to;
      if (this.remaining > 0) {
        this.remaining--;
        this.g += this.gStep;
        this.k += this.kStep;
      }
      if (this.kind === 'ladder') this.ladder(samples, at, until);
      else this.section(samples, at, until);
      at = until;
    }
    for (let i = 0; i < 4; i++) if (Math.abs(this.state[i]!) < tiny) this.state[i] = 0;
  }

  private section(samples: Float64Array, from: Frames, to: Frames): void {
    const { g, k, state, kind } = this;
    const inverse = 1 / (1 + g * (g + k));
    let s1 = state[0]!;
    let s2 = state[1]!;
    // Mixed from input, band and low output.
    const m0 = kind === 'high-pass' || kind === 'notch' ? 1 : 0;
    const m1 = kind === 'high-pass' || kind === 'notch' ? -k : kind === 'band-pass' ? k : 0;
    const m2 = kind === 'high-pass' ? -1 : kind === 'low-pass' ? 1 : 0;
    for (let i = from; i < to; i++) {
      const input = samples[i]!;
      const band = (s1 + g * (input - s2)) * inverse;
      const low = s2 + g * band;
      s1 = 2 * band - s1;
      s2 = 2 * low - s2;
      samples[i] = m0 * input + m1 * band + m2 * low;
    }
    state[0] = s1;
    state[1] = s2;
  }

  private ladder(samples: Float64Array, from: Frames, to: Frames): void {
    const { g, k, state, drive } = this;
    const one = g / (1 + g);
    const four = one * one * one * one;
    const leak = 1 / (1 + g);
    const solve = 1 / (1 + k * four);
    let a = state[0]!;
    let b = state[1]!;
    let c = state[2]!;
    let d = state[3]!;
    for (let i = from; i < to; i++) {
      // What the four states will give without the input: the loop without delay is solved for the input of the first stage.
      const memory = leak * (one * one * one * a + one * one * b + one * c + d);
      const input = drive === 1 ? samples[i]! : Math.tanh(samples[i]! * drive) / drive;
      let x = (input - k * memory) * solve;
      // The sum saturates, too, or a resonance would go on without a limit.
      if (x > 1.5 || x < -1.5) x = 1.5 * Math.tanh(x / 1.5);
      let v = (x - a) * one;
      x = v + a;
      a = x + v;
      v = (x - b) * one;
      x = v + b;
      b = x + v;
      v = (x - c) * one;
      x = v + c;
      c = x + v;
      v = (x - d) * one;
      x = v + d;
      d = x + v;
      samples[i] = x;
    }
    state[0] = a;
    state[1] = b;
    state[2] = c;
    state[3] = d;
  }
}
