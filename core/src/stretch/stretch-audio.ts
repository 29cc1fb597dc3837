import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Progress } from '../cancelled';
import type { Frames, Hertz, Ratio, Seconds, Unit } from '../units';
import { overlayAttacks, stretchBetweenAttacks } from './attacks';
import { PhaseVocoder } from './phase-vocoder';
import { stretchInGrains } from './grains';
import type { TimeMap } from './time-map';

/** The ways of stretching: attacks kept as they are, partials kept together, grains that keep noise noisy, and spectra that last as long as one likes. */
export type StretchMethod = 'hits' | 'tones' | 'texture' | 'vast';

export interface StretchOptions {
  readonly method: StretchMethod;
  /** Moments of the input that must stay sharp, in frames and in order; “hits” keeps them, “vast” lets as much of them be heard as `attack` says. */
  readonly attacks?: readonly Frames[];
  /** Whether what lies between the attacks is mostly noise. */
  readonly noisy?: boolean;
  /** Damage that is wanted: 0 none, 1 grain and metal. */
  readonly wear?: Unit;
  /** How long the pieces are that “vast” and “texture” work with. */
  readonly grain?: Seconds;
  readonly attack?: Unit;
  /** The speed at which the result is resampled, where it is: slower than by half, frames are shorter, so that they do not get too long. */
  readonly pitched?: Ratio;
  readonly progress?: Progress;
}

/** Frames at 48 kHz. */
const tonesSize: Frames = 4096;
const hitsSize: Frames = 2048;
const usualGrain: Readonly<Record<'texture' | 'vast', Seconds>> = { texture: 0.08, vast: 0.3 };

function frameSize({ method, grain, pitched = 1 }: Pick<StretchOptions, 'method' | 'grain' | 'pitched'>, sampleRate: Hertz): Frames {
  // As long in seconds at any rate, as far as powers of two go.
  const scale = Math.max(0.25, 2 ** Math.round(Math.log2(sampleRate / 48_000))) / (pitched <= 0.5 ? 2 : 1);
  if (method === 'hits') return hitsSize * scale;
  if (method === 'tones') return tonesSize * scale;
  const frames = (grain ?? usualGrain[method]) * sampleRate;
  return method === 'texture' ? 2 * Math.max(16, Math.round(frames / 2)) : 2 ** Math.min(17, Math.max(9, Math.round(Math.log2(frames))));
}

/**
 * Makes audio longer or shorter without changing its pitch.
 * - *hits*: between attacks a phase vocoder (frames of 2048) that never sees the next attack; the attacks themselves are copied.
 * - *tones*: a phase vocoder with phases locked to peaks (frames of 4096).
 * - *texture*: grains from around the moment that is due, joined with constant power.
 * - *vast*: a phase vocoder with long frames whose partials go on and whose noise is given new phases.
 * @param map which moment of the audio is heard when
 * @param span which frames of the output are wanted; beyond the audio's ends lies silence
 * Throws Cancelled when `progress` says so.
 */
export function stretchAudio(
  audio: Audio,
  map: TimeMap,
  span: { readonly from: Frames; readonly to: Frames },
  options: StretchOptions,
): Audio {
  const { sampleRate, channels } = audio;
  const { method, attacks = [], wear = 0, attack = 0, progress } = options;
  const size = frameSize(options, sampleRate);
  const length = Math.max(0, span.to - span.from);
  if (length === 0 || frameCount(audio) === 0) return { sampleRate, channels: channels.map(() => new Float32Array(length)) };
  if (method === 'texture') return stretchInGrains(audio, map, span, { size, wear, progress });
  if (method === 'hits') return stretchBetweenAttacks(audio, map, span, { attacks, size, wear, noisy: options.noisy ?? false, progress });
  // A frame that is longer than the sound would be mostly silent.
  const fitting = Math.min(size, 2 ** Math.max(9, Math.floor(Math.log2(frameCount(audio) / 1.5))));
  const vocoder = new PhaseVocoder(method === 'vast' ? fitting : size, channels.length, {
    wear,
    ...(method === 'vast' && { noise: 'scattered' }),
  });
  const stretched = { sampleRate, channels: vocoder.stretch(channels, map, span, progress) };
  return method === 'vast' && attack > 0 ? overlayAttacks(stretched, audio, map, span, attacks, attack) : stretched;
}
