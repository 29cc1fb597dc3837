import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Decibels } from '../units';
import { gainToDecibels } from '../units';

/** Largest sample magnitude over all channels, in dBFS. */
export function measureSamplePeak(audio: Audio): Decibels {
  let peak = 0;
  for (const channel of audio.channels) for (let i = 0; i < channel.length; i++) peak = Math.max(peak, Math.abs(channel[i]!));
  return gainToDecibels(peak);
}

/** Root mean square over all samples of all channels, in dBFS (a full-scale sine reads -3.01). */
export function measureRms(audio: Audio): Decibels {
  let sum = 0;
  let count = 0;
  for (const channel of audio.channels) {
    for (let i = 0; i < channel.length; i++) sum += channel[i]! * channel[i]!;
    count += channel.length;
  }
  return count > 0 ? gainToDecibels(Math.sqrt(sum / count)) : -Infinity;
}

/** Mean of all samples of the channel whose mean is farthest from 0; full scale is 1. */
export function measureDcOffset(audio: Audio): number {
  const frames = frameCount(audio);
  let offset = 0;
  for (const channel of audio.channels) {
    let sum = 0;
    for (let i = 0; i < frames; i++) sum += channel[i]!;
    const mean = frames > 0 ? sum / frames : 0;
    if (Math.abs(mean) > Math.abs(offset)) offset = mean;
  }
  return offset;
}
