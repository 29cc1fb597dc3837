import { hannWindow } from '../dsp/fft';
import type { PairTransform } from '../dsp/pair-transform';
import { pairTransform } from '../dsp/pair-transform';
import { SpectralEnvelope } from '../dsp/spectral-envelope';
import type { Frames, Hertz, Ratio } from '../units';

const size: Frames = 2048;
const hop = size / 2;
/** Bins of which the strongest stands for all where the envelope is sought: it is far smoother than the spectrum. */
const pooled = 4;
/** Magnitudes below this share of the frame's loudest (-90 dB) are taken as that: silence has no envelope. */
const floor = 3e-5;
/** By how much a bin is raised or lowered at most, as a natural logarithm: 40 dB. */
const most = 4.6;
/** Order of the envelope where no pitch is known: fine enough for speech, coarser than the partials of most of what is shifted. */
const usualPitch: Hertz = 180;

/** Moves the spectral envelope of one frame after the other; frames of 2048 samples follow each other by half of that. */
export class FormantFrames {
  static readonly size = size;
  static readonly hop = hop;
  private readonly transform: PairTransform;
  private readonly spectra: readonly number[];
  private readonly envelope: SpectralEnvelope;
  private readonly powers = new Float64Array(size / 2 + 1);
  private readonly magnitudes = new Float64Array(size / 2 / pooled + 1);
  private readonly curve = new Float64Array(this.magnitudes.length);
  private readonly gains = new Float64Array(size / 2 + 1);
  // Half a Hann window on the way in, half on the way out: two of them add up to one.
  private readonly window = hannWindow(size).map(Math.sqrt);

  /** @param pitch of the sound, where it has one: partials farther apart make for a coarser envelope */
  constructor(channelCount: number, sampleRate: Hertz, pitch: Hertz = usualPitch) {
    this.transform = pairTransform(size, this.window);
    this.spectra = Array.from({ length: Math.ceil(channelCount / 2) }, () => this.transform.allocate());
    this.envelope = new SpectralEnvelope(size / pooled, Math.max(24, Math.min(240, sampleRate / pitch / 2)));
  }

  /**
   * Adds to `outputs`, from `at` on, the frame that begins at `start` of `inputs`, with its formants `ratio` times as high.
   * @param at may lie before the beginning, and the frame end behind the end: what does so is left out
   */
  add(inputs: readonly Float32Array[], start: Frames, ratio: Ratio, outputs: readonly Float32Array[], at: Frames): void {
    const { transform, spectra, powers, magnitudes, curve, gains, window } = this;
    const memory = transform.memory();
    for (let p = 0; p < spectra.length; p++) transform.forward(inputs[2 * p]!, inputs[2 * p + 1], start, spectra[p]!);
    readPowers(memory, spectra, transform.places, powers);
    poolMagnitudes(powers, magnitudes);
    this.envelope.of(magnitudes, curve);
    findGains(curve, ratio, gains);
    for (let p = 0; p < spectra.length; p++) {
      scale(memory, spectra[p]!, transform.places, gains);
      transform.inverse(spectra[p]!);
      addFrame(outputs[2 * p]!, outputs[2 * p + 1], memory, spectra[p]!, window, at);
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

/** Twice the powers of all channels together. */
function readPowers(memory: Float32Array, spectra: readonly number[], places: Int32Array, into: Float64Array): void {
  into.fill(0);
  for (const at of spectra)
    for (let k = 0; k < into.length; k++) {
      const one = at + places[k]!;
      const other = at + places[k === 0 ? 0 : size - k]!;
      const a = memory[one]!;
      const b = memory[one + 4]!;
      const c = memory[other]!;
      const d = memory[other + 4]!;
      into[k]! += a * a + b * b + c * c + d * d;
    }
}

/** Natural logarithms of magnitudes, each of the strongest of a few bins. */
function poolMagnitudes(powers: Float64Array, into: Float64Array): void {
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

/** What brings an envelope to the one that lies `ratio` times as high; beyond its ends it goes on as it ends. */
function findGains(curve: Float64Array, ratio: Ratio, gains: Float64Array): void {
  for (let k = 0; k < gains.length; k++) {
    const change = valueAt(curve, k / ratio / pooled) - valueAt(curve, k / pooled);
    gains[k] = Math.exp(Math.max(-most, Math.min(most, change)));
  }
}

function valueAt(curve: Float64Array, place: number): number {
  const last = curve.length - 1;
  if (place >= last) return curve[last]!;
  const whole = place | 0;
  return curve[whole]! + (curve[whole + 1]! - curve[whole]!) * (place - whole);
}

function scale(memory: Float32Array, at: number, places: Int32Array, gains: Float64Array): void {
  for (let k = 0; k < gains.length; k++) {
    const one = at + places[k]!;
    memory[one]! *= gains[k]!;
    memory[one + 4]! *= gains[k]!;
    if (k === 0 || k === size / 2) continue;
    const other = at + places[size - k]!;
    memory[other]! *= gains[k]!;
    memory[other + 4]! *= gains[k]!;
  }
}

function addFrame(
  left: Float32Array,
  right: Float32Array | undefined,
  memory: Float32Array,
  at: number,
  window: Float64Array,
  start: Frames,
): void {
  const scaled = 1 / size;
  const from = Math.max(0, -start);
  const to = Math.min(size, left.length - start);
  for (let i = from; i < to; i++) {
    const place = at + (((i >> 2) << 3) | (i & 3));
    const weight = window[i]! * scaled;
    left[start + i]! += memory[place]! * weight;
    if (right) right[start + i]! += memory[place + 4]! * weight;
  }
}
