import type { Seconds, Semitones } from '../../units';
import type { Clip } from '../schema';

/** What decides how a clip's content passes over time. */
export type Paced = Pick<Clip, 'offset' | 'length' | 'speed' | 'reversed' | 'speedCurve'>;

/** A place in a clip's content, in the order in which it is played, and how fast it passes there. */
interface Pace {
  readonly into: Seconds;
  readonly speed: Semitones;
}

const octave = 12 / Math.LN2;

/**
 * The places at which the speed of a clip bends, in seconds of content after the clip's beginning and in the order of playing. The curve is
 * kept in the source's own time, so that cuts and trims leave it where it is; semitones move in straight lines between its points.
 */
function paces({ offset, length, speed, reversed, speedCurve = [] }: Paced): Pace[] {
  const placed = speedCurve.map(({ at, semitones }) => ({
    into: reversed ? offset + length - at : at - offset,
    speed: speed + semitones,
  }));
  return reversed ? placed.reverse() : placed;
}

/** Speed in semitones where `into` seconds of the content have been played. */
export function speedAt(clip: Paced, into: Seconds): Semitones {
  const path = paces(clip);
  const next = path.findIndex((pace) => pace.into > into);
  if (next === -1) return path.at(-1)?.speed ?? clip.speed;
  if (next === 0) return path[0]!.speed;
  const from = path[next - 1]!;
  const to = path[next]!;
  return from.speed + ((to.speed - from.speed) * (into - from.into)) / (to.into - from.into);
}

/** Seconds that `length` of content take when the speed moves in a straight line of semitones: the integral of 2^(-s/12). */
function passingTime(length: Seconds, from: Semitones, to: Semitones): Seconds {
  const bend = (to - from) / octave;
  const steady = Math.abs(bend) < 1e-12 ? 1 : -Math.expm1(-bend) / bend;
  return length * Math.exp(-from / octave) * steady;
}

/** The inverse: how much content passes in `time`, where the speed begins at `from` and would reach `to` after `length`. */
function passedContent(time: Seconds, length: Seconds, from: Semitones, to: Semitones): Seconds {
  const bend = (to - from) / octave / length;
  const straight = time * Math.exp(from / octave);
  return Math.abs(bend * length) < 1e-12 ? straight : -Math.log1p(-bend * straight) / bend;
}

/** How long after the clip's beginning the content `into` it is heard; before its beginning, a time below 0. */
export function timeOfContent(clip: Paced, into: Seconds): Seconds {
  if (!clip.speedCurve) return into * Math.exp(-clip.speed / octave);
  return into < 0 ? -timeBetween(clip, into, 0) : timeBetween(clip, 0, into);
}

function timeBetween(clip: Paced, from: Seconds, to: Seconds): Seconds {
  let time = 0;
  let at = from;
  for (const { into } of paces(clip)) {
    if (into <= at) continue;
    if (into >= to) break;
    time += passingTime(into - at, speedAt(clip, at), speedAt(clip, into));
    at = into;
  }
  return time + passingTime(to - at, speedAt(clip, at), speedAt(clip, to));
}

/** How much of the content has been played `time` after the clip's beginning: the inverse of `timeOfContent`. */
export function contentAtTime(clip: Paced, time: Seconds): Seconds {
  return clip.speedCurve ? new ContentWalk(clip).at(time) : time * Math.exp(clip.speed / octave);
}

/** Reads off, for times that never go back, how much of a clip's content has been played since its beginning. */
export class ContentWalk {
  private readonly path: readonly Pace[];
  private next: number;
  private from: Pace;
  /** When the content at `from` is heard. */
  private time: Seconds;

  constructor(clip: Paced) {
    this.path = paces(clip);
    const into = Math.min(0, this.path[0]?.into ?? 0);
    this.from = { into, speed: speedAt(clip, into) };
    this.time = timeOfContent(clip, into);
    this.next = this.path.findIndex((pace) => pace.into > into);
  }

  at(time: Seconds): Seconds {
    for (;;) {
      const { into, speed } = this.from;
      const to = this.path[this.next];
      // The speed stays what it is before the first point and behind the last one.
      if (!to || time < this.time) return into + passedContent(time - this.time, 1, speed, speed);
      const length = to.into - into;
      const end = this.time + passingTime(length, speed, to.speed);
      if (time < end) return into + passedContent(time - this.time, length, speed, to.speed);
      this.time = end;
      this.from = to;
      this.next++;
    }
  }
}
