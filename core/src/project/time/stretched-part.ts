import type { Seconds, Stretch } from '../../units';
import { semitonesToRatio } from '../../units';
import type { Clip } from '../schema';
import { clipDuration } from './clip-times';
import type { Paced } from './clip-pace';

/** What decides which content is stretched for a clip. */
export type StretchedClip = Paced & Pick<Clip, 'loop' | 'grain'>;

/** Content is stretched in parts that begin and end on multiples of this, so that pieces of one clip are parts of one stretch. */
const partLength: Seconds = 5;
/** How far a part reaches beyond what a clip shows of it at least. */
const leastBeyond: Seconds = 0.5;
/** A part that would last longer than this is stretched by itself, no more of it than is shown. */
const longestPart: Seconds = 60;

/** The content that is stretched as one for a clip, forwards: more than the clip shows, unless it is tied to its own beginning and end. */
export function stretchedPart<T extends StretchedClip>(clip: T): T {
  const { offset, length, pins, loop } = clip;
  const own = { ...clip, reversed: false };
  if (pins || loop) return own;
  const from = Math.floor(Math.max(0, offset - leastBeyond) / partLength) * partLength;
  const to = Math.ceil((offset + length + leastBeyond) / partLength) * partLength;
  const part = { ...own, offset: from, length: to - from };
  return clipDuration(part) <= longestPart ? part : own;
}

/** How much content around a part shapes its ends: frames of a stretch reach as far as three grains. */
export function beyondStretched({ grain, speed }: Pick<Clip, 'grain' | 'speed'>): Seconds {
  return Math.max(leastBeyond, 3 * grain * semitonesToRatio(Math.max(0, speed)));
}

/** The stretch of the source that has to be there for a clip to be stretched. */
export function stretchedNeed(clip: StretchedClip & Pick<Clip, 'speed'>): Stretch {
  const { offset, length } = stretchedPart(clip);
  const beyond = beyondStretched(clip);
  return { from: Math.max(0, offset - beyond), to: offset + length + beyond };
}
