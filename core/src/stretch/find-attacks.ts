import { findOnsets, loudestChannel } from '../analysis/onsets';
import type { Audio } from '../audio/audio';
import type { Decibels, Frames, Seconds, Unit } from '../units';

/** How far behind an onset its attack may stand up: onsets are placed where the energy of the next 2 ms begins to differ. */
const reach: Seconds = 0.004;
/** An attack stands where the first sample is this part of the loudest in reach. */
const foot: Unit = 0.25;
/** By how much the 10 ms behind an attack are louder than the 10 ms before it; less is heard as a change, not as an attack. */
const leastRise: Decibels = 6;

/** The moments of a recording at which something strikes, in frames: onsets that make the sound suddenly louder, where their first loud sample is. */
export function findAttacks(audio: Audio): Frames[] {
  const samples = loudestChannel(audio);
  const attacks: Frames[] = [];
  for (const { time } of findOnsets(audio)) {
    const onset = Math.max(0, Math.round(time * audio.sampleRate));
    const attack = footOf(samples, onset, Math.round(reach * audio.sampleRate));
    const span = Math.round(0.01 * audio.sampleRate);
    const rise = 10 * Math.log10((energy(samples, attack, attack + span) + 1e-9) / (energy(samples, attack - span, attack) + 1e-9));
    if (rise >= leastRise && attack > (attacks.at(-1) ?? -1)) attacks.push(attack);
  }
  return attacks;
}

function footOf(samples: Float32Array, onset: Frames, reach: Frames): Frames {
  const last = Math.min(samples.length, onset + reach);
  let loudest = 0;
  for (let i = onset; i < last; i++) loudest = Math.max(loudest, Math.abs(samples[i]!));
  for (let i = onset; i < last; i++) if (Math.abs(samples[i]!) >= foot * loudest) return i;
  return onset;
}

function energy(samples: Float32Array, from: Frames, to: Frames): number {
  let sum = 0;
  for (let i = Math.max(0, from); i < Math.min(samples.length, to); i++) sum += samples[i]! * samples[i]!;
  return sum;
}
