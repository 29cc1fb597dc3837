import type { Audio } from '../../audio/audio';
import { fadeGain } from '../../audio/fade';
import { changeSpeed } from '../../audio/resample';
import type { Decibels, Frames, Hertz, Ratio, Seconds, Unit } from '../../units';
import { RealFft } from '../../dsp/fft';
import { LongConvolution, longResponse } from '../../dsp/convolution/long-convolution';
import { minimumPhaseResponse } from '../../dsp/filters/minimum-phase';
import { partitionFrames } from '../../dsp/convolution/partitioned-convolution';
import { createRandom } from '../../dsp/random';

export const longestResponse: Seconds = 20;
const pivot: Hertz = 1_000;
const tiltTaps: Frames = 2_048;

/** How a recording becomes an impulse response. */
export interface ResponseShape {
  /** The part of the recording that is used, as shares of its length. */
  readonly from: Unit;
  readonly to: Unit;
  /** Its length against the recording's; its pitch goes the other way. */
  readonly stretch: Ratio;
  readonly reversed: boolean;
  /** Lengths of the fades, as shares of the response. */
  readonly fadeIn: Unit;
  readonly fadeOut: Unit;
  /** Level in dB per octave around 1 kHz. */
  readonly tilt: Decibels;
}

/**
 * Makes an impulse response of any recording: at most `longestResponse` long, and with an energy of 1 per channel, so that noise comes
 * out as loud as it goes in; of a true stereo response (four channels) each side comes out of two of them.
 */
export function shapeResponse(recording: Audio, shape: ResponseShape): Float64Array[] {
  const { sampleRate } = recording;
  const length = recording.channels[0]?.length ?? 0;
  const from = Math.floor(Math.min(shape.from, shape.to) * length);
  const to = Math.max(from + 1, Math.ceil(Math.max(shape.from, shape.to) * length));
  const most = Math.ceil((longestResponse * sampleRate) / shape.stretch);
  const part: Audio = { sampleRate, channels: recording.channels.map((samples) => samples.slice(from, Math.min(to, from + most))) };
  const paced = shape.stretch === 1 ? part : changeSpeed(part, 1 / shape.stretch);
  const responses = paced.channels.map((samples) => {
    const taps = Float64Array.from(samples);
    if (shape.reversed) taps.reverse();
    fadeEnds(taps, shape);
    return shape.tilt === 0 ? taps : tilted(taps, shape.tilt, sampleRate);
  });
  const sides = responses.length === 4 ? 2 : responses.length;
  const energy = responses.reduce((sum, taps) => sum + taps.reduce((own, tap) => own + tap * tap, 0), 0) / sides;
  const gain = energy > 0 ? 1 / Math.sqrt(energy) : 0;
  for (const taps of responses) for (let i = 0; i < taps.length; i++) taps[i]! *= gain;
  return responses;
}

function fadeEnds(taps: Float64Array, { fadeIn, fadeOut }: ResponseShape): void {
  const rise = Math.round(fadeIn * taps.length);
  const fall = Math.round(fadeOut * taps.length);
  for (let i = 0; i < rise; i++) taps[i]! *= fadeGain('s-curve', (i + 0.5) / rise);
  for (let i = 0; i < fall; i++) taps[taps.length - 1 - i]! *= fadeGain('s-curve', (i + 0.5) / fall);
}

/** With a minimum-phase filter, so that nothing sounds before the response begins. */
function tilted(taps: Float64Array, perOctave: Decibels, sampleRate: Hertz): Float64Array {
  const level = (frequency: Hertz): Decibels => perOctave * Math.log2(Math.max(20, Math.min(20_000, frequency)) / pivot);
  const convolution = new LongConvolution(longResponse(minimumPhaseResponse(level, tiltTaps, sampleRate)));
  const output = new Float64Array(taps.length + tiltTaps);
  for (let i = 0; i < output.length + partitionFrames; i++) {
    const sample = convolution.next(taps[i] ?? 0);
    if (i >= partitionFrames) output[i - partitionFrames] = sample;
  }
  return output;
}

/** The largest magnitude of a response over all frequencies: what a loop through it would be amplified by. */
export function loudestGain(taps: Float64Array): Ratio {
  const fft = new RealFft(2 ** Math.ceil(Math.log2(Math.max(4, taps.length))));
  const padded = new Float64Array(fft.size);
  padded.set(taps);
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  fft.forward(padded, re, im);
  let most = 0;
  for (let k = 0; k < fft.bins; k++) most = Math.max(most, Math.hypot(re[k]!, im[k]!));
  return most;
}

/** What stands in for a recording: noise that fades by 60 dB, different on both sides. */
export function fadingNoise(length: Seconds, sampleRate: Hertz): Audio {
  const frames = Math.round(length * sampleRate);
  const channels = [1, 2].map((seed) => {
    const random = createRandom(seed);
    return Float32Array.from({ length: frames }, (_, i) => (random.next() * 2 - 1) * 10 ** ((-3 * i) / frames));
  });
  return { sampleRate, channels };
}
