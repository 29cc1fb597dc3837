import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { loudestChannel } from '../analysis/onsets';
import { SpectralFrame } from '../dsp/spectral-frames';
import type { Frames, Seconds, Unit } from '../units';
import { findAttacks } from './find-attacks';
import type { StretchMethod } from './stretch-audio';

/** What suits a sound, and what speaks for it. */
export interface MethodChoice {
  readonly method: Exclude<StretchMethod, 'vast'>;
  /** Attacks per second. */
  readonly attacks: number;
  /** Part of its energy that lies in partials which go on evenly. */
  readonly tonal: Unit;
}

/** What strikes so near to the beginning is the beginning. */
export const edge: Seconds = 0.02;
const size: Frames = 4096;
const hop: Frames = size / 4;
/** At most so many moments are looked at. */
const mostMoments = 60;
/** Cosine of the angle by which the advance of a partial's phase may change over a hop. */
const leastAgreement = 0.99;
/** From this part of the energy on a sound is a tone. */
const leastTonal: Unit = 0.55;
/** Fewer attacks a second are chance in a long sound. */
const leastAttacks = 0.05;
/** With less than this part in partials, what strikes is kept before what sounds. */
const mostlyTone: Unit = 0.93;

/**
 * Chooses how to stretch a sound: *hits* where it has attacks and is not nearly all tone, *tones* where most of its energy lies in partials, *texture* otherwise.
 * Partials are told by their phase, which advances evenly over two hops (cf. the phase deviation of Bello et al. 2004).
 * @param struck its attacks, where they are known already
 */
export function chooseMethod(audio: Audio, struck: readonly Frames[] = findAttacks(audio)): MethodChoice {
  const tonal = tonalShare(audio);
  const seconds = Math.max(0.1, frameCount(audio) / audio.sampleRate);
  const attacks = struck.filter((attack) => attack > edge * audio.sampleRate || diesAway(audio)).length / seconds;
  const method = attacks >= leastAttacks && tonal < mostlyTone ? 'hits' : tonal >= leastTonal ? 'tones' : 'texture';
  return { method, attacks, tonal };
}

/** True where a sound that begins with an attack is that attack, and not just cut there. */
function diesAway({ channels, sampleRate }: Audio): boolean {
  const energyOf = (from: Seconds, to: Seconds): number => {
    let sum = 0;
    for (const channel of channels)
      for (let i = Math.round(from * sampleRate); i < Math.min(channel.length, to * sampleRate); i++) sum += channel[i]! * channel[i]!;
    return sum;
  };
  return energyOf(0, 0.05) > 4 * energyOf(0.1, 0.15);
}

function tonalShare(audio: Audio): Unit {
  const samples = loudestChannel(audio);
  const frames = [0, 1, 2].map(() => new SpectralFrame(size));
  const last = samples.length - size - 2 * hop;
  const step = Math.max(hop, Math.floor(last / mostMoments));
  let partials = 0;
  let whole = 0;
  for (let at = 0; at === 0 || at <= last; at += step) {
    frames.forEach((frame, i) => frame.take(samples, at + i * hop));
    const [before, earlier, now] = frames as [SpectralFrame, SpectralFrame, SpectralFrame];
    for (let k = 2; k < now.bins - 2; k++) {
      const power = now.power(k);
      whole += power;
      const peak = Math.max(now.power(k - 1), power, now.power(k + 1)) === power ? k : now.power(k - 1) > now.power(k + 1) ? k - 1 : k + 1;
      if (agreement(before, earlier, now, peak) > leastAgreement) partials += power;
    }
  }
  return whole > 0 ? partials / whole : 0;
}

/** Cosine of the change of a bin's phase advance from one hop to the next. */
function agreement(before: SpectralFrame, earlier: SpectralFrame, now: SpectralFrame, k: number): number {
  const re = now.re[k]! * before.re[k]! - now.im[k]! * before.im[k]!;
  const im = now.re[k]! * before.im[k]! + now.im[k]! * before.re[k]!;
  const squareRe = earlier.re[k]! ** 2 - earlier.im[k]! ** 2;
  const squareIm = 2 * earlier.re[k]! * earlier.im[k]!;
  const whole = Math.sqrt((re * re + im * im) * (squareRe * squareRe + squareIm * squareIm));
  return whole > 0 ? (re * squareRe + im * squareIm) / whole : 0;
}
