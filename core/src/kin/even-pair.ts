import type { Measurement } from '../analysis/loudness/measure';
import type { Decibels } from '../units';

/**
 * By how much a sound is turned down beside another, so that the louder of the two does not win by being louder: to the loudness of the quieter
 * (ITU-R BS.1770), 0 where it is the quieter itself or where one of them is silent. Neither is turned up, so no peak grows.
 */
export function evenGain(heard: Pick<Measurement, 'integratedLufs'>, beside: Pick<Measurement, 'integratedLufs'>): Decibels {
  const by = beside.integratedLufs - heard.integratedLufs;
  return Number.isFinite(by) ? Math.min(0, by) : 0;
}
