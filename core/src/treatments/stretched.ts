import type { Progress } from '../cancelled';
import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { mainPitch, trackPitch } from '../analysis/pitch';
import { clipDuration } from '../project/time/clip-times';
import { beyondStretched, stretchedPart } from '../project/time/stretched-part';
import { ClipPace, pacePlaces, timeOfContent, unstretched } from '../project/time/clip-pace';
import type { Corner, MethodChoice, RetuneOptions, Strain } from '../stretch';
import { chooseMethod, findAttacks, measureStrain, retune, TimeMap } from '../stretch';
import type { Frames, Hertz, Ratio, Seconds, Semitones, Stretch } from '../units';
import { semitonesToRatio } from '../units';
import { isAtOwnSpeed, playAtSpeed } from './at-speed';
import type { Treatment } from './treatment';

/** A stretched clip of more samples cannot be held beside everything else. */
const mostSamples = 2 ** 29;
/** Stretches that bend are followed in steps of so much content, or in so many steps. */
const bendStep: Seconds = 0.01;
const mostSteps = 20_000;
/** With less of its energy in partials, what lies between attacks is noise. */
const mostlyNoise = 0.35;
/** Above this the method is “vast”. */
export const mostByOtherMethods = 4;

/** What tells a stretch apart from all others: what it was made from, and all that was done to it. */
export function stretchKey(identity: string, treatment: Treatment): string {
  const { offset, length, speed, stretch, pitch, formant, keepFormants, method, wear, grain, attack, curves, loop } =
    stretchedPart(treatment);
  const pinned = treatment.pins && [treatment.pins, treatment.reversed];
  const how = [speed, stretch, pitch, formant, keepFormants, method, wear, grain, attack, curves ?? null, loop ?? null, pinned ?? null];
  return JSON.stringify([identity, offset, length, ...how]);
}

/** What has been found out about a content; more is added to it as it is needed. */
export interface Findings {
  attacks?: readonly Frames[];
  choice?: MethodChoice;
  /** The pitch of all of it; null where it has none. */
  fundamental?: Hertz | null;
}

/** What goes along with the making of a stretched clip. */
export interface MakingHelp {
  readonly findings?: Findings;
  readonly progress?: Progress;
}

/** What tells the content of a stretched clip apart from all others, whatever is done to it: findings about one hold for all that share it. */
export function contentKey(identity: string, treatment: Treatment): string {
  const part = stretchedPart(treatment);
  return JSON.stringify([identity, part.offset, part.length, part.speed, part.curves?.speed, part.loop, beyondStretched(part)]);
}

/** What a clip shows of what was stretched for it. */
export function showStretched(made: Audio, treatment: Treatment): Audio {
  const { sampleRate } = made;
  const { from, frames } = shownOf(treatment, sampleRate);
  const channels = made.channels.map((channel) => {
    const shown = channel.subarray(from, from + frames);
    return treatment.reversed ? shown.slice().reverse() : shown;
  });
  return { sampleRate, channels };
}

/** Which frames of its part a clip shows. */
function shownOf(treatment: Treatment, sampleRate: Hertz): { readonly from: Frames; readonly frames: Frames } {
  const part = stretchedPart(treatment);
  const from = treatment.pins ? 0 : Math.round(timeOfContent(part, treatment.offset - part.offset) * sampleRate);
  return { from, frames: Math.max(1, Math.round(clipDuration(treatment) * sampleRate)) };
}

/** How the content of a clip is stretched where it says “auto”, and why. */
export function methodFor(audio: Audio, treatment: Treatment): MethodChoice {
  const part = stretchedPart(treatment);
  return chooseMethod(atSpeed(audio, part, { from: 0, to: part.length }).audio);
}

/**
 * Stretches and shifts the part of the source that a clip shows some of. Throws RangeError where the result would be too long to be held.
 * Throws Cancelled when `progress` says so.
 * @param help findings about its content (see `contentKey`), which are added to; who hears how much is done
 */
export function makeStretched(audio: Audio, treatment: Treatment, { findings, progress }: MakingHelp = {}): Audio {
  const { content, map, frames, options } = planOf(audio, treatment, findings);
  return retune(content, map, frames, { ...options, ...(progress && { progress }) });
}

/** How long what `makeStretched` makes for a clip is: more than the clip shows, where it is a part of a longer stretch. */
export function stretchedLength(treatment: Treatment): Seconds {
  return clipDuration(treatment.pins ? treatment : stretchedPart(treatment));
}

/** What lies beyond a piece on either side while it is stretched, so that its attacks and its method are told as they are in the whole. */
const beyondPiece: Seconds = 1;
/** How long the ends of a piece are faded. */
const softened: Frames = 480;

/** A piece of what `makeStretched` would make: `audio` begins at its frame `from`. */
export interface StretchedPiece {
  readonly audio: Audio;
  readonly from: Frames;
}

/** Which frames of what is made for a clip are heard between two moments of it, counted from its start in the order of playing. */
export function pieceSpan(treatment: Treatment, sampleRate: Hertz, span: Stretch): { readonly from: Frames; readonly to: Frames } {
  const shown = shownOf(treatment, sampleRate);
  const first = Math.max(0, Math.min(shown.frames, Math.round(span.from * sampleRate)));
  const last = Math.max(first, Math.min(shown.frames, Math.round(span.to * sampleRate)));
  return treatment.reversed
    ? { from: shown.from + shown.frames - last, to: shown.from + shown.frames - first }
    : { from: shown.from + first, to: shown.from + last };
}

/**
 * Stretches a few seconds of what `makeStretched` would make, from frame `from` up to frame `to`, without looking at the rest: soon there, and
 * as good, but not sample for sample the same. Throws Cancelled when `progress` says so.
 */
export function makeStretchedPiece(
  audio: Audio,
  treatment: Treatment,
  { from, to }: { readonly from: Frames; readonly to: Frames },
  progress?: Progress,
): StretchedPiece {
  const { content, map, frames, options } = planOf(audio, treatment, {}, { from, to });
  const made = retune(content, map, frames, { ...options, ...(progress && { progress }) });
  for (const channel of made.channels) softenEnds(channel, from > 0);
  return { audio: made, from };
}

/** Lets a piece begin and end without a click, should it be played beyond its ends before there is more. */
function softenEnds(samples: Float32Array, atStart: boolean): void {
  const last = samples.length - 1;
  for (let i = 0; i < Math.min(softened, samples.length / 2); i++) {
    if (atStart) samples[i]! *= i / softened;
    samples[last - i]! *= i / softened;
  }
}

/** What a clip shows of a piece: `from` counts from the clip's start. */
export function showPiece({ audio, from }: StretchedPiece, treatment: Treatment): StretchedPiece {
  const { sampleRate, channels } = audio;
  const shown = shownOf(treatment, sampleRate);
  const first = Math.max(0, shown.from - from);
  const last = Math.max(first, Math.min(frameCount(audio), shown.from + shown.frames - from));
  const heard = channels.map((channel) => channel.subarray(first, last));
  const at = from + first - shown.from;
  if (!treatment.reversed) return { audio: { sampleRate, channels: heard }, from: at };
  return { audio: { sampleRate, channels: heard.map((channel) => channel.slice().reverse()) }, from: shown.frames - at - (last - first) };
}

/**
 * What the stretch of a clip has done to its sound; moments are counted from the clip's start, in the order of playing.
 * @param made the result of `makeStretched`, where that is there already
 */
export function strainOf(audio: Audio, treatment: Treatment, made = makeStretched(audio, treatment)): Strain {
  const { sampleRate } = audio;
  const { content, map, options } = planOf(audio, treatment);
  const { from, frames } = shownOf(treatment, sampleRate);
  const shown = showStretched(made, { ...treatment, reversed: false });
  const { pitch } = options;
  const ratioAt = (at: Frames): Ratio => semitonesToRatio(typeof pitch === 'number' ? pitch : pitch(at + from));
  const strain = measureStrain(content, shown, map.shifted(-from), ratioAt);
  if (!treatment.reversed) return strain;
  const end = frames / sampleRate;
  const moments = strain.moments.map((moment, n) => ({ ...moment, time: end - (strain.moments[n + 1]?.time ?? end) })).reverse();
  return { ...strain, moments };
}

/** All that is needed to stretch the part of the source that a clip shows some of, or the frames of a piece of what comes out. */
function planOf(
  audio: Audio,
  treatment: Treatment,
  findings: Findings = {},
  piece?: { readonly from: Frames; readonly to: Frames },
): { readonly content: Audio; readonly map: TimeMap; readonly frames: Frames; readonly options: RetuneOptions } {
  const { sampleRate } = audio;
  const whole = stretchedPart(treatment);
  const available = whole.loop ? Infinity : Math.max(0, frameCount(audio) / sampleRate - whole.offset);
  const part = { ...whole, length: Math.min(whole.length, available) };
  // With pins the part is the clip itself, whose beginning and end stay where they are.
  const timed = treatment.pins ? treatment : part;
  const frames = Math.max(1, Math.round(clipDuration(timed) * sampleRate));
  if (frames * audio.channels.length > mostSamples)
    throw new RangeError(`A stretched clip of ${Math.round(frames / sampleRate / 60)} minutes is too long to be held.`);

  const start = piece?.from ?? 0;
  const moving = optionsFor(timed, sampleRate, start);
  const beyond = beyondStretched(part);
  const places = piece ? placesAround(piece, timed, part, sampleRate, beyond + beyondPiece) : { from: 0, to: part.length };
  const { audio: content, lead } = atSpeed(audio, part, { from: places.from - beyond, to: places.to + beyond });
  // Partials and grains look for no attacks.
  const withoutAttacks = part.stretch <= mostByOtherMethods && (part.method === 'tones' || part.method === 'texture');
  const attacks = withoutAttacks ? [] : (findings.attacks ??= findAttacks(content));
  const { method, choice } = methodOf(content, part, attacks, findings);
  const fundamental = moving.formant ? fundamentalOf(content, findings) : undefined;
  const options: RetuneOptions = {
    ...moving,
    method,
    ...(choice && { noisy: choice.tonal < mostlyNoise }),
    ...((method === 'hits' || method === 'vast') && { attacks }),
    ...(fundamental !== undefined && { fundamental }),
  };
  const map = mapOf(timed, part, lead, sampleRate);
  return piece ? { content, map: map.shifted(-start), frames: piece.to - start, options } : { content, map, frames, options };
}

/** The content that is heard in a piece of what comes out, and so much around it. */
function placesAround(
  { from, to }: { readonly from: Frames; readonly to: Frames },
  timed: Treatment,
  part: Treatment,
  sampleRate: Hertz,
  around: Seconds,
): Stretch {
  const map = mapOf(timed, part, 0, sampleRate);
  const loose = new ClipPace(unstretched(part));
  const placeAt = (output: Frames): Seconds => loose.contentAt(map.inputAt(output) / sampleRate);
  return { from: Math.max(0, placeAt(from) - around), to: Math.min(part.length, placeAt(to) + around) };
}

/** The method of a clip, and what was found out about its content where that counts. */
function methodOf(
  content: Audio,
  { method, stretch }: Treatment,
  attacks: readonly Frames[],
  findings: Findings,
): { readonly method: RetuneOptions['method']; readonly choice: MethodChoice | undefined } {
  if (method === 'vast' || stretch > mostByOtherMethods) return { method: 'vast', choice: undefined };
  const choice = method === 'auto' || method === 'hits' ? (findings.choice ??= chooseMethod(content, attacks)) : undefined;
  return { method: method === 'auto' ? choice!.method : method, choice };
}

function fundamentalOf(content: Audio, findings: Findings): Hertz | undefined {
  findings.fundamental ??= mainPitch(trackPitch(content, { hop: 0.1 })).frequency ?? null;
  return findings.fundamental ?? undefined;
}

/**
 * A part, or what lies between two places of it, at its speed: as much of it as the source has. Places before 0 lie before the part; `lead` is
 * where the part begins in what is returned.
 */
function atSpeed(audio: Audio, part: Treatment, places: Stretch): { readonly audio: Audio; readonly lead: Frames } {
  const { sampleRate } = audio;
  // Rounds are counted from the beginning of the part: of a loop, what lies before a later place is left out afterwards.
  const first = part.loop ? Math.min(0, places.from) : places.from;
  const before = Math.min(part.offset, Math.round(-first * sampleRate) / sampleRate);
  const outer = { ...part, offset: part.offset - before, length: before + places.to };
  if (isAtOwnSpeed(outer)) {
    const from = Math.round(outer.offset * sampleRate);
    const to = Math.min(frameCount(audio), Math.round((outer.offset + outer.length) * sampleRate));
    return { audio: { sampleRate, channels: audio.channels.map((channel) => channel.subarray(from, to)) }, lead: before * sampleRate };
  }
  const played = playAtSpeed(audio, outer);
  const lead = timeOfContent(unstretched(outer), before) * sampleRate;
  if (first === places.from) return { audio: played, lead };
  const skipped = Math.floor(lead + timeOfContent(unstretched(part), places.from) * sampleRate);
  return { audio: { sampleRate, channels: played.channels.map((channel) => channel.subarray(skipped)) }, lead: lead - skipped };
}

/** Which frame of the content at its speed is heard at which frame of what comes out. */
function mapOf(timed: Treatment, part: Treatment, lead: Frames, sampleRate: number): TimeMap {
  const { length } = part;
  const pace = new ClipPace(timed);
  const loose = new ClipPace(unstretched(part));
  const duration = clipDuration(timed);
  // The content lies forwards; of a clip that plays it backwards, what is heard last comes first.
  const into = (place: Seconds): Seconds => (timed.reversed ? length - place : place);
  const heard = (place: Seconds): Seconds => (timed.reversed ? duration - pace.timeOf(into(place)) : pace.timeOf(place));
  const places = [0, ...pacePlaces(timed).map(into), length];
  if (timed.curves?.stretch) {
    const steps = Math.min(mostSteps, Math.ceil(length / bendStep));
    for (let i = 1; i < steps; i++) places.push((i * length) / steps);
  }
  const corners: Corner[] = [];
  for (const place of places.filter((at) => at >= 0 && at <= length).sort((a, b) => a - b)) {
    const corner = { input: lead + loose.timeOf(place) * sampleRate, output: heard(place) * sampleRate };
    const last = corners.at(-1);
    if (!last || (corner.input - last.input > 1e-3 && corner.output - last.output > 1e-3)) corners.push(corner);
  }
  const first = corners[0] ?? { input: lead, output: 0 };
  // Too short to have two corners, it passes at its own pace.
  return corners.length > 1 ? TimeMap.through(corners) : TimeMap.even(timed.stretch).shifted(first.output - first.input * timed.stretch);
}

/** Pitch and formants of a clip as they move over what comes out, forwards, from frame `start` on. */
function optionsFor(timed: Treatment, sampleRate: number, start: Frames): Omit<RetuneOptions, 'method'> {
  const { pitch, formant, keepFormants, curves, wear, grain, attack } = timed;
  const duration = clipDuration(timed);
  const pace = new ClipPace(timed);
  const contentAt = (at: Frames): Seconds => {
    const time = (start + at) / sampleRate;
    return pace.contentAt(timed.reversed ? duration - time : time);
  };
  const pitchAt = (at: Frames): Semitones => within(pitch + (curves?.pitch ? pace.curveAt('pitch', contentAt(at)) : 0), 36);
  const formantAt = (at: Frames): Semitones => {
    const own = within(formant + (curves?.formant ? pace.curveAt('formant', contentAt(at)) : 0), 24);
    return keepFormants ? own : own + pitchAt(at);
  };
  const moves = keepFormants ? pitch !== 0 || curves?.pitch || formant !== 0 || curves?.formant : formant !== 0 || curves?.formant;
  return { wear, grain, attack, pitch: curves?.pitch ? pitchAt : pitch, ...(moves && { formant: formantAt }) };
}

function within(value: number, most: number): number {
  return Math.max(-most, Math.min(most, value));
}
