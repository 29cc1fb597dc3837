import { contentPlace } from '../project/time/clip-times';
import { ClipPace } from '../project/time/clip-pace';
import type { CurvePoint } from '../project/schema';
import type { Note, Scale } from '../tuning';
import { nearestInScale } from '../tuning';
import type { Seconds, Semitones, Unit } from '../units';
import { simplified } from './simplified-curve';
import type { PitchReader } from './heard-pitch';
import type { Treatment } from './treatment';

/** What a clip is tuned to. */
export type TuneTarget =
  /** A note, or what is a whole number of octaves beside it and nearest. */
  | { readonly kind: 'note'; readonly note: Note; readonly anyOctave: boolean }
  | { readonly kind: 'scale'; readonly scale: Scale }
  /** What another sound has at the same moment, in the nearest octave; time in seconds after the clip's start. */
  | { readonly kind: 'sound'; readonly noteAt: (time: Seconds) => Note | undefined };

export interface TuneOptions {
  /** How far towards the target: 0 changes nothing, 1 all the way. */
  readonly amount: Unit;
  /** Every moment is tuned, not the clip as a whole. */
  readonly follow: boolean;
  /** How long every tone takes to arrive; the clip as a whole is there at once. */
  readonly time: Seconds;
  /** What swings around a tone goes on to do so. */
  readonly keepVibrato: boolean;
}

/** The pitch and the pitch curve of a tuned clip, in place of those that it had. */
export interface Tuning {
  readonly pitch: Semitones;
  readonly points: readonly CurvePoint[];
  /** The pitch of the clip as it was and as it will be: in the middle of all its moments. */
  readonly from: Note;
  readonly to: Note;
}

/** The step in which content is followed. */
const hop: Seconds = 0.01;
/** Longer content is followed in so many steps. */
const mostSteps = 60_000;
/** What is less periodic than this has no pitch that could be tuned. */
const certain = 0.8;
/** Less of what sounds has a pitch: then there is none to tune. */
const leastShare = 0.25;
/** A vibrato swings at 4 Hz and more: twice the length of its slowest round. */
const vibratoWindow: Seconds = 0.5;
/** Two tones of one sound lie farther apart than this. */
const leap: Semitones = 1.5;
/** A tone changes to the next one of the scale where it is so much nearer. */
const hysteresis: Semitones = 0.3;
/** A curve leaves out what moves it less than this. */
const tolerance: Semitones = 0.01;
const mostPoints = 900;

/** One moment of a clip's content that has a pitch. */
interface Moment {
  readonly into: Seconds;
  readonly time: Seconds;
  /** With the clip's speed, without its pitch. */
  readonly note: Note;
}

/**
 * Finds the pitch that brings a clip to a target. Returns the reason where that cannot be: where too little of it is periodic.
 * @param read the pitch of the clip's source; what is unknown counts as without pitch
 */
export function tuneClip(
  clip: Treatment,
  read: PitchReader,
  target: TuneTarget,
  options: TuneOptions,
): Tuning | { readonly reason: string } {
  const { tones, share } = tonesOf(clip, read);
  if (tones.length === 0 || share < leastShare)
    return { reason: `No pitch to tune: ${Math.round(share * 100)} % of what sounds here repeats evenly enough.` };
  const all = tones.flat();
  const middle = median(all.map(({ note }) => note));
  const aims = aimsFor(all, middle, target);
  if (!aims) return { reason: 'What it is to be tuned to has no pitch at the same time.' };
  const pitch = within(options.amount * median(aims.map((aim, n) => aim - all[n]!.note)));
  const to = middle + pitch;
  if (!options.follow) return { pitch, points: [], from: middle + clip.pitch, to };
  const points = tones.flatMap((tone) => correctionsOf(tone, middle, pitch, target, options, clip));
  return { pitch, points: simplified(ordered(points), tolerance, mostPoints), from: middle + clip.pitch, to };
}

/** Everything in a clip that has a pitch, tone by tone: from silence, noise or leap to the next. */
function tonesOf(clip: Treatment, read: PitchReader): { readonly tones: readonly (readonly Moment[])[]; readonly share: Unit } {
  const pace = new ClipPace(clip);
  const step = Math.max(hop, clip.length / mostSteps);
  const tones: Moment[][] = [];
  let sounding = 0;
  let pitched = 0;
  let last: Moment | undefined;
  for (let into = 0; into <= clip.length; into += step) {
    const heard = read(contentPlace(clip, into));
    if (heard && heard.confidence > 0) sounding++;
    if (heard?.note === undefined || heard.confidence < certain) continue;
    pitched++;
    const moment = { into, time: pace.timeOf(into), note: heard.note + clip.speed + pace.curveAt('speed', into) };
    if (last && into - last.into < 3.5 * step && Math.abs(moment.note - last.note) < leap) tones.at(-1)!.push(moment);
    else tones.push([moment]);
    last = moment;
  }
  return { tones, share: sounding === 0 ? 0 : pitched / sounding };
}

/** Where each moment is to be; undefined where the target is not there. */
function aimsFor(moments: readonly Moment[], middle: Note, target: TuneTarget): Note[] | undefined {
  if (target.kind === 'note') {
    const octaves = target.anyOctave ? 12 * Math.round((middle - target.note) / 12) : 0;
    return moments.map(() => target.note + octaves);
  }
  if (target.kind === 'scale') {
    let current = NaN;
    return moments.map(({ note }) => {
      const near = nearestInScale(target.scale, note);
      if (!(Math.abs(current - note) < Math.abs(near - note) + hysteresis)) current = near;
      return current;
    });
  }
  const theirs = moments.map(({ time }) => target.noteAt(time));
  const known = theirs.flatMap((note, n) => (note === undefined ? [] : [note - moments[n]!.note]));
  if (known.length === 0) return undefined;
  const between = median(known);
  const octaves = 12 * Math.round(between / 12);
  // Where the other is silent, what it does in the middle counts.
  return moments.map(({ note }, n) => (theirs[n] ?? note + between) - octaves);
}

/** What is added to the pitch of the whole along one tone. */
function correctionsOf(
  tone: readonly Moment[],
  middle: Note,
  whole: Semitones,
  target: TuneTarget,
  { amount, time, keepVibrato }: TuneOptions,
  clip: Treatment,
): CurvePoint[] {
  const centred = keepVibrato ? centresOf(tone) : tone;
  const aims = aimsFor(centred, middle, target) ?? [];
  let moved = 0;
  let before: Seconds | undefined;
  return centred.map(({ into, time: at, note }, n) => {
    const wanted = amount * (aims[n]! - note) - whole;
    const passed = before === undefined ? 0 : at - before;
    moved = time === 0 ? wanted : moved + (wanted - moved) * -Math.expm1((-3 * passed) / time);
    before = at;
    return { at: clip.reversed ? clip.offset + clip.length - into : clip.offset + into, value: moved };
  });
}

/** The pitch that a tone swings around: its mean over a window that no vibrato passes, weighed by a Hann window. */
function centresOf(tone: readonly Moment[]): Moment[] {
  const half = vibratoWindow / 2;
  const [start, end] = [tone[0]!.time, tone.at(-1)!.time];
  let first = 0;
  return tone.map((moment) => {
    // Towards its ends a tone is looked at less far, and evenly to both sides: the slope of a glide would count as its centre.
    const reach = Math.max(half / 2, Math.min(half, moment.time - start, end - moment.time));
    while (tone[first]!.time <= moment.time - half) first++;
    let sum = 0;
    let weights = 0;
    for (let i = first; i < tone.length && tone[i]!.time < moment.time + reach; i++) {
      const beside = (tone[i]!.time - moment.time) / reach;
      if (beside <= -1) continue;
      const weight = 0.5 + 0.5 * Math.cos(Math.PI * beside);
      sum += weight * tone[i]!.note;
      weights += weight;
    }
    return { ...moment, note: sum / weights };
  });
}

function ordered(points: readonly CurvePoint[]): CurvePoint[] {
  return [...points].sort((a, b) => a.at - b.at);
}

function within(pitch: Semitones): Semitones {
  return Math.max(-36, Math.min(36, pitch));
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[sorted.length >> 1] ?? 0;
}
