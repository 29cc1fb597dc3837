import type { Audio } from '../audio/audio';
import { sharedPowerSpectra } from '../dsp/power-spectra';
import type { Decibels, Frames, Seconds } from '../units';

/** The beginning of something in a recording. */
export interface Onset {
  readonly time: Seconds;
  /** How far it stands out, in mean dB of rise per band. */
  readonly strength: number;
}

const size = 512;
const hop = 128;
/** Bands quieter than this, in dBFS, rise and fall unheard. */
const floorDb = -75;
/** How far a peak of the flux must stand above one and a half times the median around it, in mean dB per band. */
const leastRise = 2.8;
/** Below this rise, an onset must also make the sound louder. */
const weakRise = 4.5;
/** A burst of half a millisecond this far above the 20 ms before it is an onset even where no band as a whole rises. */
const leastJump: Decibels = 10;
const burst: Frames = 24;
/** Mean square below which a jump is not heard. */
const quiet = 1e-7;
const medianReach = 40;
/** Onsets nearer together than this are one. */
const apart: Seconds = 0.03;

/** The channel that carries most energy; onsets are looked for in it. */
export function loudestChannel(audio: Audio): Float32Array {
  if (audio.channels.length === 1) return audio.channels[0]!;
  let best = audio.channels[0] ?? new Float32Array(0);
  let most = -1;
  for (const channel of audio.channels) {
    let energy = 0;
    for (let i = 0; i < channel.length; i++) energy += channel[i]! * channel[i]!;
    if (energy > most) {
      most = energy;
      best = channel;
    }
  }
  return best;
}

/**
 * Onsets by spectral flux: the half-wave rectified rise of the level in third-octave bands of a short-time spectrum (512 samples, hop 128),
 * peaks picked above an adaptive median threshold (Bello et al. 2005; Dixon 2006). Clicks too short to raise a band are found by the
 * jump of their energy over half a millisecond. Each onset is then placed where the energy of the next 2 ms stands highest above that of the
 * 2 ms before. A click whose peak is 20 dB above the noise around it is found within 2 ms.
 */
export function findOnsets(audio: Audio): Onset[] {
  const samples = loudestChannel(audio);
  const novelty = spectralNovelty(samples);
  addJumps(samples, novelty);
  const reach = Math.ceil((apart * audio.sampleRate) / hop);
  const onsets: Onset[] = [];
  for (let n = 0; n < novelty.length; n++) {
    const strength = novelty[n]!;
    if (strength <= 0) continue;
    let highest = true;
    for (let k = Math.max(0, n - reach); k <= Math.min(novelty.length - 1, n + reach) && highest; k++)
      highest = novelty[k]! < strength || (novelty[k] === strength && k >= n);
    if (!highest) continue;
    const place = placeOnset(samples, n * hop - size / 2, n * hop + size / 2);
    if (strength < weakRise && !getsLouder(samples, place)) continue;
    const time = place / audio.sampleRate;
    if (onsets.length === 0 || time - onsets.at(-1)!.time >= apart) onsets.push({ time, strength });
  }
  return onsets;
}

/** A weak rise counts only where something becomes louder: while a sound dies away, its bands flicker. */
function getsLouder(samples: Float32Array, place: Frames): boolean {
  const span = 2 * hop;
  let before = 0;
  let after = 0;
  for (let i = 1; i <= span; i++) before += (samples[place - i] ?? 0) ** 2;
  for (let i = 0; i < span; i++) after += (samples[place + i] ?? 0) ** 2;
  return after > 1.5 * before;
}

/** By how much the flux stands above its threshold, frame by frame; 0 where it does not. */
function spectralNovelty(samples: Float32Array): Float64Array {
  const flux = spectralFlux(samples);
  return flux.map((value, n) => {
    if (value < leastRise) return 0;
    const strength = value - 1.5 * medianAround(flux, n);
    return strength >= leastRise ? strength : 0;
  });
}

/** Adds the jumps of energy that the spectrum does not show; looked for in differences, so that slow waves do not count. */
function addJumps(samples: Float32Array, novelty: Float64Array): void {
  const span = 8 * hop;
  const energies = new Float64Array(Math.ceil(samples.length / burst));
  for (let n = 0; n < energies.length; n++)
    for (let i = Math.max(1, n * burst); i < (n + 1) * burst; i++) energies[n]! += ((samples[i] ?? 0) - (samples[i - 1] ?? 0)) ** 2 / burst;
  const before = Math.round(span / burst);
  let sum = 0;
  for (let n = 0; n < energies.length; n++) {
    const mean = sum / before;
    const jump = 10 * Math.log10((energies[n]! + quiet) / (mean + quiet));
    const frame = Math.round((n * burst) / hop);
    if (jump >= leastJump && frame < novelty.length) novelty[frame] = Math.max(novelty[frame]!, jump / 5);
    sum += energies[n]! - (n >= before ? energies[n - before]! : 0);
  }
}

/** First bins of bands of about a third of an octave, and of at least three bins. */
const bandEdges = ((): number[] => {
  const edges = [1];
  while (edges.at(-1)! < size / 2) edges.push(Math.min(size / 2, Math.max(edges.at(-1)! + 3, Math.round(edges.at(-1)! * 1.26))));
  return edges;
})();

/** Frames over which a rise is measured: an onset fills the window within that time. */
const lag = 2;

/**
 * Mean rise of the level of all bands over two frames, in dB; frame n is centred on sample n · hop, with silence before the start. Bands
 * average out the restlessness of noise, in which single bins rise and fall by themselves.
 */
function spectralFlux(samples: Float32Array): Float64Array {
  const spectra = sharedPowerSpectra(size);
  const bands = bandEdges.length - 1;
  const recent = Array.from({ length: lag + 1 }, () => new Float64Array(bands).fill(floorDb));
  const flux = new Float64Array(Math.ceil(samples.length / hop) + 1);
  const scale = (4 / size) ** 2;
  const least = Math.pow(10, floorDb / 10);
  for (let n = 0; n < flux.length; n++) {
    const start = n * hop - size / 2;
    if (n % 2 === 0) spectra.take(samples, start, start + hop);
    const powers = n % 2 === 0 ? spectra.first : spectra.second;
    const levels = recent[n % recent.length]!;
    const before = recent[(n + 1) % recent.length]!;
    let rise = 0;
    for (let band = 0; band < bands; band++) {
      let power = 0;
      const end = bandEdges[band + 1]!;
      for (let bin = bandEdges[band]!; bin < end; bin++) power += powers[bin]!;
      const level = power * scale > least ? 10 * Math.log10(power * scale) : floorDb;
      rise += Math.max(0, level - before[band]!);
      levels[band] = level;
    }
    flux[n] = rise / bands;
  }
  return flux;
}

function medianAround(values: Float64Array, n: number): number {
  const around = values.slice(Math.max(0, n - medianReach), n + medianReach + 1).sort();
  return around[Math.floor(around.length / 2)]!;
}

/** The sample within [from, to) where the energy of what follows stands highest above that of what came before. */
function placeOnset(samples: Float32Array, from: Frames, to: Frames): Frames {
  const span = 96;
  const first = Math.max(0, from);
  const last = Math.min(samples.length - 1, to);
  let after = 0;
  let before = 0;
  const energy = (i: number): number => (i >= 0 && i < samples.length ? samples[i]! * samples[i]! : 0);
  for (let i = 0; i < span; i++) {
    after += energy(first + i);
    before += energy(first - 1 - i);
  }
  let best = -Infinity;
  let place = first;
  for (let at = first; at <= last; at++) {
    // What must not win is a rise out of next to nothing: weigh the rise by the energy that it leads to.
    const score = after > 0 ? Math.log((after + 1e-9) / (before + 1e-9)) * Math.sqrt(after) : 0;
    if (score > best) {
      best = score;
      place = at;
    }
    after += energy(at + span) - energy(at);
    before += energy(at) - energy(at - span);
  }
  return place;
}
