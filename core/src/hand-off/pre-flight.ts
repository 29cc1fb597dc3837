import type { Measurement } from '../analysis/loudness/measure';
import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Encoding } from '../project/schema';
import type { Seconds } from '../units';
import { decibelsToGain } from '../units';

/** Something about a file that should be known before it is written. */
export interface Finding {
  readonly severity: 'fault' | 'advice';
  readonly text: string;
}

const silenceFloor = decibelsToGain(-60);
const longestLead: Seconds = 0.05;
const longestTrail: Seconds = 0.5;

/** Checks a rendered file: silence, clipping, peaks between samples, silent ends. */
export function checkFile(audio: Audio, measured: Measurement, encoding: Encoding): Finding[] {
  const findings: Finding[] = [];
  if (frameCount(audio) === 0) return [{ severity: 'fault', text: 'The file would be empty: the sound has no clips.' }];
  if (measured.samplePeakDbfs === -Infinity) return [{ severity: 'fault', text: 'The file is silent.' }];
  const clipped = countClipped(audio);
  if (clipped > 0 && encoding !== '32f')
    findings.push({
      severity: 'fault',
      text: `${clipped} samples clip; turn the sound down by ${(measured.samplePeakDbfs + 0.1).toFixed(1)} dB or more.`,
    });
  else if (clipped > 0)
    findings.push({
      severity: 'advice',
      text: `${clipped} samples lie above full scale; float keeps them, but they clip where integers are used.`,
    });
  else if (measured.truePeakDbtp > 0)
    findings.push({
      severity: 'advice',
      text: `Peaks between samples reach +${measured.truePeakDbtp.toFixed(1)} dBTP and can clip in a converter or codec.`,
    });
  const ends = silentEnds(audio);
  if (ends.lead > longestLead)
    findings.push({ severity: 'advice', text: `Starts with ${ends.lead.toFixed(3)} s of silence; in a game it will come late.` });
  if (ends.trail > longestTrail) findings.push({ severity: 'advice', text: `Ends with ${ends.trail.toFixed(3)} s of silence.` });
  return findings;
}

function countClipped(audio: Audio): number {
  let count = 0;
  for (const channel of audio.channels) for (let i = 0; i < channel.length; i++) if (Math.abs(channel[i]!) > 1) count++;
  return count;
}

/** Length of what lies below -60 dBFS at both ends. */
function silentEnds(audio: Audio): { lead: Seconds; trail: Seconds } {
  const frames = frameCount(audio);
  const silent = (i: number): boolean => audio.channels.every((channel) => Math.abs(channel[i]!) < silenceFloor);
  let first = 0;
  while (first < frames && silent(first)) first++;
  let last = frames;
  while (last > first && silent(last - 1)) last--;
  return { lead: first / audio.sampleRate, trail: (frames - last) / audio.sampleRate };
}
