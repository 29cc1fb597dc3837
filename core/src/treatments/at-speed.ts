import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { changeSpeed, playAlong, resampledLength } from '../audio/resample';
import type { Clip } from '../project/schema';
import { ContentWalk, timeOfContent, unstretched } from '../project/time/clip-pace';
import type { Frames, Hertz } from '../units';
import { semitonesToRatio } from '../units';
import type { LoopedPart } from './looped';
import { isWholeRounds, loopContent, loopContentWithin } from './looped';

/** What decides how a clip's content sounds at its speed. */
export type SpeedTreatment = Pick<Clip, 'offset' | 'length' | 'speed' | 'reversed' | 'loop' | 'curves'>;

/** True when a clip plays its source as it is; parts of the source then share its memory. */
export function isAtOwnSpeed({ speed, curves, reversed, loop }: SpeedTreatment): boolean {
  return speed === 0 && !curves?.speed && !reversed && !loop;
}

/** True for a loop and nothing else: it is played round by round out of its source, however long it lasts. */
export function isPlainLoop({ speed, curves, reversed, loop }: SpeedTreatment): boolean {
  return loop !== undefined && speed === 0 && !curves?.speed && !reversed;
}

/** What is held of a plain loop: the content up to the end of its first whole round, which then comes again and again. */
export interface Rounds {
  readonly audio: Audio;
  /** Frames of a round: where the clip goes on behind the content, its last ones. */
  readonly period: Frames;
}

/** Frames that are held of a plain loop: no more than the clip has, and none where the part that repeats has no length. */
export function heldFrames(audio: Audio, { offset, length, loop }: SpeedTreatment): Frames {
  const start = Math.min(frameCount(audio), Math.round(offset * audio.sampleRate));
  const part = partOf(loop, audio);
  if (!part || part.to - part.from < 1) return 0;
  return Math.min(Math.max(0, Math.round(length * audio.sampleRate)), Math.max(0, part.to - start) + part.to - part.from);
}

/** The rounds of a plain loop, with the samples that `playAtSpeed` gives; none where the part that repeats has no length. */
export function roundsOf(audio: Audio, treatment: SpeedTreatment): Rounds | undefined {
  const start = Math.min(frameCount(audio), Math.round(treatment.offset * audio.sampleRate));
  const part = partOf(treatment.loop, audio);
  if (!part || part.to - part.from < 1) return undefined;
  return { audio: loopContent(audio, start, heldFrames(audio, treatment), part), period: part.to - part.from };
}

/** The part that repeats, in frames of the recording. */
function partOf(loop: SpeedTreatment['loop'], audio: Audio): LoopedPart | undefined {
  const { sampleRate } = audio;
  return (
    loop && {
      from: Math.round(loop.from * sampleRate),
      to: Math.min(frameCount(audio), Math.round(loop.to * sampleRate)),
      crossfade: Math.round(loop.crossfade * sampleRate),
    }
  );
}

/** Frames around a part that still shape its edges when its speed is changed. */
const margin = 512;

/** The content of a clip: the used part of the source, looped, turned round, and played at the clip's speed. */
export function playAtSpeed(audio: Audio, treatment: SpeedTreatment): Audio {
  const { offset, length, speed, curves, reversed, loop } = treatment;
  const speedCurve = curves?.speed;
  const { sampleRate } = audio;
  const frames = frameCount(audio);
  const start = Math.min(frames, Math.round(offset * sampleRate));
  const wanted = Math.max(0, Math.round(length * sampleRate));
  const count = Math.min(frames - start, wanted);
  if (isAtOwnSpeed(treatment)) return { sampleRate, channels: audio.channels.map((channel) => channel.subarray(start, start + count)) };
  // Fractions of a frame are kept, so that the parts of a split clip are as long together as the whole.
  const from = Math.min(frames, offset * sampleRate);
  const played = Math.min(frames - from, length * sampleRate);
  if (!loop && !reversed)
    return speedCurve ? playAlong(audio, placesOf(treatment, sampleRate, from)) : changeSpeed(audio, semitonesToRatio(speed), from, played);

  let content: Audio;
  let lead: Frames;
  const part = partOf(loop, audio);
  if (part) {
    content = loopContentWithin(audio, start, wanted, part, margin);
    lead = margin;
  } else {
    const first = Math.max(0, start - margin);
    const last = Math.min(frames, start + count + margin);
    lead = last - from - played;
    content = { sampleRate, channels: audio.channels.map((channel) => channel.subarray(first, last)) };
  }
  if (reversed) content = { sampleRate, channels: content.channels.map((channel) => channel.slice().reverse()) };
  if (speedCurve) return playAlong(content, placesOf(treatment, sampleRate, lead));
  const used = loop ? wanted : count;
  const whole = Math.round(lead);
  if (speed === 0) return { sampleRate, channels: content.channels.map((channel) => channel.subarray(whole, whole + used)) };
  const ratio = semitonesToRatio(speed);
  // Whole rounds stay whole: their length is brought to a whole frame, so that the end goes on at the beginning.
  if (part && isWholeRounds(start, wanted, part)) return changeSpeed(content, wanted / resampledLength(wanted, ratio), lead, wanted);
  return changeSpeed(content, ratio, lead, part ? length * sampleRate : played);
}

/** Where in the prepared content each frame of a clip with a speed curve is read; `first` is where the content begins in it. */
function placesOf(treatment: SpeedTreatment, sampleRate: Hertz, first: Frames): Float64Array {
  const paced = unstretched({ ...treatment, stretch: 1 });
  const frames = Math.max(1, Math.round(timeOfContent(paced, treatment.length) * sampleRate));
  const walk = new ContentWalk(paced);
  return Float64Array.from({ length: frames }, (_, i) => first + walk.at(i / sampleRate) * sampleRate);
}
