import { measure } from '../analysis/loudness/measure';
import type { Audio } from '../audio/audio';
import { withGain } from '../audio/audio';
import type { Delivery } from '../project/schema';
import type { Decibels } from '../units';
import type { DeliveryItem } from './plan';
import { checkFile } from './pre-flight';
import type { RenderedItem } from './render-item';

/** How far a decoded file may pass the true peak that was asked for, in decibels. */
const peakTolerance: Decibels = 0.05;

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
 * The item turned down by as much as its decoded file passes the true peak that its delivery holds; undefined where it does not, or where none is held.
 * Stems are left alone, because they fit each other.
 */
export function heldDown(coded: RenderedItem, decoded: RenderedItem, item: DeliveryItem, delivery: Delivery): RenderedItem | undefined {
  const holds = (delivery.level === 'loudness' || delivery.level === 'true peak') && !item.whole;
  const over = decoded.measured.truePeakDbtp - delivery.ceiling;
  if (!holds || !(over > peakTolerance)) return undefined;
  return { ...coded, audio: withGain(coded.audio, -over) };
}
