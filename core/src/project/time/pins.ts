import type { Seconds } from '../../units';
import type { Clip, Pin } from '../schema';

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

/** Which pin of a clip lies on a moment of the axis; -1 without one. */
export function pinOn({ start, pins = [] }: Pick<Clip, 'start' | 'pins'>, moment: Seconds): number {
  return pins.findIndex(({ time }) => Math.abs(start + time - moment) < onMark);
}
