import type { Ratio, Seconds, Semitones } from '../../units';
import type { Clip, ClipCurve, Pin } from '../schema';

/** What decides when each moment of a clip's content is heard. */
export type Paced = Pick<Clip, 'offset' | 'length' | 'speed' | 'stretch' | 'reversed' | 'curves' | 'pins'>;

/** A place in a clip's content, in the order in which it is played, and a value there. */
interface Corner {
  readonly into: Seconds;
  readonly value: number;
}

const octave = 12 / Math.LN2;

/** Where a place of the source is in the content, in the order of playing. */
function intoContent({ offset, length, reversed }: Pick<Clip, 'offset' | 'length' | 'reversed'>, at: Seconds): Seconds {
  return reversed ? offset + length - at : at - offset;
}

/** The corners of a curve in the order of playing. It is kept in the source's own time, so that cuts and trims leave it where it is. */
function cornersOf(clip: Paced, curve: ClipCurve): readonly Corner[] {
  const placed = (clip.curves?.[curve] ?? []).map(({ at, value }) => ({ into: intoContent(clip, at), value }));
  return clip.reversed ? placed.reverse() : placed;
}

/** Read along a line from corner to corner; what it is at the outer ones goes on beyond them. */
function along(corners: readonly Corner[], into: Seconds): number {
  const next = firstBeyond(corners, into);
  if (next === corners.length) return corners.at(-1)?.value ?? 0;
  if (next === 0) return corners[0]!.value;
  const from = corners[next - 1]!;
  const to = corners[next]!;
  return from.value + ((to.value - from.value) * (into - from.into)) / (to.into - from.into);
}

/** The first corner behind a place; how many there are where none is. */
function firstBeyond(corners: readonly Corner[], into: Seconds): number {
  let low = 0;
  let high = corners.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (corners[middle]!.into > into) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** What a curve of a clip adds where `into` seconds of the content have been played: semitones, or octaves of length. */
export function curveAt(clip: Paced, curve: ClipCurve, into: Seconds): number {
  return along(cornersOf(clip, curve), into);
}

/** Speed in semitones where `into` seconds of the content have been played. */
export function speedAt(clip: Paced, into: Seconds): Semitones {
  return clip.speed + curveAt(clip, 'speed', into);
}

/** A clip as its speed alone makes it: without stretch and pins. */
export function unstretched({ offset, length, speed, reversed, curves }: Paced): Paced {
  return { offset, length, speed, reversed, stretch: 1, ...(curves?.speed && { curves: { speed: curves.speed } }) };
}

/**
 * How fast content passes, by speed and stretch together and before pins, in semitones at the places where it bends: two octaves slower is four
 * times as long, whether pitch follows or not.
 */
function paces(clip: Paced): readonly Corner[] {
  const speeds = cornersOf(clip, 'speed');
  const stretches = cornersOf(clip, 'stretch');
  const base = clip.speed - octave * Math.log(clip.stretch);
  const paceAt = (into: Seconds): Semitones => base + along(speeds, into) - 12 * along(stretches, into);
  const places = [...new Set([...speeds, ...stretches].map(({ into }) => into))].sort((a, b) => a - b);
  if (places.length === 0) return [{ into: 0, value: base }];
  return places.map((into) => ({ into, value: paceAt(into) }));
}

/** Seconds that `length` of content take when its pace moves in a straight line of semitones: the integral of 2^(-s/12). */
function passingTime(length: Seconds, from: Semitones, to: Semitones): Seconds {
  const bend = (to - from) / octave;
  const steady = Math.abs(bend) < 1e-12 ? 1 : -Math.expm1(-bend) / bend;
  return length * Math.exp(-from / octave) * steady;
}

/** The inverse: how much content passes in `time`, where the pace begins at `from` and would reach `to` after `length`. */
function passedContent(time: Seconds, length: Seconds, from: Semitones, to: Semitones): Seconds {
  const bend = (to - from) / octave / length;
  const straight = time * Math.exp(from / octave);
  return Math.abs(bend * length) < 1e-12 ? straight : -Math.log1p(-bend * straight) / bend;
}

/** How long after the clip's beginning the content `into` it is heard; before its beginning, a time below 0. */
export function timeOfContent(clip: Paced, into: Seconds): Seconds {
  return isEven(clip) ? into * Math.exp(-clip.speed / octave) * clip.stretch : timeWith(timingOf(clip), into);
}

function timeWith({ line, pinned }: Timing, into: Seconds): Seconds {
  const loose = unpinnedTime(line, into);
  return pinned.length === 0 ? loose : alongPins(pinned, loose, 'loose', 'pinned');
}

/** How much of the content has been played `time` after the clip's beginning: the inverse of `timeOfContent`. */
export function contentAtTime(clip: Paced, time: Seconds): Seconds {
  return isEven(clip) ? (time * Math.exp(clip.speed / octave)) / clip.stretch : new ContentWalk(clip).at(time);
}

/** How a clip passes, for who asks many times: what bends it is looked up once. */
export class ClipPace {
  private readonly timing: Timing | undefined;
  private readonly curves = new Map<ClipCurve, readonly Corner[]>();
  private walk: ContentWalk | undefined;
  private walked: Seconds = 0;

  constructor(private readonly clip: Paced) {
    this.timing = isEven(clip) ? undefined : timingOf(clip);
  }

  /** See `timeOfContent`. */
  timeOf(into: Seconds): Seconds {
    return this.timing ? timeWith(this.timing, into) : timeOfContent(this.clip, into);
  }

  /** See `contentAtTime`; times that do not go back are the quickest. */
  contentAt(time: Seconds): Seconds {
    if (!this.timing) return contentAtTime(this.clip, time);
    if (!this.walk || time < this.walked) this.walk = new ContentWalk(this.clip, this.timing);
    this.walked = time;
    return this.walk.at(time);
  }

  /** See `curveAt`. */
  curveAt(curve: ClipCurve, into: Seconds): number {
    let corners = this.curves.get(curve);
    if (!corners) this.curves.set(curve, (corners = cornersOf(this.clip, curve)));
    return along(corners, into);
  }
}

/** True where a clip is more than its source at a speed: stretched, shifted, pinned or worn. */
export function isStretched(clip: Pick<Clip, 'stretch' | 'pitch' | 'formant' | 'wear' | 'curves' | 'pins'>): boolean {
  const { stretch, pitch, formant, wear, curves, pins } = clip;
  return stretch !== 1 || pitch !== 0 || formant !== 0 || wear > 0 || !!pins || !!(curves?.stretch ?? curves?.pitch ?? curves?.formant);
}

/** True where content passes at one pace all along. */
function isEven({ curves, pins }: Paced): boolean {
  return !pins && !curves?.speed && !curves?.stretch;
}

function unpinnedTime(line: readonly Corner[], into: Seconds): Seconds {
  return into < 0 ? -timeBetween(line, into, 0) : timeBetween(line, 0, into);
}

function timeBetween(line: readonly Corner[], from: Seconds, to: Seconds): Seconds {
  let time = 0;
  let at = from;
  let value = along(line, from);
  for (let n = firstBeyond(line, from); n < line.length && line[n]!.into < to; n++) {
    const corner = line[n]!;
    time += passingTime(corner.into - at, value, corner.value);
    at = corner.into;
    value = corner.value;
  }
  return time + passingTime(to - at, value, along(line, to));
}

/** A pin: when its content would be heard without pins, and when it is. */
interface Pinned {
  readonly loose: Seconds;
  readonly pinned: Seconds;
}

interface Timing {
  readonly line: readonly Corner[];
  /** In order, with the clip's beginning, which stays where it is; empty without pins. */
  readonly pinned: readonly Pinned[];
}

function timingOf(clip: Paced): Timing {
  const line = paces(clip);
  if (!clip.pins) return { line, pinned: [] };
  const pins = clip.pins.map(({ at, time }) => ({ loose: unpinnedTime(line, intoContent(clip, at)), pinned: time }));
  return { line, pinned: inOrder([{ loose: 0, pinned: 0 }, ...pins]) };
}

/** Content goes forwards: of pins that would turn it back, those nearer to the clip's beginning count. */
function inOrder(pins: readonly Pinned[]): readonly Pinned[] {
  const sorted = [...pins].sort((a, b) => a.loose - b.loose);
  if (sorted.every((pin, i) => i === 0 || (pin.loose > sorted[i - 1]!.loose && pin.pinned > sorted[i - 1]!.pinned))) return sorted;
  const kept: Pinned[] = [];
  const nearest = [...pins].sort((a, b) => Math.abs(a.loose) - Math.abs(b.loose));
  for (const pin of nearest) if (kept.every((other) => (pin.loose - other.loose) * (pin.pinned - other.pinned) > 0)) kept.push(pin);
  return kept.sort((a, b) => a.loose - b.loose);
}

/** Between pins content passes evenly faster or slower, beyond them as it does without. */
function alongPins(pins: readonly Pinned[], at: Seconds, from: keyof Pinned, to: keyof Pinned): Seconds {
  const next = pins.findIndex((pin) => pin[from] > at);
  if (next === 0) return pins[0]![to] + at - pins[0]![from];
  const before = pins.at(next === -1 ? -1 : next - 1)!;
  if (next === -1) return before[to] + at - before[from];
  const after = pins[next]!;
  return before[to] + ((at - before[from]) * (after[to] - before[to])) / (after[from] - before[from]);
}

/** Moments of the content where something about its passing changes, in the order of playing: corners of the curves and pins. */
export function pacePlaces(clip: Paced): readonly Seconds[] {
  const pins = (clip.pins ?? []).map(({ at }: Pin) => intoContent(clip, at));
  return [...new Set([...paces(clip).map(({ into }) => into), ...pins])].sort((a, b) => a - b);
}

/** How many times as long the content `into` a clip lasts as its speed alone would make it. */
export function stretchAt(clip: Paced, into: Seconds): Ratio {
  const step = 1e-6;
  const loose = unstretched(clip);
  return (timeOfContent(clip, into + step) - timeOfContent(clip, into)) / (timeOfContent(loose, into + step) - timeOfContent(loose, into));
}

/** Reads off, for times that never go back, how much of a clip's content has been played since its beginning. */
export class ContentWalk {
  private readonly path: readonly Corner[];
  private readonly pinned: readonly Pinned[];
  private next: number;
  private from: Corner;
  /** When the content at `from` is heard, before pins. */
  private time: Seconds;

  constructor(clip: Paced, { line, pinned }: Timing = timingOf(clip)) {
    this.path = line;
    this.pinned = pinned;
    const into = Math.min(0, line[0]?.into ?? 0);
    this.from = { into, value: along(line, into) };
    this.time = unpinnedTime(line, into);
    this.next = line.findIndex((corner) => corner.into > into);
  }

  at(when: Seconds): Seconds {
    const time = this.pinned.length === 0 ? when : alongPins(this.pinned, when, 'pinned', 'loose');
    for (;;) {
      const { into, value } = this.from;
      const to = this.path[this.next];
      // The pace stays what it is before the first corner and behind the last one.
      if (!to || time < this.time) return into + passedContent(time - this.time, 1, value, value);
      const length = to.into - into;
      const end = this.time + passingTime(length, value, to.value);
      if (time < end) return into + passedContent(time - this.time, length, value, to.value);
      this.time = end;
      this.from = to;
      this.next++;
    }
  }
}
