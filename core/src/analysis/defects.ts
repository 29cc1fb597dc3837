import type { Audio } from '../audio/audio';
import { frameCount, toMono } from '../audio/audio';
import { sharedPowerSpectra } from '../dsp/power-spectra';
import type { Frames, Hertz, Seconds } from '../units';
import { decibelsToGain } from '../units';
import { directCurrentText, isDirectCurrent } from './direct-current';

export const defectKinds = ['click', 'clipping', 'drop-out', 'long silence', 'hum', 'direct current'] as const;
export type DefectKind = (typeof defectKinds)[number];

/** False for what is everywhere in a recording: marking all of its picture would say nothing. */
export function isSomewhere(kind: DefectKind): boolean {
  return kind !== 'hum' && kind !== 'direct current';
}

/** Something wrong with a recording, and where. */
export interface Defect {
  readonly kind: DefectKind;
  readonly from: Seconds;
  readonly to: Seconds;
  /** What was found, in words: “6 samples at full scale”. */
  readonly detail: string;
}

/** Of each kind no more are told. */
export const mostOfAKind = 200;

/** All defects of a recording, in the order of time; at most 200 of a kind. */
export function findDefects(audio: Audio): Defect[] {
  const found = [
    findClipping(audio),
    findClicks(audio),
    findDropOuts(audio),
    findLongSilences(audio),
    findHum(audio),
    findDirectCurrent(audio),
  ];
  return found.flatMap((list) => list.slice(0, mostOfAKind)).sort((a, b) => a.from - b.from);
}

const fullScale = 0.985;
const shortestClipping = 3;
const joined: Seconds = 0.05;

/** Runs of at least three samples that stand at full scale without moving; runs close together are one. */
function findClipping(audio: Audio): Defect[] {
  const { sampleRate } = audio;
  const runs: { from: Frames; to: Frames; samples: number }[] = [];
  for (const channel of audio.channels) {
    for (let i = 0; i < channel.length; i++) {
      const level = channel[i]!;
      if (Math.abs(level) < fullScale) continue;
      let end = i + 1;
      while (end < channel.length && Math.abs(channel[end]! - level) < 1e-4) end++;
      if (end - i >= shortestClipping) {
        const last = runs.at(-1);
        if (last && i - last.to < joined * sampleRate && i >= last.from) {
          last.to = Math.max(last.to, end);
          last.samples += end - i;
        } else runs.push({ from: i, to: end, samples: end - i });
      }
      i = end - 1;
    }
  }
  return runs.map(({ from, to, samples }) => ({
    kind: 'clipping',
    from: from / sampleRate,
    to: to / sampleRate,
    detail: `${samples} samples at full scale`,
  }));
}

/** How far the curvature of a click stands above that of what is around it. */
const clickRatio = 14;
const clickReach: Seconds = 0.008;
const clickLength: Seconds = 0.001;
const leastClick = 0.004;

/** Where there are more of them a second, they are what the recording is of: pebbles, crackling ice. */
const mostClicksPerSecond = 1.5;
/** What is followed by so much more than came before is the beginning of something. */
const beginning = 2.5;
const aroundBeginning: Seconds = 0.03;

/**
 * Clicks: moments at which the second difference leaps far above its level on both sides, within a millisecond. The beginning of a real
 * sound leaps, too, but is louder afterwards; and sounds that are made of clicks have nothing wrong with them.
 */
function findClicks(audio: Audio): Defect[] {
  const { sampleRate } = audio;
  const reach = Math.round(clickReach * sampleRate);
  const gap = Math.round(clickLength * sampleRate);
  const around = Math.round(aroundBeginning * sampleRate);
  const defects: Defect[] = [];
  for (const channel of audio.channels) {
    const bends = bendsOf(channel, reach + gap + 1);
    const first = reach + gap + 1;
    // Sums of squares over [i - gap - reach, i - gap) and (i + gap, i + gap + reach], moved along.
    let before = 0;
    let after = 0;
    for (let k = 1; k <= reach; k++) after += bends[first + gap + k]!;
    for (let i = 0; i < channel.length; i++) {
      const place = first + i;
      const here = bends[place]!;
      if (here > leastClick * leastClick && here > (clickRatio * clickRatio * Math.max(before, after)) / reach) {
        const time = i / sampleRate;
        const inside = i > gap && i < channel.length - gap;
        if (inside && !isBeginning(channel, i, gap, around) && !defects.some((defect) => Math.abs(defect.from - time) < 0.005))
          defects.push({ kind: 'click', from: time, to: time + clickLength, detail: 'a leap within a millisecond' });
      }
      before += bends[place - gap]! - bends[place - gap - reach]!;
      after += bends[place + gap + reach + 1]! - bends[place + gap + 1]!;
    }
  }
  return defects.length > Math.max(3, (mostClicksPerSecond * frameCount(audio)) / sampleRate) ? [] : defects;
}

/** Squares of the second differences of a channel, with so much silence on both sides. */
function bendsOf(channel: Float32Array, beside: Frames): Float64Array {
  const bends = new Float64Array(channel.length + 2 * beside);
  for (let i = 1; i + 1 < channel.length; i++) {
    const value = channel[i + 1]! - 2 * channel[i]! + channel[i - 1]!;
    bends[beside + i] = value * value;
  }
  return bends;
}

function isBeginning(channel: Float32Array, i: Frames, gap: Frames, around: Frames): boolean {
  return levelOver(channel, i + gap, around) > beginning * levelOver(channel, i - gap - around, around) + 1e-5;
}

function levelOver(samples: Float32Array, from: Frames, frames: Frames): number {
  let sum = 0;
  for (let i = from; i < from + frames; i++) sum += (samples[i] ?? 0) ** 2;
  return Math.sqrt(sum / frames);
}

const shortestDropOut: Seconds = 0.002;
const longestDropOut: Seconds = 0.3;
const soundingLevel = decibelsToGain(-50);

/** Stretches of one unchanging value inside sounding audio, in all channels at once. */
function findDropOuts(audio: Audio): Defect[] {
  const { sampleRate, channels } = audio;
  const frames = frameCount(audio);
  const around = Math.round(0.01 * sampleRate);
  const near = Math.round(0.001 * sampleRate);
  const level = (from: Frames, to: Frames): number => {
    if (from < 0 || to > frames) return 0;
    let sum = 0;
    for (const channel of channels) for (let i = from; i < to; i++) sum += channel[i]! ** 2;
    return Math.sqrt(sum / ((to - from) * channels.length));
  };
  // What dies away into silence, or grows out of it, was not cut off.
  const isCutOff = (from: Frames, to: Frames): boolean => {
    const before = level(from - around, from);
    const after = level(to, to + around);
    const cut = level(from - near, from) > before / 3 && level(to, to + near) > after / 3;
    return before > soundingLevel && after > soundingLevel && cut;
  };
  const stands = (i: number): boolean => {
    for (let c = 0; c < channels.length; c++) if (channels[c]![i] !== channels[c]![i - 1]) return false;
    return true;
  };
  const defects: Defect[] = [];
  for (let i = 1; i < frames; i++) {
    if (!stands(i)) continue;
    let end = i + 1;
    while (end < frames && stands(end)) end++;
    const length = (end - i) / sampleRate;
    const atFullScale = channels.some((channel) => Math.abs(channel[i]!) >= fullScale);
    if (length >= shortestDropOut && length <= longestDropOut && !atFullScale && isCutOff(i, end))
      defects.push({ kind: 'drop-out', from: i / sampleRate, to: end / sampleRate, detail: `${(length * 1_000).toFixed(1)} ms missing` });
    i = end;
  }
  return defects;
}

const longSilence: Seconds = 2;
const silenceLevel = decibelsToGain(-72);

function findLongSilences(audio: Audio): Defect[] {
  const { sampleRate, channels } = audio;
  const frames = frameCount(audio);
  const defects: Defect[] = [];
  let from: Frames | undefined;
  const isQuiet = (i: number): boolean => {
    for (let c = 0; c < channels.length; c++) if (Math.abs(channels[c]![i]!) >= silenceLevel) return false;
    return true;
  };
  for (let i = 0; i <= frames; i++) {
    const quiet = i < frames && isQuiet(i);
    if (quiet) from ??= i;
    else if (from !== undefined) {
      const length = (i - from) / sampleRate;
      if (length >= longSilence)
        defects.push({ kind: 'long silence', from: from / sampleRate, to: i / sampleRate, detail: `${length.toFixed(1)} s of silence` });
      from = undefined;
    }
  }
  return defects;
}

const humSize = 32_768;
const humHarmonics = 8;
const humRise = 10;
const leastHumHarmonics = 3;

/**
 * Hum of the mains: lines at multiples of 50 or 60 Hz that stand at least 10 dB above what lies between them, three of the first eight or
 * more, in the quietest spectrum that can be seen everywhere (the lower quartile over time, so that passing tones do not count).
 */
function findHum(audio: Audio): Defect[] {
  const frames = frameCount(audio);
  if (frames < humSize) return [];
  const spectra = sharedPowerSpectra(humSize);
  const samples = toMono(audio).channels[0]!;
  const count = Math.min(24, 1 + Math.floor((frames - humSize) / (humSize / 2)));
  const bins = Math.ceil((60 * (humHarmonics + 1) * humSize) / audio.sampleRate);
  const levels = Array.from({ length: bins }, () => new Float64Array(count));
  const startOf = (n: number): Frames => (count === 1 ? 0 : Math.round((n * (frames - humSize)) / (count - 1)));
  for (let n = 0; n < count; n++) {
    if (n % 2 === 0) spectra.take(samples, startOf(n), startOf(n + 1));
    const powers = n % 2 === 0 ? spectra.first : spectra.second;
    for (let bin = 0; bin < bins; bin++) levels[bin]![n] = 10 * Math.log10(powers[bin]! * (4 / humSize) ** 2 + 1e-14);
  }
  const steady = levels.map((list) => list.sort()[Math.floor(list.length / 4)]!);
  const lineAt = (frequency: Hertz): { level: number; rise: number } => {
    const centre = Math.round((frequency * humSize) / audio.sampleRate);
    let level = -Infinity;
    for (let bin = centre - 1; bin <= centre + 1; bin++) level = Math.max(level, steady[bin] ?? -140);
    const beside = [...steady.slice(centre - 9, centre - 3), ...steady.slice(centre + 4, centre + 10)].sort((a, b) => a - b);
    return { level, rise: level - (beside[Math.floor(beside.length * 0.75)] ?? level) };
  };
  for (const mains of [50, 60]) {
    const lines = Array.from({ length: humHarmonics }, (_, n) => ({ frequency: mains * (n + 1), ...lineAt(mains * (n + 1)) }));
    const standing = lines.filter(({ rise, level }) => rise >= humRise && level > -100);
    if (standing.length < leastHumHarmonics) continue;
    const loudest = standing.reduce((a, b) => (b.level > a.level ? b : a));
    return [
      {
        kind: 'hum',
        from: 0,
        to: frames / audio.sampleRate,
        detail: `${mains} Hz hum in ${standing.length} harmonics, loudest at ${loudest.frequency} Hz (${loudest.level.toFixed(0)} dBFS)`,
      },
    ];
  }
  return [];
}

/** A wave that does not swing around zero, from its beginning to its end. */
function findDirectCurrent(audio: Audio): Defect[] {
  const frames = frameCount(audio);
  const offsets = audio.channels.flatMap((channel) => {
    let sum = 0;
    let squares = 0;
    for (let i = 0; i < frames; i++) {
      sum += channel[i]!;
      squares += channel[i]! ** 2;
    }
    return isDirectCurrent(sum / frames, Math.sqrt(squares / frames)) ? [sum / frames] : [];
  });
  if (offsets.length === 0) return [];
  const worst = offsets.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a));
  return [{ kind: 'direct current', from: 0, to: frames / audio.sampleRate, detail: directCurrentText(worst) }];
}
