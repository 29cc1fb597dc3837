import type { Seconds } from '../../units';
import type { Clip, Pin } from '../schema';
import type { Paced } from './clip-pace';
import { clipDuration } from './clip-times';

/** Two pins cannot be at one moment. */
const apart: Seconds = 0.001;
/** What lies so near to a mark lies on it. */
const onMark: Seconds = 1e-5;

/** The pins of a clip with one of them at another time after the clip's start, between its neighbours. */
export function movedPin(pins: readonly Pin[], index: number, time: Seconds): Pin[] {
  const after = (pins[index - 1]?.time ?? 0) + apart;
  const before = (pins[index + 1]?.time ?? Infinity) - apart;
  return pins.map((pin, i) => (i === index ? { ...pin, time: Math.max(after, Math.min(before, time)) } : pin));
}

/** Which pin that a clip shows lies on a moment of the axis; -1 without one. */
export function pinOn(clip: Paced & Pick<Clip, 'start'>, moment: Seconds): number {
  const into = moment - clip.start;
  const on = (clip.pins ?? []).findIndex(({ time }) => Math.abs(time - into) < onMark);
  return on >= 0 && into > 0 && into <= clipDuration(clip) ? on : -1;
}
