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
    const moving = Math.min(this.remaining, to - from);
    const still = from + moving;
    if (this.kind === 'ladder') {
      this.ladder(samples, from, still, this.gStep, this.kStep);
      this.ladder(samples, still, to, 0, 0);
    } else {
      this.section(samples, from, still, this.gStep, this.kStep);
      this.section(samples, still, to, 0, 0);
    }
    this.remaining -= moving;
    for (let i = 0; i < 4; i++) if (Math.abs(this.state[i]!) < tiny) this.state[i] = 0;
  }

  private section(samples: Float64Array, from: Frames, to: Frames, gStep: number, kStep: number): void {
    if (from === to) return;
    const { state, kind } = this;
    const passesHigh = kind === 'high-pass' || kind === 'notch';
    let { g, k } = this;
    let s1 = state[0]!;
    let s2 = state[1]!;
    const still = gStep === 0 && kStep === 0;
    for (let at = from; at < to;) {
      g += gStep;
      k += kStep;
      // As it would be with the loop without delay solved: two states, each out of both and the input. What stands still is computed in one run.
      const until = still ? to : at + 1;
      const inverse = 1 / (1 + g * (g + k));
      const b1 = g * inverse;
      const b2 = g * b1;
      const m0 = passesHigh ? 1 : 0;
      const m1 = passesHigh ? -k : kind === 'band-pass' ? k : 0;
      const m2 = kind === 'high-pass' ? -1 : kind === 'low-pass' ? 1 : 0;
      for (let i = at; i < until; i++) {
        const input = samples[i]!;
        const forward = input - s2;
        const band = s1 * inverse + b1 * forward;
        const low = s2 + s1 * b1 + b2 * forward;
        s1 = 2 * band - s1;
        s2 = 2 * low - s2;
        samples[i] = m0 * input + m1 * band + m2 * low;
      }
      at = until;
    }
    this.g = g;
    this.k = k;
    state[0] = s1;
    state[1] = s2;
  }

  private ladder(samples: Float64Array, from: Frames, to: Frames, gStep: number, kStep: number): void {
    if (from === to) return;
    const { state, drive } = this;
    let { g, k } = this;
    let a = state[0]!;
    let b = state[1]!;
    let c = state[2]!;
    let d = state[3]!;
    const still = gStep === 0 && kStep === 0;
    for (let at = from; at < to;) {
      g += gStep;
      k += kStep;
      const until = still ? to : at + 1;
      const leak = 1 / (1 + g);
      const one = g * leak;
      const two = one * one;
      const solve = 1 / (1 + k * two * two);
      for (let i = at; i < until; i++) {
        // What the four states will give without the input: the loop without delay is solved for the input of the first stage.
        const memory = leak * (two * (one * a + b) + one * c + d);
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
      at = until;
    }
    this.g = g;
    this.k = k;
    state[0] = a;
    state[1] = b;
    state[2] = c;
    state[3] = d;
  }
}
