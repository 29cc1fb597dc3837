import { hannWindow } from '../dsp/fft';
import type { PairTransform } from '../dsp/pair-transform';
import { pairTransform } from '../dsp/pair-transform';
import { SpectralEnvelope } from '../dsp/spectral-envelope';
import type { Frames, Hertz, Ratio } from '../units';
import type { PairSpectra } from '../dsp/turned-spectra';
import { TurnedSpectra } from '../dsp/turned-spectra';

const size: Frames = 2048;
const hop = size / 2;
/** Bins of which the strongest stands for all where the envelope is sought: it is far smoother than the spectrum. */
const pooled = 4;
/** Magnitudes below this share of the frame's loudest (-90 dB) are taken as that: silence has no envelope. */
const floor = 3e-5;
/** By how much a bin is raised or lowered at most, as a natural logarithm: 40 dB. */
const most = 4.6;
/** By how much a frame is lifted at most that lost its level with its formants. */
const mostLift: Ratio = 2;
/** Order of the envelope where no pitch is known: fine enough for speech, coarser than the partials of most of what is shifted. */
const usualPitch: Hertz = 180;

/** Moves the spectral envelope of one frame after the other; frames of 2048 samples follow each other by half of that. */
export class FormantFrames {
  static readonly size = size;
  static readonly hop = hop;
  private readonly transform: PairTransform;
  private readonly spectra: TurnedSpectra;
  private readonly pairs: readonly PairSpectra[];
  private readonly envelope: SpectralEnvelope;
  private readonly magnitudes = new Float64Array(size / 2 / pooled + 1);
  private readonly curve = new Float64Array(this.magnitudes.length);
  private readonly gains = new Float64Array(this.magnitudes.length);

  /** @param pitch of the sound, where it has one: partials farther apart make for a coarser envelope */
  constructor(channelCount: number, sampleRate: Hertz, pitch: Hertz = usualPitch) {
    // Half a Hann window on the way in, half on the way out: two of them add up to one.
    const window = hannWindow(size).map(Math.sqrt);
    this.transform = pairTransform(size, window);
    this.spectra = new TurnedSpectra(this.transform, window);
    const now = (): number => this.transform.allocate();
    // What goes before a frame counts for nothing here.
    const none = now();
    this.pairs = Array.from({ length: Math.ceil(channelCount / 2) }, () => ({ now: now(), earlier: none, last: none, before: none }));
    this.envelope = new SpectralEnvelope(size / pooled, Math.max(24, Math.min(240, sampleRate / pitch / 2)));
  }

  /**
   * Adds to `outputs`, from `at` on, the frame that begins at `start` of `inputs`, with its formants `ratio` times as high.
   * @param at may lie before the beginning, and the frame end behind the end: what does so is left out
   */
  add(inputs: readonly Float32Array[], start: Frames, ratio: Ratio, outputs: readonly Float32Array[], at: Frames): void {
    const { transform, spectra, pairs, magnitudes, curve, gains } = this;
    for (let p = 0; p < pairs.length; p++) transform.forward(inputs[2 * p]!, inputs[2 * p + 1], start, pairs[p]!.now);
    spectra.power.fill(0);
    for (const pair of pairs) spectra.addPower(pair);
    poolMagnitudes(spectra.power, magnitudes);
    this.envelope.of(magnitudes, curve);
    findGains(curve, ratio, gains);
    spread(gains, spectra.turnRe);
    keepPower(spectra.power, spectra.turnRe);
    spectra.turnIm.fill(0);
    for (let p = 0; p < pairs.length; p++) {
      const heard = spectra.turn(pairs[p]!);
      addFrame(outputs[2 * p]!, heard, 0, at);
      if (2 * p + 1 < outputs.length) addFrame(outputs[2 * p + 1]!, heard, size, at);
    }
  }
}

/**
 * Moves the spectral envelope of a sound without its partials: what resonates at a frequency does so at another, while pitch and time stay.
 * @param ratioAt by how much the envelope moves up at a frame
 * @param pitch of the sound, where it has one
 */
export function moveFormants(
  channels: readonly Float32Array[],
  ratioAt: (at: Frames) => Ratio,
  sampleRate: Hertz,
  pitch: Hertz = usualPitch,
): Float32Array[] {
  const frames = channels[0]?.length ?? 0;
  const outputs = channels.map(() => new Float32Array(frames));
  const inputs = channels.map((channel) => {
    const padded = new Float32Array(frames + 2 * size);
    padded.set(channel, size);
    return padded;
  });
  const moved = new FormantFrames(channels.length, sampleRate, pitch);
  for (let start = -size + hop; start < frames; start += hop) moved.add(inputs, start + size, ratioAt(start + size / 2), outputs, start);
  return outputs;
}

/** Natural logarithms of magnitudes, each of the strongest of a few bins. */
function poolMagnitudes(powers: Float32Array, into: Float64Array): void {
  let loudest = 0;
  for (let k = 0; k < powers.length; k++) if (powers[k]! > loudest) loudest = powers[k]!;
  const least = loudest * floor * floor + 1e-24;
  for (let j = 0; j < into.length; j++) {
    let strongest = least;
    const to = Math.min(powers.length, pooled * (j + 1) - 1);
    for (let k = Math.max(0, pooled * j - 1); k < to; k++) if (powers[k]! > strongest) strongest = powers[k]!;
    into[j] = 0.5 * Math.log(strongest);
  }
}

/** What brings an envelope to the one that lies `ratio` times as high, as factors; beyond its ends it goes on as it ends. */
function findGains(curve: Float64Array, ratio: Ratio, gains: Float64Array): void {
  for (let j = 0; j < gains.length; j++) {
    const change = valueAt(curve, j / ratio) - curve[j]!;
    gains[j] = Math.exp(Math.max(-most, Math.min(most, change)));
  }
}

/** Gains of every bin, along lines between those of pools. */
function spread(gains: Float64Array, into: Float32Array): void {
  for (let j = 0, k = 0; j < gains.length - 1; j++) {
    const low = gains[j]!;
    const slope = (gains[j + 1]! - low) / pooled;
    for (let within = 0; within < pooled; within++, k++) into[k] = low + slope * within;
  }
  into[size / 2] = gains.at(-1)!;
}

/** A frame is as loud as it was, whichever of its partials come under a strong formant; what is hardly left is not lifted without end. */
function keepPower(powers: Float32Array, gains: Float32Array): void {
  let before = 0;
  let after = 0;
  for (let k = 0; k < powers.length; k++) {
    before += powers[k]!;
    after += powers[k]! * gains[k]! * gains[k]!;
  }
  const level = Math.min(mostLift, Math.sqrt(before / Math.max(after, 1e-24)));
  for (let k = 0; k < powers.length; k++) gains[k]! *= level;
}

function valueAt(curve: Float64Array, place: number): number {
  const last = curve.length - 1;
  if (place >= last) return curve[last]!;
  const whole = place | 0;
  return curve[whole]! + (curve[whole + 1]! - curve[whole]!) * (place - whole);
}

/** Adds one channel of a frame where it lies within the output. */
function addFrame(output: Float32Array, heard: Float32Array, channel: number, start: Frames): void {
  const from = Math.max(0, -start);
  const to = Math.min(size, output.length - start);
  for (let i = from; i < to; i++) output[start + i]! += heard[channel + i]!;
}
