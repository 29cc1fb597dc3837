import type { Measurement } from '../analysis/loudness/measure';
import { directCurrentText, isDirectCurrent } from '../analysis/direct-current';
import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Remedy } from '../project/edits';
import type { Delivery, Encoding } from '../project/schema';
import type { Decibels, Frames, Seconds } from '../units';
import { decibelsToGain, gainToDecibels } from '../units';
import { formOf } from './form';
import { seamProblem } from './loops';
import type { DeliveryItem } from './plan';
import { loudnessTolerance } from './set-level';

/** Something about a file that should be known before it is written. */
export interface Finding {
  readonly severity: 'fault' | 'advice';
  readonly text: string;
  /** What could be done about it. */
  readonly remedies: readonly Remedy[];
}

/** True peak to which levels are mended, in dBTP. */
export const mendedPeak = -1;

const silenceFloor = decibelsToGain(-60);
const longestLead: Seconds = 0.05;
const longestTrail: Seconds = 0.5;
/** A leap from or to silence clicks above this level, if it is so many times the steps within the sound. */
const clickFloor = decibelsToGain(-40);
const clickRatio = 2;
const clickReach: Seconds = 0.005;

/**
 * Checks a rendered file: silence, clipping, peaks between samples, direct current, ends that click or are silent; of a loop, its seam. What could be
 * done about the seam depends on why it is a loop: one that is so as it stands has no fades to take off, and is one whatever is asked.
 */
export function checkFile(
  audio: Audio,
  measured: Measurement,
  { item: { loops, whole }, delivery }: { readonly item: Pick<DeliveryItem, 'loops' | 'whole'>; readonly delivery: Delivery },
): Finding[] {
  const findings: Finding[] = [];
  const { encoding } = formOf(delivery);
  if (frameCount(audio) === 0) return [{ severity: 'fault', text: 'The file would be empty: the sound has no clips.', remedies: [] }];
  if (measured.samplePeakDbfs === -Infinity) return [{ severity: 'fault', text: 'The file is silent.', remedies: [] }];
  findings.push(...checkLevel(audio, measured, encoding), ...(whole ? [] : checkTarget(measured, delivery)), ...checkMono(audio));
  if (isDirectCurrent(measured.dcOffset, decibelsToGain(measured.rmsDbfs)))
    findings.push({
      severity: 'fault',
      text: `The wave does not swing around zero: ${directCurrentText(measured.dcOffset)}.`,
      remedies: ['block direct current'],
    });
  const problem = loops ? seamProblem(audio) : undefined;
  if (problem !== undefined)
    findings.push({ severity: 'fault', text: problem, remedies: loops === 'as asked' ? ['open ends', 'ring out'] : [] });
  // Stems and their whole stay as they lie, so that they fit each other; what behaviours play does, too.
  const aligned = whole !== undefined || delivery.stems !== 'none' || delivery.content === 'behaviours';
  if (!loops) findings.push(...checkClicks(audio), ...(aligned ? [] : checkSilence(audio)));
  return findings;
}

function checkLevel(audio: Audio, { truePeakDbtp }: Measurement, encoding: Encoding): Finding[] {
  const { clipped, peak } = clippingOf(audio);
  const levels = ['change level', 'limit'] as const;
  if (clipped > 0 && encoding !== '32f')
    return [
      {
        severity: 'fault',
        text: `${clipped} samples clip; turn the sound down by ${(gainToDecibels(peak) + 0.1).toFixed(1)} dB or more.`,
        remedies: levels,
      },
    ];
  if (clipped > 0)
    return [
      {
        severity: 'advice',
        text: `${clipped} samples lie above full scale; float keeps them, but they clip where integers are used.`,
        remedies: levels,
      },
    ];
  if (truePeakDbtp <= 0) return [];
  return [
    {
      severity: 'advice',
      text: `Peaks between samples reach +${truePeakDbtp.toFixed(1)} dBTP and can clip in a converter or codec.`,
      remedies: levels,
    },
  ];
}

/** A target that was not reached, and by how much. */
function checkTarget({ integratedLufs, truePeakDbtp }: Measurement, { level, loudness, ceiling }: Delivery): Finding[] {
  const missing = loudness - integratedLufs;
  if (level !== 'loudness' || !(Math.abs(missing) > 2 * loudnessTolerance)) return [];
  const held = truePeakDbtp > ceiling - 1;
  return [
    {
      severity: 'advice',
      text: `It comes to ${signed(integratedLufs)} LUFS in place of ${signed(loudness)}${held ? `: its peaks are held at ${signed(ceiling)} dBTP` : ''}.`,
      remedies: [],
    },
  ];
}

/** How much quieter a stereo sound may become where it is summed to one channel. */
const mostMonoLoss: Decibels = 6;

/** What is lost where both channels are played by one loudspeaker. */
function checkMono(audio: Audio): Finding[] {
  const [left, right] = audio.channels;
  if (!left || !right || audio.channels.length !== 2) return [];
  let apart = 0;
  let together = 0;
  for (let i = 0; i < left.length; i++) {
    apart += left[i]! ** 2 + right[i]! ** 2;
    together += (left[i]! + right[i]!) ** 2;
  }
  // What is the same on both sides gains 3 dB over two that have nothing in common; that is what a loss is measured from.
  const loss = -10 * Math.log10(together / (2 * apart));
  if (!(loss > mostMonoLoss)) return [];
  return [
    { severity: 'advice', text: `In mono it loses ${Math.min(loss, 99).toFixed(0)} dB: its sides work against each other.`, remedies: [] },
  ];
}

const signed = (value: number): string => value.toFixed(1).replace('-', '−');

function checkClicks(audio: Audio): Finding[] {
  const begins = leap(audio, 0, 1);
  const ending = leap(audio, frameCount(audio) - 1, -1);
  const told = [begins > 0 && `begins at ${dB(begins)}`, ending > 0 && `ends at ${dB(ending)}`].filter(Boolean).join(' and ');
  return told === '' ? [] : [{ severity: 'advice', text: `The wave ${told}, which clicks.`, remedies: ['fade ends'] }];
}

function checkSilence(audio: Audio): Finding[] {
  const findings: Finding[] = [];
  const ends = silentEnds(audio);
  if (ends.lead > longestLead)
    findings.push({
      severity: 'advice',
      text: `Starts with ${ends.lead.toFixed(3)} s of silence; in a game it will come late.`,
      remedies: ['trim'],
    });
  if (ends.trail > longestTrail)
    findings.push({ severity: 'advice', text: `Ends with ${ends.trail.toFixed(3)} s of silence.`, remedies: ['trim'] });
  return findings;
}

/** The level at which a file leaps from or to silence at `end`; 0 where it is no more than how the sound moves there anyway. */
function leap({ channels, sampleRate }: Audio, end: Frames, inwards: 1 | -1): number {
  let worst = 0;
  for (const channel of channels) {
    const level = Math.abs(channel[end]!);
    const reach = Math.min(channel.length - 1, Math.round(clickReach * sampleRate));
    let step = 0;
    for (let k = 1; k <= reach; k++) step = Math.max(step, Math.abs(channel[end + k * inwards]! - channel[end + (k - 1) * inwards]!));
    if (level > clickFloor && level > clickRatio * step) worst = Math.max(worst, level);
  }
  return worst;
}

const dB = (gain: number): string => `${gainToDecibels(gain).toFixed(0)} dB`.replace('-', '−');

/** How many samples pass full scale, and the largest of all. */
function clippingOf(audio: Audio): { readonly clipped: number; readonly peak: number } {
  let clipped = 0;
  let peak = 0;
  for (const channel of audio.channels)
    for (let i = 0; i < channel.length; i++) {
      const magnitude = Math.abs(channel[i]!);
      if (magnitude > 1) clipped++;
      if (magnitude > peak) peak = magnitude;
    }
  return { clipped, peak };
}

/** Length of what lies below -60 dBFS at both ends. */
function silentEnds(audio: Audio): { lead: Seconds; trail: Seconds } {
  const { first, last } = soundingPart(audio);
  return { lead: first / audio.sampleRate, trail: (frameCount(audio) - last) / audio.sampleRate };
}

/** The first frame above -60 dBFS and the one behind the last; both at the end where there is none. */
export function soundingPart(audio: Audio): { first: Frames; last: Frames } {
  const frames = frameCount(audio);
  const silent = (i: number): boolean => audio.channels.every((channel) => Math.abs(channel[i]!) < silenceFloor);
  let first = 0;
  while (first < frames && silent(first)) first++;
  let last = frames;
  while (last > first && silent(last - 1)) last--;
  return { first, last };
}

/** How much is left in front of and behind what sounds, and fades from and to nothing. */
const leadLeft: Seconds = 0.002;
const trailLeft: Seconds = 0.05;

/** Leaves out silence at both ends, with a short fade in what is left of it, where it lies. The lead that went away is told in frames. */
export function trimSilence(audio: Audio): { readonly audio: Audio; readonly lead: Frames } {
  const { first, last } = soundingPart(audio);
  const frames = frameCount(audio);
  if (first >= last) return { audio, lead: 0 };
  const from = Math.max(0, first - Math.round(leadLeft * audio.sampleRate));
  const to = Math.min(frames, last + Math.round(trailLeft * audio.sampleRate));
  const channels = audio.channels.map((channel) => {
    const part = channel.subarray(from, to);
    const fadeIn = from > 0 ? first - from : 0;
    const fadeOut = to < frames ? to - last : 0;
    for (let i = 0; i < fadeIn; i++) part[i]! *= (i + 0.5) / fadeIn;
    for (let i = 0; i < fadeOut; i++) part[part.length - 1 - i]! *= (i + 0.5) / fadeOut;
    return part;
  });
  return { audio: { ...audio, channels }, lead: from };
}
