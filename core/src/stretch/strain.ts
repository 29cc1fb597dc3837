import type { Audio } from '../audio/audio';
import { loudestChannel } from '../analysis/onsets';
import { frameCount } from '../audio/audio';
import { SpectralFrame } from '../dsp/spectral-frames';
import type { Decibels, Frames, Ratio, Seconds, Unit } from '../units';
import { edge } from './choose-method';
import { findAttacks } from './find-attacks';
import type { TimeMap } from './time-map';

/** What a stretch or a shift can do to a sound that nobody asked for. */
export type StrainReason = 'smeared attacks' | 'flutter' | 'lost tones' | 'invented tones' | 'image';

/** Strain around one moment of what came out. */
export interface StrainMoment {
  readonly time: Seconds;
  /** 0 where nothing is heard of it, 1 where it is as strong as damage. */
  readonly amount: Unit;
  readonly reason: StrainReason | undefined;
}

export interface Strain {
  /** How much attacks have lost against what lies around them: the worst of them. */
  readonly smear: Decibels;
  /** How much more levels waver than those of the original. */
  readonly flutter: Decibels;
  /** Power of tones that went missing, and of such that were not there, beside all. -Infinity where there are none. */
  readonly lost: Decibels;
  readonly invented: Decibels;
  /** How far the balance of the outer channels has moved. */
  readonly image: Decibels;
  /** The strongest of it, from 0 (nothing audible) to 1, and what it is. */
  readonly amount: Unit;
  readonly reason: StrainReason | undefined;
  readonly moments: readonly StrainMoment[];
}

/** Below the first nothing is heard, at the second it is damage. */
const scales: Readonly<Record<StrainReason, readonly [least: Decibels, most: Decibels]>> = {
  'smeared attacks': [4, 18],
  flutter: [0.8, 4],
  'lost tones': [-24, -3],
  'invented tones': [-34, -10],
  image: [1.5, 9],
};

/** Frames in which levels are followed, 10 ms apart. */
const levelSize: Frames = 1_024;
/** First bins of octaves from 190 Hz on, and below. */
const octaves = [1, 4, 8, 16, 32, 64, 128, 256, 512];
/** Levels waver around their mean over so many frames. */
const around = 10;
/** Quieter than this beside the loudest, levels are not heard. */
const heard: Decibels = -50;
/** Attacks of less than this part of the power of the strongest (-25 dB) are not what one listens to. */
const leastStrike = 0.003;
/** Mean power (-50 dB) below which nobody hears from where a sound comes. */
const quiet = 1e-5;
const stepSeconds: Seconds = 0.1;
const toneSize: Frames = 8_192;
/** A partial stands so far above the median of the bins around it; where one is looked for that should be there, half of that will do. */
const prominence: Decibels = 22;

/**
 * Compares what came out of a stretch or a shift with what went in: how sharply attacks stand (energy behind and before them), how levels in octave bands waver
 * (against those of the original at the same moment, so that its own life does not count), whether partials are where they should be, and whether the balance of the
 * outer channels stayed.
 * @param map which frame of the original is heard at which frame of the result
 * @param pitchAt by how much the pitch was moved at a frame of the result
 */
export function measureStrain(original: Audio, result: Audio, map: TimeMap, pitchAt: (at: Frames) => Ratio): Strain {
  const frames = frameCount(result);
  const { sampleRate } = result;
  const step = Math.round(stepSeconds * sampleRate);
  const count = Math.max(1, Math.ceil(frames / step));
  const found = new Map<StrainReason, Float64Array>();
  const trackOf = (reason: StrainReason, empty: number): Float64Array => {
    const track = new Float64Array(count).fill(empty);
    found.set(reason, track);
    return track;
  };
  // Both are looked at in the channel that carries most, as whoever stretches looks for attacks.
  const loudest = Math.max(0, original.channels.indexOf(loudestChannel(original)));
  const before = { sampleRate, channels: [original.channels[loudest] ?? new Float32Array(0)] };
  const after = { sampleRate, channels: [result.channels[loudest] ?? new Float32Array(0)] };
  const place = (at: Frames): number => Math.max(0, Math.min(count - 1, Math.floor(at / step)));

  const smear = trackOf('smeared attacks', 0);
  const attacks = findAttacks(before).map((attack) => ({
    attack,
    at: Math.round(map.outputAt(attack)),
    strength: strikes(before, attack),
  }));
  const strongest = attacks.reduce((most, { strength }) => Math.max(most, strength), 0);
  for (const { attack, at, strength } of attacks) {
    const begins = attack - map.inputAt(0) < edge * sampleRate;
    if (begins || at >= frames || strength < leastStrike * strongest) continue;
    const lost = sharpness(before, attack, 1) - sharpness(after, at, 1 / pitchAt(at));
    smear[place(at)] = Math.max(smear[place(at)]!, lost);
  }

  const flutter = trackOf('flutter', 0);
  const [levelsBefore, levelsAfter] = [wavering(before), wavering(after)];
  for (let n = 0; n < count; n++) {
    const at = (n + 0.5) * step;
    flutter[n] = Math.max(0, levelsAfter.at(at) - levelsBefore.at(Math.round(map.inputAt(at))));
  }

  const lost = trackOf('lost tones', -Infinity);
  const invented = trackOf('invented tones', -Infinity);
  compareTones(before, after, map, pitchAt, (at, gone, added) => {
    const n = place(at);
    lost[n] = Math.max(lost[n]!, gone);
    invented[n] = Math.max(invented[n]!, added);
  });

  const image = trackOf('image', 0);
  if (result.channels.length > 1)
    for (let n = 0; n < count; n++) {
      const [from, to] = [(n - 2) * step, (n + 3) * step];
      const now = balance(result, from, to);
      const then = balance(original, Math.round(map.inputAt(from)), Math.round(map.inputAt(to)));
      image[n] = now && then ? Math.abs(now.balance - then.balance) : 0;
    }

  const moments = Array.from({ length: count }, (_, n): StrainMoment => ({
    time: (n * step) / sampleRate,
    ...worst(found, (track) => track[n]!),
  }));
  // For each of them the strongest moment counts.
  const most = (reason: StrainReason): Decibels => found.get(reason)!.reduce((max, value) => Math.max(max, value), -Infinity);
  // What wavers once is heard once; as a whole a sound wavers as it does for the most part.
  const typical = Float64Array.from(flutter).sort()[Math.floor(count * 0.75)] ?? 0;
  return {
    smear: Math.max(0, most('smeared attacks')),
    flutter: typical,
    lost: most('lost tones'),
    invented: most('invented tones'),
    image: Math.max(0, most('image')),
    ...worst(found, (track, reason) => (reason === 'flutter' ? typical : Math.max(...track))),
    moments,
  };
}

function worst(
  found: ReadonlyMap<StrainReason, Float64Array>,
  valueOf: (track: Float64Array, reason: StrainReason) => number,
): { readonly amount: Unit; readonly reason: StrainReason | undefined } {
  let amount = 0;
  let reason: StrainReason | undefined;
  for (const [each, track] of found) {
    const [least, most] = scales[each];
    const strength = Math.min(1, Math.max(0, (valueOf(track, each) - least) / (most - least)));
    if (strength > amount) [amount, reason] = [strength, each];
  }
  return { amount, reason };
}

/** Mean power of the 6 ms behind an attack. */
function strikes({ channels, sampleRate }: Audio, at: Frames): number {
  const samples = channels[0]!;
  const to = Math.min(samples.length, at + Math.round(0.006 * sampleRate));
  let sum = 0;
  for (let i = Math.max(0, at); i < to; i++) sum += samples[i]! * samples[i]!;
  return sum / Math.max(1, to - at);
}

/** By how much the 6 ms behind a moment are louder than the 25 ms before it, in dB, at most 40; times are `scale` as long. */
function sharpness({ channels, sampleRate }: Audio, at: Frames, scale: Ratio): Decibels {
  const samples = channels[0]!;
  const mean = (from: number, to: number): number => {
    let sum = 0;
    const [first, last] = [Math.max(0, Math.round(from)), Math.min(samples.length, Math.round(to))];
    for (let i = first; i < last; i++) sum += samples[i]! * samples[i]!;
    return sum / Math.max(1, last - first);
  };
  const unit = sampleRate * scale;
  const rise = 10 * Math.log10((mean(at - 0.001 * unit, at + 0.006 * unit) + 1e-9) / (mean(at - 0.025 * unit, at - 0.002 * unit) + 1e-9));
  return Math.max(0, Math.min(40, rise));
}

/** How much levels waver at a moment: the standard deviation in dB around their mean, over octaves as loud as they are. */
function wavering({ channels, sampleRate }: Audio): { at(frame: Frames): Decibels } {
  const samples = channels[0]!;
  const hop = Math.round(sampleRate / 100);
  const frame = new SpectralFrame(levelSize);
  const count = Math.max(1, Math.ceil(samples.length / hop));
  const bands = octaves.length - 1;
  const levels = Array.from({ length: bands }, () => new Float64Array(count));
  for (let n = 0; n < count; n++) {
    frame.take(samples, n * hop - levelSize / 2);
    for (let band = 0; band < bands; band++) {
      let power = 1e-9;
      for (let bin = octaves[band]!; bin < octaves[band + 1]!; bin++) power += frame.power(bin);
      levels[band]![n] = 10 * Math.log10(power);
    }
  }
  const loudest = Math.max(...levels.map((band) => band.reduce((max, value) => Math.max(max, value), -Infinity)));
  return {
    at(place) {
      const n = Math.max(0, Math.min(count - 1, Math.round(place / hop)));
      let [sum, weight] = [0, 0];
      for (const band of levels) {
        const { deviation, mean } = spread(band, n);
        if (mean < loudest + heard) continue;
        const share = Math.pow(10, mean / 20);
        sum += share * deviation;
        weight += share;
      }
      return weight > 0 ? sum / weight : 0;
    },
  };
}

/** Deviation of levels from the straight line through them: what rises or dies away evenly does not waver. */
function spread(levels: Float64Array, n: number): { readonly deviation: Decibels; readonly mean: Decibels } {
  const from = Math.max(0, n - around);
  const to = Math.min(levels.length, n + around + 1);
  const size = to - from;
  let [sum, moment, square] = [0, 0, 0];
  const centre = (size - 1) / 2;
  for (let i = 0; i < size; i++) {
    sum += levels[from + i]!;
    moment += (i - centre) * levels[from + i]!;
    square += (i - centre) ** 2;
  }
  const mean = sum / size;
  const slope = square > 0 ? moment / square : 0;
  let deviation = 0;
  for (let i = 0; i < size; i++) deviation += (levels[from + i]! - mean - slope * (i - centre)) ** 2;
  return { deviation: Math.sqrt(deviation / size), mean };
}

/** Level of the first channel over the second, in dB, within ±30; undefined where too little is heard to have a place. */
function balance({ channels }: Audio, from: Frames, to: Frames): { readonly balance: Decibels } | undefined {
  const power = (samples: Float32Array): number => {
    const [first, last] = [Math.max(0, from), Math.min(samples.length, to)];
    let sum = 0;
    for (let i = first; i < last; i++) sum += samples[i]! * samples[i]!;
    return sum / Math.max(1, last - first);
  };
  const [left, right] = [power(channels[0]!), power(channels[1]!)];
  if (left + right < quiet) return undefined;
  return { balance: Math.max(-30, Math.min(30, 10 * Math.log10((left + 1e-12) / (right + 1e-12)))) };
}

/** Partials of both at the same moments: what is missing, and what was not there, in dB beside the loudest moment of all. */
function compareTones(
  before: Audio,
  after: Audio,
  map: TimeMap,
  pitchAt: (at: Frames) => Ratio,
  tell: (at: Frames, lost: Decibels, invented: Decibels) => void,
): void {
  const frame = new SpectralFrame(toneSize);
  const next = new SpectralFrame(toneSize);
  const look = (samples: Float32Array, start: Frames): Look => {
    // A partial is there a little later, too; what noise and short bursts look like for a moment is not.
    next.take(samples, start + toneSize / 4);
    const later = partialsOf(next, prominence);
    frame.take(samples, start);
    const strong = partialsOf(frame, prominence).filter(({ bin }) => later.some((other) => Math.abs(other.bin - bin) <= 2));
    let power = 0;
    for (let k = 0; k < frame.bins; k++) power += frame.power(k);
    return { strong, weak: partialsOf(frame, prominence / 2), power };
  };
  const near = (a: number, b: number): boolean => Math.abs(a - b) < 3 + 0.02 * a;
  const span = 1.25 * toneSize;
  const looks: { at: Frames; missing: number; added: number }[] = [];
  let [loudestBefore, loudestAfter] = [1e-12, 1e-12];
  for (let start = 0; start + span <= frameCount(after); start += toneSize) {
    const at = start + span / 2;
    const from = Math.round(map.inputAt(at) - span / 2);
    if (from < 0 || from + span > frameCount(before)) continue;
    const ratio = pitchAt(at);
    const expected = look(before.channels[0]!, from);
    const there = look(after.channels[0]!, start);
    loudestBefore = Math.max(loudestBefore, expected.power);
    loudestAfter = Math.max(loudestAfter, there.power);
    const inRange = expected.strong.filter(({ bin }) => bin * ratio < toneSize / 2 - 8 && bin * ratio > 8);
    const missing = inRange.filter(({ bin }) => !there.weak.some((other) => near(bin * ratio, other.bin)));
    const added = there.strong.filter(({ bin }) => !expected.weak.some((other) => near(other.bin * ratio, bin)));
    looks.push({ at, missing: powerOf(missing), added: powerOf(added) });
  }
  for (const { at, missing, added } of looks) tell(at, 10 * Math.log10(missing / loudestBefore), 10 * Math.log10(added / loudestAfter));
}

/** What of a moment's spectrum are partials, and how strong all of it is. */
interface Look {
  readonly strong: readonly Partial[];
  readonly weak: readonly Partial[];
  readonly power: number;
}

function powerOf(partials: readonly Partial[]): number {
  return partials.reduce((sum, { power }) => sum + power, 0);
}

interface Partial {
  readonly bin: number;
  readonly power: number;
}

/** Peaks that stand far above what lies around them, no more than 60 dB below the strongest. */
function partialsOf(frame: SpectralFrame, least: Decibels): Partial[] {
  const partials: Partial[] = [];
  let loudest = 0;
  for (let k = 0; k < frame.bins; k++) loudest = Math.max(loudest, frame.power(k));
  for (let k = 6; k < frame.bins - 6; k++) {
    const power = frame.power(k);
    if (power < 1e-6 * loudest || power < frame.power(k - 1) || power <= frame.power(k + 1)) continue;
    const beside = [-16, -12, -9, -7, -5, 5, 7, 9, 12, 16]
      .map((off) => frame.power(Math.max(0, Math.min(frame.bins - 1, k + off))))
      .sort((a, b) => a - b);
    if (10 * Math.log10(power / (beside[5]! + 1e-15)) >= least)
      partials.push({ bin: k, power: frame.power(k - 1) + power + frame.power(k + 1) });
  }
  return partials;
}
