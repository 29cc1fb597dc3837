import type { Audio } from '../audio/audio';
import { createRandom } from '../dsp/random';
import type { Decibels, Hertz, Seconds } from '../units';
import { decibelsToGain } from '../units';

/** Test signals by formula. */
export function sine(frequency: Hertz, seconds: Seconds, sampleRate: Hertz, level: Decibels = 0, phase = 0): Float32Array {
  const amplitude = decibelsToGain(level);
  const samples = new Float32Array(Math.round(seconds * sampleRate));
  const { sin, PI } = Math;
  for (let i = 0; i < samples.length; i++) samples[i] = amplitude * sin((2 * PI * frequency * i) / sampleRate + phase);
  return samples;
}

export function noise(frames: number, seed = 1, level: Decibels = 0): Float32Array {
  const random = createRandom(seed);
  const amplitude = decibelsToGain(level);
  return Float32Array.from({ length: frames }, () => amplitude * (2 * random.next() - 1));
}

export function mono(samples: Float32Array, sampleRate: Hertz = 48_000): Audio {
  return { sampleRate, channels: [samples] };
}

export function stereo(samples: Float32Array, sampleRate: Hertz = 48_000): Audio {
  return { sampleRate, channels: [samples, samples] };
}

/** Amplitude of the best-fitting sine of a known frequency in `samples[from…to)` (least squares against sine and cosine). */
export function amplitudeAt(samples: Float32Array, frequency: Hertz, sampleRate: Hertz, from = 0, to = samples.length): number {
  let ss = 0;
  let cc = 0;
  let sc = 0;
  let xs = 0;
  let xc = 0;
  for (let i = from; i < to; i++) {
    const s = Math.sin((2 * Math.PI * frequency * i) / sampleRate);
    const c = Math.cos((2 * Math.PI * frequency * i) / sampleRate);
    ss += s * s;
    cc += c * c;
    sc += s * c;
    xs += samples[i]! * s;
    xc += samples[i]! * c;
  }
  const determinant = ss * cc - sc * sc;
  return Math.hypot((xs * cc - xc * sc) / determinant, (xc * ss - xs * sc) / determinant);
}

/** Partials whose pitch, in MIDI notes, follows a function of time; silent where it has none. */
export function sung(seconds: Seconds, noteAt: (time: Seconds) => number | undefined, sampleRate: Hertz = 48_000): Audio {
  const samples = new Float32Array(seconds * sampleRate);
  let phase = 0;
  for (let i = 0; i < samples.length; i++) {
    const note = noteAt(i / sampleRate);
    if (note === undefined) continue;
    phase += (2 * Math.PI * 440 * 2 ** ((note - 69) / 12)) / sampleRate;
    for (let p = 1; p <= 8; p++) samples[i]! += (0.3 / p) * Math.sin(p * phase);
  }
  return mono(samples, sampleRate);
}

/** RMS of the difference relative to the RMS of the reference, in dB. */
export function residual(reference: Float32Array, actual: Float32Array, from = 0, to = reference.length): Decibels {
  let difference = 0;
  let size = 0;
  for (let i = from; i < to; i++) {
    difference += (reference[i]! - actual[i]!) ** 2;
    size += reference[i]! ** 2;
  }
  return 10 * Math.log10(difference / size);
}

/** Takes both ends up and down over 10 ms: a tone that begins at once has true peaks of its own at the edge. */
export function softEnds(samples: Float32Array, sampleRate: Hertz): Float32Array {
  const frames = Math.round(sampleRate / 100);
  const soft = samples.slice();
  for (let i = 0; i < frames; i++) {
    soft[i]! *= i / frames;
    soft[soft.length - 1 - i]! *= i / frames;
  }
  return soft;
}

/** The largest magnitude of what `of` gives for the samples `from` to `to`. */
export function largest(from: number, to: number, of: (i: number) => number): number {
  let most = 0;
  for (let i = from; i < to; i++) most = Math.max(most, Math.abs(of(i)));
  return most;
}

/** Where channels differ first, for a person to read; empty where all samples are the same. Comparing them one by one with a matcher takes a hundred times as long. */
export function firstDifference(expected: readonly Float32Array[], actual: readonly Float32Array[]): string {
  if (expected.length !== actual.length) return `${actual.length} channels instead of ${expected.length}`;
  for (let c = 0; c < expected.length; c++) {
    const [one, other] = [expected[c]!, actual[c]!];
    if (one.length !== other.length) return `${other.length} samples instead of ${one.length}`;
    for (let i = 0; i < one.length; i++)
      if (!Object.is(one[i], other[i])) return `channel ${c}, sample ${i}: ${other[i]} instead of ${one[i]}`;
  }
  return '';
}
