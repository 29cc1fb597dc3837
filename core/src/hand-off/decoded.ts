import { measure } from '../analysis/loudness/measure';
import type { Audio } from '../audio/audio';
import { withGain } from '../audio/audio';
import type { Delivery } from '../project/schema';
import type { Decibels } from '../units';
import type { DeliveryItem } from './plan';
import { checkFile } from './pre-flight';
import type { RenderedItem } from './render-item';

/** How far a decoded file may pass the true peak that was asked for, and miss what it is brought to, in decibels. */
const peakTolerance: Decibels = 0.05;
const levelTolerance: Decibels = 0.1;

/**
 * An item as it is heard behind a lossy format, which bends the wave and its peaks: levels are those of `decoded`, everything else was found in what
 * was coded.
 */
export function asDecoded(rendered: RenderedItem, decoded: Audio, item: DeliveryItem, delivery: Delivery): RenderedItem {
  const measured = measure(decoded);
  // The sounds of a sheet are levelled one by one.
  const asked = delivery.sheet ? { ...delivery, level: 'as it is' as const } : delivery;
  return { ...rendered, measured, findings: checkFile(rendered.audio, measured, { item, delivery: asked }) };
}

/**
 * The item turned by as much as its decoded file misses what its delivery asks for: a true peak, or a loudness below one; undefined where it does not, or
 * where neither is asked for. Nothing is turned up beyond full scale, the sounds of a sheet are levelled one by one, and stems are left alone, because they fit
 * each other.
 *
 * @param coded what was coded; its levels are those of before
 * @param down true to turn down only what passes the true peak: what was turned up may have come out too high
 */
export function levelledAsHeard(
  coded: RenderedItem,
  { measured }: RenderedItem,
  item: DeliveryItem,
  { level, loudness, ceiling, sheet }: Delivery,
  down: boolean,
): RenderedItem | undefined {
  if ((level !== 'loudness' && level !== 'true peak') || item.whole || !Number.isFinite(measured.truePeakDbtp)) return undefined;
  const room = ceiling - measured.truePeakDbtp;
  if (room < -peakTolerance && (down || sheet)) return turned(coded, room);
  if (down || sheet) return undefined;
  // What is too short or too quiet for a loudness is not brought to one, but stays below the peak.
  const toLoudness = Number.isFinite(measured.integratedLufs) ? loudness - measured.integratedLufs : 0;
  const missing = level === 'true peak' ? room : toLoudness;
  const by = Math.min(missing, room, Math.max(0, -coded.measured.truePeakDbtp));
  return Math.abs(by) > levelTolerance || room < -peakTolerance ? turned(coded, by) : undefined;
}

function turned(coded: RenderedItem, by: Decibels): RenderedItem {
  return { ...coded, audio: withGain(coded.audio, by) };
}
