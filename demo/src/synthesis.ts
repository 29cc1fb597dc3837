import type { Hertz, Random, Seconds } from '@tangled-choir/core';
import { bandPass, bell, createRandom, cut, matchSections, Section, seedOf } from '@tangled-choir/core';

/** Small building blocks for made-up recordings: noise, struck modes, moving filters, grains, echoes. All at 48 kHz. */
export const rate: Hertz = 48_000;

export const frames = (seconds: Seconds): number => Math.round(seconds * rate);

export const buffer = (seconds: Seconds): Float32Array => new Float32Array(frames(seconds));

/** Randomness of one recording, by its name. */
export const randomFor = (name: string): Random => createRandom(seedOf('halda', name));

export const between = (random: Random, low: number, high: number): number => low + (high - low) * random.next();

/** Between `low` and `high` with equal ratios equally likely. */
export const betweenLog = (random: Random, low: number, high: number): number => low * Math.pow(high / low, random.next());

/** Adds `part` to `target` from `at` seconds on. */
export function addAt(target: Float32Array, part: Float32Array, at: Seconds, gain = 1): void {
  const start = frames(at);
  const end = Math.min(part.length, target.length - start);
  for (let i = Math.max(0, -start); i < end; i++) target[start + i]! += part[i]! * gain;
}

/** Lets the end of noise go on at its beginning: its last `seconds` go while its first ones come, with even power. */
export function comeRound(samples: Float32Array, seconds: Seconds): Float32Array {
  const fade = frames(seconds);
  const round = samples.slice(0, samples.length - fade);
  for (let i = 0; i < fade; i++) {
    const share = (Math.PI / 2) * ((i + 0.5) / fade);
    round[i] = round[i]! * Math.sin(share) + samples[round.length + i]! * Math.cos(share);
  }
  return round;
}

export function whiteNoise(random: Random, seconds: Seconds): Float32Array {
  const samples = buffer(seconds);
  for (let i = 0; i < samples.length; i++) samples[i] = 2 * random.next() - 1;
  return samples;
}

/** Noise that falls by about 3 dB per octave (Kellet's three-pole approximation). */
export function pinkNoise(random: Random, seconds: Seconds): Float32Array {
  const samples = buffer(seconds);
  let a = 0;
  let b = 0;
  let c = 0;
  for (let i = 0; i < samples.length; i++) {
    const white = 2 * random.next() - 1;
    a = 0.99765 * a + white * 0.099046;
    b = 0.963 * b + white * 0.2965164;
    c = 0.57 * c + white * 1.0526913;
    samples[i] = (a + b + c + white * 0.1848) * 0.25;
  }
  return samples;
}

/** Multiplies by an envelope given as a function of time in seconds. */
export function shape(samples: Float32Array, envelope: (time: Seconds) => number): Float32Array {
  for (let i = 0; i < samples.length; i++) samples[i]! *= envelope(i / rate);
  return samples;
}

/** Rises within `attack`, then falls by 60 dB in `decay` seconds. */
export const strike =
  (attack: Seconds, decay: Seconds) =>
  (time: Seconds): number =>
    (time < attack ? time / attack : 1) * Math.exp((-6.91 * Math.max(0, time - attack)) / decay);

/** Samples between two designs of a moving filter; sections glide in between. */
const stride = 1024;

type FilterKind = 'low' | 'high' | 'band' | 'bell';

/** Filters in place; `frequency` may move over time and is followed in steps of 1024 samples. */
export function filter(
  samples: Float32Array,
  kind: FilterKind,
  frequency: Hertz | ((time: Seconds) => Hertz),
  amount = 0.7,
  gain = 0,
): Float32Array {
  const moving = typeof frequency === 'function' ? frequency : undefined;
  const sections = Array.from({ length: 4 }, () => new Section(stride));
  let last = -1;
  for (let at = 0; at < samples.length; at += stride) {
    const now = moving ? moving(at / rate) : Number(frequency);
    if (Math.abs(now - last) > last * 0.004) {
      last = now;
      const prototypes =
        kind === 'band'
          ? [bandPass(now, amount)]
          : kind === 'bell'
            ? [bell(now, gain, amount)]
            : cut(kind === 'low' ? 'high' : 'low', now, amount, Math.SQRT1_2);
      const coefficients = matchSections(prototypes, rate);
      sections.forEach((section, i) => coefficients[i] && section.aim(coefficients[i]));
    }
    for (const section of sections) if (!section.idle) section.process(samples, at, Math.min(samples.length, at + stride));
  }
  return samples;
}

export interface Mode {
  readonly frequency: Hertz;
  readonly decay: Seconds;
  readonly gain: number;
  /** Pitch at the start relative to the end; bending plates begin higher. */
  readonly bend?: number;
}

/** Decaying sines as of a struck body; each begins within a millisecond. */
export function modes(seconds: Seconds, list: readonly Mode[], random: Random): Float32Array {
  const samples = buffer(seconds);
  for (const { frequency, decay, gain, bend = 1 } of list) {
    let phase = random.next() * 2 * Math.PI;
    const length = Math.min(samples.length, frames(decay * 1.6));
    for (let i = 0; i < length; i++) {
      const time = i / rate;
      const pitch = frequency * (1 + (bend - 1) * Math.exp(-time * 40));
      phase += (2 * Math.PI * pitch) / rate;
      samples[i]! += gain * Math.min(1, time * 1_500) * Math.exp((-6.91 * time) / decay) * Math.sin(phase);
    }
  }
  return samples;
}

/** A body of `count` inharmonic modes between two frequencies; higher modes die sooner. */
export function iceBody(random: Random, count: number, low: Hertz, high: Hertz, decay: Seconds, bend = 1): Mode[] {
  return Array.from({ length: count }, () => {
    const frequency = betweenLog(random, low, high);
    return {
      frequency,
      decay: decay * Math.pow(low / frequency, 0.6) * between(random, 0.6, 1.4),
      gain: between(random, 0.3, 1) * Math.pow(low / frequency, 0.25),
      bend,
    };
  });
}

/** Scatters grains over time: `density` is how many start per second at a time, `grain` makes one. */
export function scatter(
  target: Float32Array,
  random: Random,
  density: (time: Seconds) => number,
  grain: (time: Seconds) => Float32Array,
  gain: (time: Seconds) => number,
): void {
  const end = target.length / rate;
  for (let time = 0; time < end;) {
    const rateNow = Math.max(0.5, density(time));
    time += -Math.log(1 - random.next()) / rateNow;
    if (time < end && density(time) > 0) addAt(target, grain(time), time, gain(time) * between(random, 0.25, 1));
  }
}

/** Distant reflections: sparse, darker and later, as from walls of ice across a valley. */
export function echoes(samples: Float32Array, random: Random, seconds: Seconds, decay: Seconds, level: number): Float32Array {
  const wet = new Float32Array(samples.length + frames(seconds));
  for (let tap = 0; tap < 90; tap++) {
    const at = 0.02 + seconds * Math.pow(random.next(), 1.4);
    addAt(wet, samples, at, level * Math.exp((-6.91 * at) / decay) * (random.next() < 0.5 ? -1 : 1) * between(random, 0.3, 1));
  }
  filter(wet, 'low', 2_600, 12);
  filter(wet, 'high', 120, 12);
  addAt(wet, samples, 0);
  return wet;
}

/** Slow random movement around 1, smooth, `perSecond` turns a second. */
export function drift(random: Random, seconds: Seconds, perSecond: number, depth: number): (time: Seconds) => number {
  const points = Array.from({ length: Math.ceil(seconds * perSecond) + 3 }, () => 2 * random.next() - 1);
  return (time) => {
    const place = Math.max(0, time) * perSecond;
    const index = Math.min(points.length - 2, Math.floor(place));
    const blend = 0.5 - 0.5 * Math.cos(Math.PI * (place - index));
    return 1 + depth * (points[index]! + (points[index + 1]! - points[index]!) * blend);
  };
}

/** Soft saturation that keeps small signals as they are. */
export function saturate(samples: Float32Array, drive: number): Float32Array {
  for (let i = 0; i < samples.length; i++) samples[i] = Math.tanh(samples[i]! * drive) / drive;
  return samples;
}

/** Scales to a peak in dBFS and takes the last milliseconds down, so that no recording ends in a click. */
export function finish(channels: readonly Float32Array[], peak: number): Float32Array[] {
  let most = 0;
  for (const channel of channels) for (const value of channel) most = Math.max(most, Math.abs(value));
  const gain = most > 0 ? Math.pow(10, peak / 20) / most : 0;
  const fade = frames(0.02);
  return channels.map((channel) => channel.map((value, i) => value * gain * Math.min(1, (channel.length - 1 - i) / fade)));
}
