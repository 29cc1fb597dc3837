import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Decibels, Frames, Hertz, Seconds, Unit } from '../units';
import { gainToDecibels } from '../units';
import type { Defect } from './defects';
import { findDefects } from './defects';
import { findLandingPoints } from './landing-points';
import { measureMel, melBands } from './spectrum/mel';
import { loudestChannel } from './onsets';
import { mainPitch, trackPitch } from './pitch';

/** What a recording is like, beyond its levels. */
export interface Character {
  /** Level that the quietest tenth of the recording stays below. */
  readonly noiseFloorDbfs: Decibels;
  /** Mean frequency of its energy: low is dark, high is bright. */
  readonly brightness: Hertz;
  /** Where its main attack is, and how long it rises from a tenth to seven tenths. */
  readonly attackAt: Seconds;
  readonly attackTime: Seconds;
  /** Fundamental frequency, if it has one, and how sure that is. */
  readonly pitch: Hertz | undefined;
  readonly pitchConfidence: Unit;
  /** 1 for what stays the same all the time, toward 0 for what comes and goes. */
  readonly stationarity: Unit;
  /** Correlation of left and right, -1 to 1; 1 for mono. */
  readonly correlation: number;
  /** How much louder the left side is than the right. */
  readonly leansLeft: Decibels;
  readonly defects: readonly Defect[];
  /** Numbers whose distance is a perceptual one; see `characterDistance`. */
  readonly fingerprint: readonly number[];
}

/** The longest stretch whose character is looked at; of longer recordings the middle is taken. */
export const longestInFull: Seconds = 120;
const longestForPitch: Seconds = 12;

/** What is known of a whole recording, of which only a part is looked at closely. */
export interface WholeRecording {
  /** Where the part begins, and how long the whole is. */
  readonly start: Frames;
  readonly frames: Frames;
  readonly stereo: StereoMeter;
  readonly defects: readonly Defect[];
}

export function describeCharacter(audio: Audio): Character {
  const part = middleOf(audio, longestInFull);
  const stereo = new StereoMeter();
  stereo.process(audio.channels);
  const start = Math.floor((frameCount(audio) - frameCount(part)) / 2);
  return characterOf(part, { start, frames: frameCount(audio), stereo, defects: findDefects(audio) });
}

/** The character of a recording by a part of it. */
export function characterOf(part: Audio, { start, frames, stereo, defects }: WholeRecording): Character {
  const mel = measureMel(part);
  const energy = mel.energies.reduce((sum, value) => sum + value, 0);
  const brightness = energy > 0 ? mel.centroids.reduce((sum, value, n) => sum + value * mel.energies[n]!, 0) / energy : 0;
  const landing = findLandingPoints(part);
  const attackAt = landing.transient ?? landing.peak;
  const pitch = mainPitch(trackPitch(middleOf(part, longestForPitch), { hop: 0.04 }));
  const attackTime = measureAttack(part, attackAt);
  return {
    noiseFloorDbfs: measureNoiseFloor(part),
    brightness,
    attackAt: attackAt + start / part.sampleRate,
    attackTime,
    pitch: pitch.frequency,
    pitchConfidence: pitch.confidence,
    stationarity: measureStationarity(mel.levels, mel.energies),
    correlation: stereo.correlation,
    leansLeft: stereo.leansLeft,
    defects,
    fingerprint: fingerprintOf(mel.levels, mel.energies, frames / part.sampleRate, attackTime, pitch.confidence),
  };
}

function middleOf(audio: Audio, seconds: Seconds): Audio {
  const frames = frameCount(audio);
  const wanted = Math.round(seconds * audio.sampleRate);
  if (frames <= wanted) return audio;
  const from = Math.floor((frames - wanted) / 2);
  return { sampleRate: audio.sampleRate, channels: audio.channels.map((channel) => channel.subarray(from, from + wanted)) };
}

/** RMS over 50 ms, of the window that a tenth of all windows lie below. */
function measureNoiseFloor(audio: Audio): Decibels {
  const samples = loudestChannel(audio);
  const window = Math.max(1, Math.min(samples.length, Math.round(0.05 * audio.sampleRate)));
  const levels: number[] = [];
  for (let start = 0; start + window <= samples.length; start += window) {
    let sum = 0;
    for (let i = start; i < start + window; i++) sum += samples[i]! ** 2;
    levels.push(Math.sqrt(sum / window));
  }
  levels.sort((a, b) => a - b);
  return gainToDecibels(levels[Math.floor(levels.length / 10)] ?? 0);
}

/** How long the envelope around the attack takes from a tenth to seven tenths of what it reaches. */
function measureAttack(audio: Audio, at: Seconds): Seconds {
  const samples = loudestChannel(audio);
  const step = Math.max(1, Math.round(audio.sampleRate / 2_000));
  const count = Math.max(1, Math.ceil(samples.length / step));
  const envelope = new Float64Array(count);
  for (let n = 0; n < count; n++) {
    let sum = 0;
    for (let i = n * step; i < Math.min(samples.length, (n + 1) * step); i++) sum += samples[i]! ** 2;
    envelope[n] = Math.sqrt(sum / step);
  }
  // Waves go up and down: hold each level for 10 ms.
  const held = envelope.map((_, n) => envelope.subarray(Math.max(0, n - 19), n + 1).reduce((a, b) => Math.max(a, b), 0));
  const centre = Math.min(count - 1, Math.round((at * audio.sampleRate) / step));
  let top = centre;
  const soon = Math.min(count, centre + 600);
  for (let n = centre; n < soon; n++) if (held[n]! > held[top]!) top = n;
  let high = top;
  while (high > 0 && held[high - 1]! >= 0.7 * held[top]!) high--;
  let low = high;
  while (low > 0 && held[low - 1]! >= 0.1 * held[top]!) low--;
  return ((high - low + 1) * step) / audio.sampleRate;
}

/** From the mean fluctuation of band levels between neighbouring frames around the mean spectrum, in frames that sound. */
function measureStationarity(levels: Float32Array, energies: Float64Array): Unit {
  const loudest = energies.reduce((a, b) => Math.max(a, b), 0);
  if (loudest === 0) return 0;
  const floor = 10 * Math.log10(loudest) - 60;
  let sum = 0;
  let count = 0;
  for (let band = 0; band < melBands; band++) {
    let mean = 0;
    let square = 0;
    for (let n = 0; n < energies.length; n++) {
      const level = Math.max(floor, levels[n * melBands + band]!);
      mean += level;
      square += level * level;
    }
    mean /= energies.length;
    sum += Math.sqrt(Math.max(0, square / energies.length - mean * mean));
    count++;
  }
  // A steady noise fluctuates by about 2 dB in a band, a single strike by 15 and more.
  return Math.max(0, Math.min(1, 1 - (sum / count - 2) / 13));
}

/** How the first two channels of a recording that comes piece by piece belong together. */
export class StereoMeter {
  private product = 0;
  private left = 0;
  private right = 0;
  private stereo = false;

  process([left, right]: readonly Float32Array[]): void {
    if (!left || !right) return;
    this.stereo = true;
    for (let i = 0; i < left.length; i++) {
      const a = left[i]!;
      const b = right[i]!;
      this.product += a * b;
      this.left += a * a;
      this.right += b * b;
    }
  }

  /** -1 to 1; 1 for mono, and where a side is silent. */
  get correlation(): number {
    return this.left > 0 && this.right > 0 ? this.product / Math.sqrt(this.left * this.right) : 1;
  }

  /** How much louder the left side is than the right. */
  get leansLeft(): Decibels {
    return this.stereo ? 10 * Math.log10((this.left + 1e-12) / (this.right + 1e-12)) : 0;
  }
}

/**
 * A level-independent description: the shape of the mean mel spectrum and of its spread over time, in units of about one just noticeable
 * step, then length, attack and pitchedness on logarithmic scales.
 */
function fingerprintOf(levels: Float32Array, energies: Float64Array, seconds: Seconds, attack: Seconds, pitched: Unit): number[] {
  const total = energies.reduce((sum, value) => sum + value, 0) || 1;
  const means = new Float64Array(melBands);
  const spreads = new Float64Array(melBands);
  for (let band = 0; band < melBands; band++) {
    let power = 0;
    for (let n = 0; n < energies.length; n++) power += 10 ** (levels[n * melBands + band]! / 10);
    means[band] = 10 * Math.log10(power / energies.length + 1e-10);
    for (let n = 0; n < energies.length; n++)
      spreads[band]! += (energies[n]! / total) * Math.abs(Math.max(means[band]! - 60, levels[n * melBands + band]!) - means[band]!);
  }
  const loudest = means.reduce((a, b) => Math.max(a, b), -Infinity);
  const shape = Array.from(means, (level) => Math.max(-60, level - loudest));
  const centre = shape.reduce((sum, level) => sum + level, 0) / melBands;
  return [
    ...shape.map((level) => (level - centre) / 3),
    ...Array.from(spreads, (level) => level / 6),
    6 * Math.log2(Math.max(0.02, seconds)),
    2 * Math.log2(Math.max(0.001, attack)),
    12 * pitched,
  ];
}

/**
 * Perceptual distance between two recordings, independent of their levels: the root mean square difference of mel spectra, their movement,
 * length, attack and pitchedness. 0 for the same sound; symmetric.
 */
export function characterDistance(a: readonly number[], b: readonly number[]): number {
  let sum = 0;
  const count = Math.min(a.length, b.length);
  for (let i = 0; i < count; i++) sum += (a[i]! - b[i]!) ** 2;
  return Math.sqrt(sum / Math.max(1, count));
}
